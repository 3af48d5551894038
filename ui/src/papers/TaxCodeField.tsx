import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useTaxCodes } from '../parts/records';

interface Props {
  label: string;
  /** What no code at all is called; left out, one must be chosen. */
  none?: string;
  value: number;
  onChange: (code: number) => void;
  error?: boolean;
  field?: string;
  onSheet?: boolean;
}

/** A tax code out of those in use. */
export function TaxCodeField({ label, none, value, onChange, error, field = 'taxCode', onSheet }: Props) {
  const codes = (useTaxCodes().data?.rows ?? []).filter((c) => !c.inactive || c.id === value);
  const known = value === 0 ? none !== undefined : codes.some((c) => c.id === value);
  return (
    <TextField
      select
      label={onSheet ? undefined : label}
      variant={onSheet ? 'standard' : 'outlined'}
      data-field={field}
      value={known ? value : ''}
      onChange={(e) => onChange(Number(e.target.value))}
      error={error}
      slotProps={{ htmlInput: { 'aria-label': label } }}
    >
      {none !== undefined && <MenuItem value={0}>{none}</MenuItem>}
      {codes.map((c) => (
        <MenuItem key={c.id} value={c.id}>
          {c.code}
          {!onSheet && c.name && ` · ${c.name}`}
        </MenuItem>
      ))}
    </TextField>
  );
}
