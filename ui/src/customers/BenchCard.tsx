import { styled } from '@mui/material/styles';
import type { Effect, OpenItem } from '../api/client';
import { isNil, show, showDay, showDays } from '../parts/show';
import { whyProps } from '../parts/why';
import { serif } from '../theme';

const Card = styled('button')(({ theme }) => ({
  all: 'unset',
  boxSizing: 'border-box',
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) auto',
  gap: '1px 8px',
  padding: '6px 10px',
  minHeight: 54,
  width: '100%',
  cursor: 'pointer',
  backgroundColor: theme.vars!.palette.tally.sheet,
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  fontSize: 14.5,
  '&[data-taken]': { borderColor: theme.vars!.palette.primary.main },
  '&[data-taken][data-side="owed"]': { boxShadow: `inset -4px 0 ${theme.vars!.palette.primary.main}` },
  '&[data-taken][data-side="credit"]': { boxShadow: `inset 4px 0 ${theme.vars!.palette.primary.main}` },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: 1 },
  '& .name': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '& .open': { fontFamily: serif, fontSize: 16, fontWeight: 650, textAlign: 'right', whiteSpace: 'nowrap' },
  '& .open[data-held]': { color: theme.vars!.palette.tally.held },
  '& small': {
    color: theme.vars!.palette.text.secondary,
    fontSize: 13,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
  },
  '& small.late': { color: theme.vars!.palette.error.main },
  '& small.rest': { textAlign: 'right' },
}));

interface Props {
  item: OpenItem;
  taken: boolean;
  after: Effect['balances'] extends (infer B)[] | null ? B | undefined : never;
  onTake: () => void;
  today: string;
}

/** One open item on the bench: taken by mouse, or by Enter or Space; arrows walk. */
export function BenchCard({ item, taken, after, onTake, today }: Props) {
  const detail = item.credit
    ? [
        showDay(item.day, today),
        item.job && item.kind === 'deposit' ? `job ${item.job}` : '',
        item.reference && `ref ${item.reference}`,
      ]
    : [`due ${showDay(item.due, today)}`, item.age > 0 ? `${showDays(item.age)} over` : '', item.job && `job ${item.job}`];
  const rest =
    after &&
    (isNil(after.after)
      ? item.credit
        ? 'all of it used'
        : 'settled'
      : `${show(after.after)} will stay ${item.credit ? after.what : 'open'}`);
  const title = item.instalment ? `${item.title}, part ${item.instalment}` : item.title;
  return (
    <Card
      type="button"
      data-card={item.id}
      data-why={whyProps({ of: 'item', id: item.id, name: `open · ${item.number}` })['data-why']}
      data-side={item.credit ? 'credit' : 'owed'}
      data-taken={taken || undefined}
      aria-pressed={taken}
      onClick={onTake}
      onKeyDown={(e) => {
        const cards = [...document.querySelectorAll<HTMLElement>('[data-card]')];
        const mine = cards.filter((c) => c.dataset.side === e.currentTarget.dataset.side);
        const other = cards.filter((c) => c.dataset.side !== e.currentTarget.dataset.side);
        const at = mine.indexOf(e.currentTarget);
        const next = {
          ArrowDown: mine[at + 1],
          ArrowUp: mine[at - 1],
          ArrowRight: other[Math.min(at, other.length - 1)],
          ArrowLeft: other[Math.min(at, other.length - 1)],
        }[e.key];
        if (next) {
          e.preventDefault();
          next.focus();
        }
      }}
    >
      <span className="name">
        <b>{item.number}</b> {title}
      </span>
      <span className="open" data-held={item.kind === 'deposit' || undefined}>
        {item.currency && <small>{item.currency} </small>}
        {show(item.open)}
      </span>
      <small>{detail.filter(Boolean).join(' · ')}</small>
      <small className="rest">{rest}</small>
    </Card>
  );
}
