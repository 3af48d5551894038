import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { OpenItem } from '../api/client';
import { show, showDay } from '../parts/show';

interface Props {
  label: string;
  field: string;
  credits: OpenItem[];
  value: number;
  onChange: (item: number) => void;
  error?: boolean;
  nothing: string;
}

/** One credit out of those that are open. */
export function CreditField({ label, field, credits, value, onChange, error, nothing }: Props) {
  return (
    <TextField
      select
      label={label}
      data-field={field}
      value={credits.some((c) => c.id === value) ? value : ''}
      onChange={(e) => onChange(Number(e.target.value))}
      error={error}
      disabled={credits.length === 0}
      helperText={credits.length === 0 ? nothing : undefined}
    >
      {credits.map((c) => (
        <MenuItem key={c.id} value={c.id}>
          {c.number}, {showDay(c.day)} · {show(c.open)} {c.register === 'deposits' ? 'held' : 'on account'}
          {c.job && ` · job ${c.job}`}
        </MenuItem>
      ))}
    </TextField>
  );
}
