import { useState } from 'react';

/** The rows of a list that were chosen, to do one thing with all of them. */
export interface Chosen {
  ids: ReadonlySet<number>;
  toggle: (id: number) => void;
  /** Adds what is between the row that was chosen last and this one. */
  through: (id: number) => void;
  all: () => void;
  none: () => void;
}

/** What was chosen among rows; what is no longer shown is no longer chosen. */
export function useChosen(rows: readonly number[]): Chosen {
  const [chosen, setChosen] = useState<{ ids: ReadonlySet<number>; last: number }>({ ids: new Set(), last: 0 });
  const ids = chosen.ids.size === 0 ? chosen.ids : new Set(rows.filter((id) => chosen.ids.has(id)));
  return {
    ids,
    toggle: (id) =>
      setChosen(() => {
        const now = new Set(ids);
        if (!now.delete(id)) now.add(id);
        return { ids: now, last: id };
      }),
    through: (id) =>
      setChosen(({ last }) => {
        const [a, b] = [rows.indexOf(last || id), rows.indexOf(id)].sort((x, y) => x - y) as [number, number];
        return { ids: new Set([...ids, ...rows.slice(Math.max(0, a), b + 1)]), last: last || id };
      }),
    all: () => setChosen({ ids: new Set(rows), last: 0 }),
    none: () => setChosen({ ids: new Set(), last: 0 }),
  };
}
