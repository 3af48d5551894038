import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { ReactNode } from 'react';
import { RecordPicker, type Option } from '../parts/RecordPicker';
import { findJobs, useAccounts, useJob } from '../parts/records';

interface Props<L> {
  label: string;
  heads: { title: string; figure?: boolean; width?: number }[];
  lines: L[];
  fresh: () => L;
  onChange: (change: (now: L[]) => L[]) => void;
  /** The cells of a line, in the order of the heads. */
  children: (line: L, n: number, set: (part: Partial<L>) => void) => ReactNode[];
}

/** The lines of a bill or an entry: Enter at the end of the last opens the next. */
export function EntryLines<L extends object>({ label, heads, lines, fresh, onChange, children }: Props<L>) {
  const set = (n: number) => (part: Partial<L>) => onChange((now) => now.map((l, i) => (i === n ? { ...l, ...part } : l)));
  return (
    <div data-field="lines">
      <Table
        aria-label={label}
        sx={{ mt: 2, tableLayout: 'fixed' }}
        onKeyDown={(e) => {
          const from = e.target as HTMLElement;
          const fields = [...e.currentTarget.querySelectorAll<HTMLElement>('[data-walk]')];
          if (e.key !== 'Enter' || e.ctrlKey || e.defaultPrevented || from !== fields.at(-1)) return;
          e.preventDefault();
          e.stopPropagation();
          onChange((now) => [...now, fresh()]);
          const table = e.currentTarget;
          setTimeout(() => table.querySelector<HTMLElement>('tbody tr:last-of-type [data-walk]')?.focus(), 30);
        }}
      >
        <TableHead>
          <TableRow>
            {heads.map((h) => (
              <TableCell key={h.title} align={h.figure ? 'right' : 'left'} style={{ width: h.width }}>
                {h.title}
              </TableCell>
            ))}
            <TableCell style={{ width: 40 }} />
          </TableRow>
        </TableHead>
        <TableBody>
          {lines.map((l, n) => (
            <TableRow key={n}>
              {children(l, n, set(n)).map((cell, i) => (
                <TableCell key={i}>{cell}</TableCell>
              ))}
              <TableCell>
                <IconButton
                  size="small"
                  aria-label={`Take line ${n + 1} out`}
                  disabled={lines.length === 1}
                  onClick={() => onChange((now) => now.filter((_, i) => i !== n))}
                >
                  ×
                </IconButton>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Button sx={{ mt: 1 }} onClick={() => onChange((now) => [...now, fresh()])}>
        Another line
      </Button>
    </div>
  );
}

interface PickProps {
  label: string;
  field: string;
  value: number;
  onPick: (id: number) => void;
  error?: boolean;
  autoFocus?: boolean;
}

/** An account by any part of its number or name. */
export function AccountField({ types, ...p }: PickProps & { types?: string[] }) {
  const accounts = (useAccounts().data?.rows ?? []).filter((a) => !a.inactive && (!types || types.includes(a.type)));
  const option = (a: (typeof accounts)[number]): Option => ({ id: a.id ?? 0, label: `${a.number} ${a.name}`, detail: a.type });
  const known = accounts.find((a) => a.id === p.value);
  return (
    <RecordPicker
      label={p.label}
      field={p.field}
      value={known ? option(known) : null}
      onPick={(o) => p.onPick(o?.id ?? 0)}
      find={async (text) =>
        accounts
          .map(option)
          .filter((o) => o.label.toLowerCase().includes(text.toLowerCase()))
          .slice(0, 9)
      }
      findKey={[accounts.length]}
      onSheet
      error={p.error}
      autoFocus={p.autoFocus}
      placeholder="account"
    />
  );
}

/** Any job. */
export function AnyJobField(p: PickProps) {
  const job = useJob(p.value).data;
  return (
    <RecordPicker
      label={p.label}
      field={p.field}
      value={p.value && job?.id === p.value ? { id: p.value, label: `${job.number} ${job.name}` } : null}
      onPick={(o) => p.onPick(o?.id ?? 0)}
      find={(text) => findJobs(text, 0)}
      findKey={['any']}
      onSheet
      error={p.error}
      placeholder="no job"
    />
  );
}
