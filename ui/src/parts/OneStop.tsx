import { styled } from '@mui/material/styles';
import { useEffect, useRef, useState, type ComponentProps } from 'react';
import { Link } from 'react-router';
import { inTab } from '../api/at';
import { stepHere } from './step';

/** The link of a row, which is the whole row: it opens in a new tab like any other. */
export const Whither = styled(Link)({
  color: 'inherit',
  textDecoration: 'none',
  '&::after': { content: '""', position: 'absolute', inset: 0 },
});

const rowsOf = (root: HTMLElement | null) => [...(root?.querySelectorAll<HTMLElement>('[data-row]') ?? [])];

/** Rows that are one stop for Tab, with the arrow keys inside; the way back comes to the row that one left from. */
export function OneStop({ children, ...rest }: ComponentProps<'div'>) {
  const ref = useRef<HTMLDivElement>(null);
  const [slot] = useState(() => `row:${stepHere()}`);
  const arrived = useRef(false);
  // The row that has the focus, and its place: what takes its place has it next.
  const held = useRef<{ row: HTMLElement; at: number } | null>(null);
  useEffect(() => {
    const rows = rowsOf(ref.current);
    if (held.current && !held.current.row.isConnected && rows.length > 0) {
      const { row, at } = held.current;
      held.current = null;
      const same = rows.find((r) => r.dataset.row === row.dataset.row);
      if (!document.activeElement || document.activeElement === document.body)
        (same ?? rows[Math.min(at, rows.length - 1)])?.focus();
    }
    // The rows come and go: one of them is the stop.
    if (rows.length > 0 && !rows.some((r) => r.tabIndex === 0)) rows[0]!.tabIndex = 0;
    if (rows.length === 0 || arrived.current) return;
    arrived.current = true;
    const free = !document.activeElement || document.activeElement === document.body || document.activeElement.id === 'work';
    if (free) (rows.find((r) => r.dataset.row === inTab.getItem(slot)) ?? rows[0])?.focus();
  });
  return (
    <div
      {...rest}
      ref={ref}
      onFocus={(e) => {
        const row = (e.target as HTMLElement).closest<HTMLElement>('[data-row]');
        if (row !== e.target || !row) return;
        const rows = rowsOf(ref.current);
        for (const r of rows) r.tabIndex = r === row ? 0 : -1;
        held.current = { row, at: rows.indexOf(row) };
        inTab.setItem(slot, row.dataset.row ?? '');
      }}
      onBlur={(e) => {
        // One goes elsewhere; of a row that is taken away the browser says nothing.
        if (e.target.isConnected) held.current = null;
      }}
      onKeyDown={(e) => {
        const rows = rowsOf(ref.current);
        const at = rows.indexOf(e.target as HTMLElement);
        const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: rows.length - 1 }[e.key];
        if (at < 0 || to === undefined || e.ctrlKey || e.altKey || !rows[to]) return;
        e.preventDefault();
        rows[to].focus();
        rows[to].scrollIntoView({ block: 'nearest' });
      }}
    >
      {children}
    </div>
  );
}
