import { useEffect, useRef, useState } from 'react';
import { inTab } from '../api/at';
import { stepHere } from './step';
import { useWindow, type Window } from './useWindow';

interface Options {
  /** The IDs of the rows, in order. */
  ids: (number | string)[];
  /** Estimated height of a row. */
  height: number;
  /** Whether the list takes the focus when it comes. */
  first?: boolean;
  onLook?: (index: number) => void;
}

/** The rows of a list: one stop for Tab, with the arrow keys inside. */
export interface Rows {
  window: Window;
  /** What a row is given. */
  row: (index: number) => {
    'data-row': string;
    'data-index': number;
    tabIndex: number;
    'aria-rowindex': number;
    onFocus: () => void;
  };
  onKeyDown: (e: React.KeyboardEvent<HTMLElement>) => void;
}

interface Place {
  id: number | string;
  top: number;
}

const page = 12;

/** Walks in the rows of a list, windowed; the way back comes to the row that one left from. */
export function useRows({ ids, height, first = true, onLook }: Options): Rows {
  const [step] = useState(stepHere);
  const [at, setAt] = useState(0);
  const held = Math.min(at, Math.max(0, ids.length - 1));
  const window = useWindow(ids.length, height, held);
  const { ref } = window;
  const arrived = useRef(false);
  const slot = `place:${step}`;

  // The row that the focus is meant for: the window keeps it, and may have to be drawn first.
  const meant = useRef(-1);
  const [, again] = useState(0);
  const go = (index: number) => {
    const to = Math.max(0, Math.min(ids.length - 1, index));
    meant.current = to;
    setAt(to);
    again((n) => n + 1);
  };
  useEffect(() => {
    if (meant.current < 0) return;
    const row = ref.current?.querySelector<HTMLElement>(`[data-index="${meant.current}"]`);
    if (!row) return;
    meant.current = -1;
    row.focus({ preventScroll: true });
    row.scrollIntoView({ block: 'nearest' });
  });
  const there = ids.length > 0;
  const latest = useRef({ go, ids });
  useEffect(() => {
    latest.current = { go, ids };
  });
  useEffect(() => {
    if (!there || arrived.current || !first) return;
    arrived.current = true;
    const left = JSON.parse(inTab.getItem(slot) ?? 'null') as Place | null;
    const free = !document.activeElement || document.activeElement === document.body || document.activeElement.id === 'work';
    const index = left ? latest.current.ids.indexOf(left.id) : 0;
    if (!free || index < 0) return;
    const work = document.getElementById('work');
    if (left && work) work.scrollTop = left.top;
    latest.current.go(index);
  }, [there, first, slot]);
  return {
    window,
    row: (index) => ({
      'data-row': String(ids[index]),
      'data-index': index,
      tabIndex: index === held ? 0 : -1,
      'aria-rowindex': index + 2,
      onFocus: () => {
        if (index !== at) setAt(index);
        onLook?.(index);
        const top = document.getElementById('work')?.scrollTop ?? 0;
        inTab.setItem(slot, JSON.stringify({ id: ids[index] ?? 0, top } satisfies Place));
      },
    }),
    onKeyDown: (e) => {
      const row = (e.target as HTMLElement).closest<HTMLElement>('[data-row]');
      if (!row || row !== e.target || e.ctrlKey || e.altKey || e.metaKey) return;
      const to = {
        ArrowDown: held + 1,
        ArrowUp: held - 1,
        PageDown: held + page,
        PageUp: held - page,
        Home: 0,
        End: ids.length - 1,
      }[e.key];
      if (to === undefined) return;
      e.preventDefault();
      go(to);
    },
  };
}
