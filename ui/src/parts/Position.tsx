import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import { isBelowNil, isNil, show } from './show';
import { whyProps, type WhyOf } from './why';

const Ruled = styled('dl')(({ theme }) => ({
  display: 'grid',
  gridAutoFlow: 'column',
  gridAutoColumns: '1fr',
  margin: 0,
  borderBlock: `1px solid ${theme.vars!.palette.tally.strong}`,
  '& > div': { padding: '8px 10px', borderLeft: `1px solid ${theme.vars!.palette.tally.rule}`, minWidth: 0 },
  '& > div:first-of-type': { borderLeft: 0 },
  '& dt': { color: theme.vars!.palette.text.secondary, fontSize: 13 },
  '& dd': { margin: 0 },
}));

const Sum = styled('span')(({ theme }) => ({
  '& a': { color: 'inherit', textDecoration: 'none' },
  '& a:hover, & a:focus-visible': { textDecoration: 'underline' },
  '&[data-held]': { color: theme.vars!.palette.tally.held },
  '&[data-late]': { color: theme.vars!.palette.error.main },
  '&[data-final]': { borderBottom: `3px double ${theme.vars!.palette.text.primary}` },
}));

interface Figure {
  name: string;
  value: string;
  tone?: 'held' | 'late';
  final?: boolean;
  /** Where the lines are that make it up. */
  to?: string;
  /** What balance it is, so that y says why. */
  why?: WhyOf;
}

// So wide is the work at least, and a figure a letter, of the height of its type.
const work = 790;
const perLetter = 0.51;

/** The size that lets the longest figure of a row fit its cell; none where the usual one does. */
function fitting(figures: Figure[]): number | undefined {
  const longest = Math.max(...figures.map((f) => show(f.value).length));
  const size = (work / figures.length - 21) / longest / perLetter;
  return size < 18 ? Math.max(size, 11) : undefined;
}

/** A position as one ruled row of figures. */
export function PositionRow({ figures }: { figures: Figure[] }) {
  const fontSize = fitting(figures);
  return (
    <Ruled>
      {figures.map((f) => (
        <div key={f.name}>
          <dt>{f.name}</dt>
          <dd>
            <Typography variant="figure" style={{ fontSize }}>
              <Sum
                {...(f.why && whyProps(f.why))}
                data-held={f.tone === 'held' && !isNil(f.value) ? true : undefined}
                data-final={f.final || undefined}
                data-below={isBelowNil(f.value) || undefined}
              >
                {f.to ? <Link to={f.to}>{show(f.value)}</Link> : show(f.value)}
              </Sum>
            </Typography>
          </dd>
        </div>
      ))}
    </Ruled>
  );
}
