import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { Link } from 'react-router';
import { newPaper } from '../papers/editing/kind';
import { Key } from '../parts/Layout';
import { useToday } from '../parts/records';
import { kindName, show, showDay } from '../parts/show';
import { becomes, fits, isWhat, said, type Line, type Proposal } from './becomes';

const Proposals = styled('ol')(({ theme }) => ({
  listStyle: 'none',
  margin: '10px 0 0',
  padding: 0,
  // What is not known yet has its place already, so that what stands below keeps its own.
  '&[data-waits]': { visibility: 'hidden' },
  '& li': { borderTop: `1px solid ${theme.vars!.palette.tally.rule}`, padding: '8px 0' },
  '& .MuiButton-root': { textAlign: 'left', lineHeight: 1.3 },
  '& p': { margin: '2px 0 6px', fontSize: '0.9em' },
  '& .against': { color: theme.vars!.palette.error.main },
}));

const Letters = styled('div')({
  '& .MuiButton-root': { display: 'flex', justifyContent: 'space-between', width: '100%', textAlign: 'left' },
});

interface Props {
  line: Line;
  /** What it may be, the best first; undefined while that is not known. */
  proposals?: Proposal[];
  /** What the line before might be: until it is known of this one, it keeps the place. */
  before?: Proposal[];
  onTake: (p: Proposal) => void;
  onUntie: () => void;
}

/** What a line of the bank may be, with what speaks for and against it, and what else it can become. */
export function MayBe({ line, proposals, before, onTake, onUntie }: Props) {
  const told = proposals ?? before ?? [];
  return (
    <section aria-label="What it may be">
      <Typography variant="h2">{show(line.amount)}</Typography>
      <p style={{ margin: '2px 0 0', overflowWrap: 'anywhere' }}>{said(line)}</p>
      {line.tied ? (
        <>
          <p>
            Explained by <Link to={`/papers/${line.paperId}`}>{line.papers.replaceAll(',', ', ')}</Link>
          </p>
          <Button component={Link} to={`/bank/${line.bank}/several?lines=${line.id}&instead=1`}>
            It is something else
          </Button>
          <Button onClick={onUntie}>Take the tie off</Button>
        </>
      ) : (
        <>
          <Proposals inert={!proposals} data-waits={!proposals || undefined}>
            {told.map((p, n) => (
              <li key={n}>
                <Button size="small" variant={n === 0 ? 'outlined' : 'text'} onClick={() => onTake(p)}>
                  {isWhat(p)} {n === 0 && <Key>↵</Key>}
                </Button>
                <Why proposal={p} />
              </li>
            ))}
            {told.length === 0 && <li>Nothing that was posted, or is open, fits.</li>}
          </Proposals>
          <Typography variant="h2" sx={{ mt: 2 }}>
            Or it becomes
          </Typography>
          <Letters>
            {becomes
              .filter((b) => fits(b, line))
              .map((b) => (
                <Button key={b.key} size="small" component={Link} to={newPaper(b.kind, { bankLine: line.id })}>
                  {b.name} <Key>{b.key}</Key>
                </Button>
              ))}
            <Button size="small" component={Link} to={`/bank/${line.bank}/several?lines=${line.id}`}>
              Several, that come to it together <Key>v</Key>
            </Button>
          </Letters>
        </>
      )}
    </section>
  );
}

function Why({ proposal: p }: { proposal: Proposal }) {
  const today = useToday();
  return (
    <p>
      {p.number && p.kind && (
        <>
          {kindName(p.kind)}
          {p.day && ` of ${showDay(p.day, today)}`}
          {p.party && `, ${p.party}`}: {show(p.amount)}
          <br />
        </>
      )}
      {p.for.join(', ')}
      {p.against.length > 0 && <span className="against"> · but {p.against.join(', ')}</span>}
    </p>
  );
}
