import type { OpenItem } from '../api/client';
import { show, showDay } from '../parts/show';
import { Choice } from './editing/fields';

interface Props {
  label: string;
  field: string;
  credits: OpenItem[];
  value: number;
  onChange: (item: number) => void;
  error?: string;
  nothing: string;
}

/** One credit out of those that are open. */
export function CreditField({ label, field, credits, value, onChange, error, nothing }: Props) {
  return (
    <Choice
      label={label}
      field={field}
      value={value}
      onChange={(v) => onChange(Number(v))}
      error={error || (credits.length === 0 && nothing)}
      options={credits.map((c) => ({
        value: c.id,
        name: `${c.number}, ${showDay(c.day)} · ${show(c.open)} ${c.register === 'deposits' ? 'held' : 'on account'}${c.job && ` · job ${c.job}`}`,
      }))}
    />
  );
}
