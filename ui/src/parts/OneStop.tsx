import { styled } from '@mui/material/styles';
import { useEffect, useRef, useState, type ComponentProps } from 'react';
import { Link } from 'react-router';
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
  useEffect(() => {
    const rows = rowsOf(ref.current);
    // The rows come and go: one of them is the stop.
    if (rows.length > 0 && !rows.some((r) => r.tabIndex === 0)) rows[0]!.tabIndex = 0;
    if (rows.length === 0 || arrived.current) return;
    arrived.current = true;
    const free = !document.activeElement || document.activeElement === document.body || document.activeElement.id === 'work';
    if (free) (rows.find((r) => r.dataset.row === sessionStorage.getItem(slot)) ?? rows[0])?.focus();
  });
  return (
    <div
      {...rest}
      ref={ref}
      onFocus={(e) => {
        const row = (e.target as HTMLElement).closest<HTMLElement>('[data-row]');
        if (row !== e.target || !row) return;
        for (const r of rowsOf(ref.current)) r.tabIndex = r === row ? 0 : -1;
        sessionStorage.setItem(slot, row.dataset.row ?? '');
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
