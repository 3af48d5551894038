import { styled } from '@mui/material/styles';

const Strokes = styled('svg')(({ theme }) => ({
  width: 22,
  height: 15,
  verticalAlign: '-2px',
  marginRight: 7,
  strokeWidth: 1.9,
  strokeLinecap: 'round',
  '& .rest': { stroke: theme.vars!.palette.tally.strong },
  '& .done': { stroke: theme.vars!.palette.text.primary },
  '& .cross': { stroke: theme.vars!.palette.tally.settled, strokeWidth: 2.2 },
}));

const Word = styled('span')(({ theme }) => ({
  whiteSpace: 'nowrap',
  '&[data-overdue]': { color: theme.vars!.palette.error.main },
}));

interface Props {
  settled: number;
  state: string;
  overdue?: boolean;
  /** Whether nothing of it is ever open: the word alone stands there. */
  plain?: boolean;
}

/**
 * The settlement mark: five strokes like a count kept on a wall. None for
 * open, one to four by the share settled, the fifth crosses them when settled.
 */
export function Mark({ settled, state, overdue, plain }: Props) {
  const done = settled >= 100 ? 4 : settled <= 0 ? 0 : Math.max(1, Math.min(4, Math.ceil(settled / 25)));
  return (
    <Word data-overdue={overdue || undefined}>
      {!plain && (
        <Strokes viewBox="0 0 22 15" aria-hidden>
          {[3, 8, 13, 18].map((x, i) => (
            <path key={x} d={`M${x} 1.5V13.5`} className={i < done ? 'done' : 'rest'} />
          ))}
          {settled >= 100 && <path d="M1 11.500L21 3.500" className="cross" />}
        </Strokes>
      )}
      {state}
      {overdue && ', overdue'}
    </Word>
  );
}
