import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { read } from '../api/client';
import { Amount } from './Amount';
import { ExportAs } from './ExportAs';
import type { Chosen } from './useChosen';

const Bar = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', minHeight: 40 });
const Told = styled('span')({ fontWeight: 650 });

interface Props {
  path: string;
  chosen: Chosen;
  /** The day that the list is of; '' for today. */
  past: string;
  /** The filter within which the figures add up, and its value. */
  within?: [string, string];
  /** The figure that is added up over what is chosen, where it adds up. */
  figure?: string;
  children: ReactNode;
}

/** What is chosen of a list, what it comes to, and what can be done with it. */
export function ChosenBar({ path, chosen, past, within, figure = '', children }: Props) {
  const query = new URLSearchParams([...chosen.ids].map((id) => ['ids', String(id)]));
  if (past) query.set('asOf', past);
  if (within) query.set(...within);
  const whole = useQuery({
    queryKey: ['list', path, 'chosen', query.toString()],
    queryFn: ({ signal }) => read<{ count: number; sums: Record<string, string> }>(`${path}?${query}&limit=1`, signal),
    placeholderData: keepPreviousData,
  }).data;
  const sum = whole?.sums[figure];
  return (
    <Bar role="group" aria-label="What is chosen" className="no-print">
      <Told aria-live="polite">{chosen.ids.size} chosen</Told>
      {sum !== undefined && <Amount value={sum} strong />}
      {children}
      <ExportAs path={path} query={query} />
      <span style={{ flex: 1 }} />
      <Button onClick={chosen.none}>Choose none</Button>
    </Bar>
  );
}

/** The keys by which the rows of a list are chosen: space one, Shift and an arrow on through, Ctrl+A all that is shown. */
export function choose(e: React.KeyboardEvent<HTMLElement>, chosen: Chosen) {
  const row = e.target as HTMLElement;
  const id = Number(row.dataset.row);
  if (!id || e.altKey) return;
  if (e.key === ' ') {
    e.preventDefault();
    chosen.toggle(id);
  } else if (e.key === 'a' && (e.ctrlKey || e.metaKey)) {
    e.preventDefault();
    chosen.all();
  } else if (e.shiftKey && (e.key === 'ArrowDown' || e.key === 'ArrowUp')) {
    if (!chosen.ids.has(id)) chosen.toggle(id);
    const next = Number(row.dataset.index) + (e.key === 'ArrowDown' ? 1 : -1);
    const to = row.parentElement?.querySelector<HTMLElement>(`[data-index="${next}"]`);
    if (to) chosen.through(Number(to.dataset.row));
  }
}
