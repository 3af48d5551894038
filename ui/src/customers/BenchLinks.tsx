import { styled } from '@mui/material/styles';
import { useLayoutEffect, useRef, useState } from 'react';
import type { Notice } from '../api/client';
import { UnderstoodField } from '../parts/UnderstoodField';

export interface Pair {
  debit: number;
  credit: number;
  /** Empty: as much as both allow, which Go works out. */
  amount: string;
}

interface Props {
  pairs: Pair[];
  offered: (p: Pair) => string;
  onAmount: (n: number, amount: string) => void;
  onDrop: (n: number) => void;
  refusals: Notice[];
}

const Between = styled('div')({ position: 'relative', alignSelf: 'stretch', minHeight: 54 });
const Lines = styled('svg')(({ theme }) => ({
  position: 'absolute',
  inset: 0,
  width: '100%',
  height: '100%',
  overflow: 'visible',
  '& path': { stroke: theme.vars!.palette.primary.main, strokeWidth: 1.6, fill: 'none' },
}));
const Link = styled('div')(({ theme }) => ({
  position: 'absolute',
  left: '50%',
  transform: 'translate(-50%, -50%)',
  width: 104,
  zIndex: 1,
  '& .MuiOutlinedInput-root': { backgroundColor: theme.vars!.palette.tally.paper, fontWeight: 650 },
  '& .MuiOutlinedInput-notchedOutline': { borderColor: theme.vars!.palette.primary.main },
  '& .MuiOutlinedInput-root legend': { width: 0 },
  '& .MuiInputLabel-root': { display: 'none' },
  '& input': { padding: '4px 8px' },
  '& .drop': {
    all: 'unset',
    position: 'absolute',
    left: 4,
    top: 4,
    cursor: 'pointer',
    padding: '0 5px',
    color: theme.vars!.palette.text.secondary,
  },
  '& .drop:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}` },
}));

/** The drawn links of the bench, each with its amount on it. */
export function BenchLinks({ pairs, offered, onAmount, onDrop, refusals }: Props) {
  const ref = useRef<HTMLDivElement>(null);
  const [ends, setEnds] = useState<{ from: number; to: number; at: number }[]>([]);
  const [width, setWidth] = useState(120);
  const key = JSON.stringify(pairs.map((p) => [p.debit, p.credit]));
  useLayoutEffect(() => {
    const measure = () => {
      const box = ref.current?.getBoundingClientRect();
      if (!box) return;
      setWidth(box.width);
      const middle = (id: number) => {
        const card = document.querySelector(`[data-card="${id}"]`)?.getBoundingClientRect();
        return card ? card.top + card.height / 2 - box.top : 0;
      };
      let last = -40;
      const placed = (JSON.parse(key) as [number, number][])
        .map(([d, c], n) => ({ n, from: middle(d), to: middle(c) }))
        .sort((a, b) => a.from + a.to - b.from - b.to)
        .map((e) => {
          last = Math.max((e.from + e.to) / 2, last + 40);
          return { ...e, at: last };
        });
      setEnds(placed.sort((a, b) => a.n - b.n));
    };
    measure();
    window.addEventListener('resize', measure);
    return () => window.removeEventListener('resize', measure);
  }, [key]);
  const middle = width / 2;
  return (
    <Between ref={ref}>
      <Lines aria-hidden>
        {ends.map((e, n) => (
          <path
            key={n}
            d={`M0 ${e.from} C ${middle * 0.6} ${e.from}, ${middle * 0.4} ${e.at}, ${middle} ${e.at} C ${middle * 1.6} ${e.at}, ${middle * 1.4} ${e.to}, ${width} ${e.to}`}
          />
        ))}
      </Lines>
      {pairs.map((p, n) => (
        <Link key={`${p.debit}-${p.credit}`} style={{ top: ends[n]?.at ?? 27 }}>
          <UnderstoodField
            kind="amount"
            label="Amount of the pair"
            field={`pairs[${n}].amount`}
            value={p.amount || offered(p)}
            onChange={(v) => onAmount(n, v)}
            error={refusals.some((r) => r.field === `pairs[${n}].amount`)}
            autoFocus
          />
          <button type="button" className="drop" aria-label="Take the pair apart" onClick={() => onDrop(n)}>
            ×
          </button>
        </Link>
      ))}
    </Between>
  );
}
