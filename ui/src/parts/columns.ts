import { useMemo, useState, type ReactNode } from 'react';

/** A column of a list. */
export interface Column<T> {
  id: string;
  title: string;
  cell: (row: T) => ReactNode;
  /** The whole text of a cell that may be cut, where it is not a text itself. */
  text?: (row: T) => string;
  figure?: boolean;
  /** Whether the server sorts by it. */
  sort?: boolean;
  /** Hidden until chosen. */
  hidden?: boolean;
  wide?: boolean;
  /** Its usual share of the width. */
  share?: number;
}

/** How one likes the columns of a list: which, in what order, how wide; kept in the browser. */
interface Liking {
  order: string[];
  hidden: string[];
  /** Shares of the width, by column. */
  widths: Record<string, number>;
}

const usual = { wide: 22, figure: 12, plain: 12 };
const narrowest = 4;

/** The usual share of a column. */
const shareOf = (c: Column<never>) => c.share ?? (c.wide ? usual.wide : c.figure ? usual.figure : usual.plain);

/** The columns as they are shown. */
export interface Columns<T> {
  /** Every column, in order. */
  all: Column<T>[];
  shown: Column<T>[];
  /** Percent of the width, by column. */
  width: (c: Column<T>) => number;
  isHidden: (id: string) => boolean;
  toggle: (id: string) => void;
  move: (id: string, by: number) => void;
  widen: (id: string, by: number) => void;
  reset: () => void;
}

function read(key: string, columns: Column<never>[]): Liking {
  const plain: Liking = { order: columns.map((c) => c.id), hidden: columns.filter((c) => c.hidden).map((c) => c.id), widths: {} };
  try {
    return { ...plain, ...(JSON.parse(localStorage.getItem(key) ?? 'null') as Partial<Liking> | null) };
  } catch {
    return plain;
  }
}

/** The columns of a list as one likes them. */
export function useColumns<T>(list: string, columns: Column<T>[]): Columns<T> {
  const key = `columns2:${list}`;
  const [liking, setLiking] = useState(() => read(key, columns as Column<never>[]));
  const like = (part: Partial<Liking>) => {
    const now = { ...liking, ...part };
    localStorage.setItem(key, JSON.stringify(now));
    setLiking(now);
  };
  // A column that comes later, for what is only known then, stands where it was declared.
  const hides = (c: Column<T>) => liking.hidden.includes(c.id) || (!!c.hidden && !liking.order.includes(c.id));
  // The same columns stay the same list, so that rows that did not change are left alone.
  const { all, shown } = useMemo(() => {
    const place = (c: Column<T>) => {
      const at = liking.order.indexOf(c.id);
      return at < 0 ? columns.indexOf(c) - 0.5 : at;
    };
    const all = [...columns].sort((a, b) => place(a) - place(b));
    return { all, shown: all.filter((c) => !hides(c)) };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what hides follows from liking
  }, [columns, liking]);
  const hidden = () => all.filter(hides).map((c) => c.id);
  const share = (c: Column<T>) => liking.widths[c.id] ?? shareOf(c as Column<never>);
  const whole = shown.reduce((sum, c) => sum + share(c), 0);
  return {
    all,
    shown,
    width: (c) => (share(c) / whole) * 100,
    isHidden: (id) => hidden().includes(id),
    toggle: (id) =>
      like({
        order: all.map((c) => c.id),
        hidden: hidden().includes(id) ? hidden().filter((h) => h !== id) : [...hidden(), id],
      }),
    move: (id, by) => {
      const order = all.map((c) => c.id);
      const from = order.indexOf(id);
      const to = Math.max(0, Math.min(order.length - 1, from + by));
      order.splice(to, 0, ...order.splice(from, 1));
      like({ order, hidden: hidden() });
    },
    widen: (id, by) => {
      const c = columns.find((x) => x.id === id)!;
      like({ widths: { ...liking.widths, [id]: Math.max(narrowest, Math.round((share(c) + by) * 10) / 10) } });
    },
    reset: () => {
      localStorage.removeItem(key);
      setLiking(read(key, columns as Column<never>[]));
    },
  };
}
