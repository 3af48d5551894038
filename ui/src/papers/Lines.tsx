import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { styled } from '@mui/material/styles';
import { createContext, Fragment, useContext, useRef, type ReactNode } from 'react';
import { flushSync } from 'react-dom';
import { fieldsOf, passedOver } from '../parts/focus';
import { RecordPicker, type Option } from '../parts/RecordPicker';
import { findJobs, useAccounts, useJob } from '../parts/records';
import { useFormHere } from './editing/useForm';
import { lineStepOf, stepped, type LineStep } from './lineSteps';
import { overWithFile } from '../parts/FileField';
import { usePastedLines } from './usePastedLines';

/** Whether there is little room: a picture of the paper stands beside. */
export const Narrow = createContext(false);

const Under = styled('div')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: 'repeat(4, minmax(0, 1fr))',
  gap: 10,
  '& label': { display: 'flex', flexDirection: 'column', justifyContent: 'space-between' },
  fontSize: 12.5,
  color: theme.vars!.palette.text.secondary,
}));

interface Props<L> {
  label: string;
  /** Of the lines in the draft. */
  name?: string;
  heads: { title: string; figure?: boolean; width?: number }[];
  lines: L[];
  fresh: () => L;
  onChange: (change: (now: L[]) => L[]) => void;
  /** What the columns of a spreadsheet hold that is pasted, and the line that a row makes. */
  pasted: { kinds: Parameters<typeof usePastedLines>[0]; line: (cells: string[]) => L };
  /** What more a line says, in a row of its own under it; null for nothing. */
  below?: (line: L, n: number, set: (part: Partial<L>) => void) => ReactNode;
  /** The cells of a line, in the order of the heads. */
  children: (line: L, n: number, set: (part: Partial<L>) => void) => ReactNode[];
}

/** The lines of a bill or an entry: Enter at the end of the last opens the next. */
export function EntryLines<L extends object>({
  label,
  name = 'lines',
  heads,
  lines,
  fresh,
  onChange,
  pasted,
  below,
  children,
}: Props<L>) {
  const narrow = useContext(Narrow);
  const shown = narrow ? [heads[0]!] : heads;
  const table = useRef<HTMLTableElement>(null);
  const form = useFormHere();
  const paste = usePastedLines(pasted.kinds, (rows, at) =>
    onChange((now) => [...now.slice(0, at), ...rows.map(pasted.line), ...now.slice(at + 1)]),
  );
  const lineOf = (e: React.SyntheticEvent) =>
    Number((e.target as HTMLElement).closest<HTMLElement>('[data-line]')?.dataset.line ?? 0);
  const step = async (n: number, how: LineStep) => {
    await form?.settled();
    let at = n;
    flushSync(() =>
      onChange((now) => {
        const [lines, to] = stepped(now, n, how, fresh);
        at = to;
        return lines.length > 0 ? lines : [fresh()];
      }),
    );
    fieldsOf(table.current?.querySelector(`[data-line="${at}"]`) ?? null)[0]?.focus();
  };
  const set = (n: number) => (part: Partial<L>) => onChange((now) => now.map((l, i) => (i === n ? { ...l, ...part } : l)));
  return (
    <div data-field={name}>
      <Table
        aria-label={label}
        ref={table}
        sx={{ mt: 2, tableLayout: 'fixed' }}
        onPaste={(e) => paste.onPaste(e, lineOf(e))}
        onDrop={(e) => paste.onDrop(e, lineOf(e))}
        onDragOver={overWithFile}
        onKeyDown={(e) => {
          const how = lineStepOf(e);
          if (how) {
            e.preventDefault();
            e.stopPropagation();
            void step(lineOf(e), how);
            return;
          }
          const all = fieldsOf(e.currentTarget);
          const fields = all.filter((f) => f === e.target || !passedOver(f));
          if (e.key !== 'Enter' || e.ctrlKey || e.defaultPrevented || e.target !== fields.at(-1)) return;
          e.preventDefault();
          e.stopPropagation();
          flushSync(() => onChange((now) => [...now, fresh()]));
          fieldsOf(table.current?.querySelector(`[data-line="${lines.length}"]`) ?? null)[0]?.focus();
        }}
      >
        <TableHead>
          <TableRow>
            {shown.map((h) => (
              <TableCell key={h.title} align={h.figure ? 'right' : 'left'} style={{ width: h.width }}>
                {h.title}
              </TableCell>
            ))}
            <TableCell style={{ width: 40 }} />
          </TableRow>
        </TableHead>
        <TableBody>
          {lines.map((l, n) => {
            const cells = children(l, n, set(n));
            const under = below?.(l, n, set(n));
            const more =
              narrow && cells.length > 1 ? (
                <>
                  <Under>
                    {cells.slice(1).map((cell, i) => (
                      <label key={i}>
                        {heads[i + 1]?.title}
                        {cell}
                      </label>
                    ))}
                  </Under>
                  {under}
                </>
              ) : (
                under
              );
            return (
              <Fragment key={n}>
                <TableRow data-line={n} sx={more ? { '& > td': { borderBottom: 0 } } : undefined}>
                  {(narrow ? [cells[0]] : cells).map((cell, i) => (
                    <TableCell key={i}>{cell}</TableCell>
                  ))}
                  <TableCell>
                    <IconButton
                      size="small"
                      aria-label={`Take line ${n + 1} out`}
                      disabled={lines.length === 1}
                      onClick={() => void step(n, 'drop')}
                    >
                      ×
                    </IconButton>
                  </TableCell>
                </TableRow>
                {more && (
                  <TableRow data-line={n}>
                    <TableCell colSpan={shown.length + 1} sx={{ pt: 0 }}>
                      {more}
                    </TableCell>
                  </TableRow>
                )}
              </Fragment>
            );
          })}
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
  error?: string;
}

/** An account by any part of its number or name. */
export function AccountField({ types, offered, ...p }: PickProps & { types?: string[]; offered?: string }) {
  const accounts = (useAccounts().data?.rows ?? []).filter((a) => !a.inactive && (!types || types.includes(a.type)));
  const option = (a: (typeof accounts)[number]): Option => ({ id: a.id ?? 0, label: `${a.number} ${a.name}`, detail: a.type });
  const known = accounts.find((a) => a.id === p.value);
  return (
    <RecordPicker
      label={p.label}
      field={p.field}
      chosen={p.value}
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
      placeholder={offered || 'account'}
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
      chosen={p.value}
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
