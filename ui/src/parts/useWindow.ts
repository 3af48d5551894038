import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useLayoutEffect, useRef, useState, useSyncExternalStore } from 'react';

// On paper everything is shown.
const paper = window.matchMedia('print');
const printing = {
  subscribe: (on: () => void) => {
    paper.addEventListener('change', on);
    return () => paper.removeEventListener('change', on);
  },
  now: () => paper.matches,
};

/** The rows of a long table that are in sight, and the room that the others take. */
export interface Window {
  /** Stands on the table, whose rows lie in it. */
  ref: React.RefObject<HTMLTableElement | null>;
  /** Each with the room before it that rows out of sight take. */
  rows: { index: number; room: number }[];
  after: number;
  measure: (row: HTMLElement | null) => void;
}

// Fewer rows than these are shown all at once.
const few = 60;

/** Windows a table of count rows within the work that scrolls; a row that is written in stays. */
export function useWindow(count: number, height: number, keep = -1): Window {
  const ref = useRef<HTMLTableElement>(null);
  const [offset, setOffset] = useState(0);
  const all = useSyncExternalStore(printing.subscribe, printing.now) || count <= few;
  useLayoutEffect(() => {
    const work = document.getElementById('work');
    const body = ref.current?.tBodies[0];
    if (!work || !body) return;
    const at = Math.round(body.getBoundingClientRect().top - work.getBoundingClientRect().top + work.scrollTop);
    setOffset((was) => (Math.abs(was - at) > 4 ? at : was));
  }, [count]);
  const v = useVirtualizer({
    count,
    getScrollElement: () => document.getElementById('work'),
    estimateSize: () => height,
    overscan: 12,
    scrollMargin: offset,
    rangeExtractor: (range) => {
      const seen = defaultRangeExtractor(range);
      return keep < 0 || keep >= count || seen.includes(keep) ? seen : [...seen, keep].sort((a, b) => a - b);
    },
    enabled: !all,
  });
  if (all)
    return {
      ref,
      rows: Array.from({ length: count }, (_, index) => ({ index, room: 0 })),
      after: 0,
      measure: () => undefined,
    };
  let end = offset;
  const rows = v.getVirtualItems().map((item) => {
    const room = Math.max(0, item.start - end);
    end = item.end;
    return { index: item.index, room };
  });
  return {
    ref,
    rows,
    after: Math.max(0, v.getTotalSize() - (end - offset)),
    measure: v.measureElement,
  };
}
