import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useId } from 'react';
import { Link } from 'react-router';
import type { Job } from '../api/client';
import { isNil, show } from '../parts/show';

const Drawn = styled('svg')(({ theme }) => ({
  display: 'block',
  width: '100%',
  height: 32,
  '& .ink': { stroke: theme.vars!.palette.text.primary },
  '& .held': { fill: theme.vars!.palette.tally.held },
  '& .advance': { stroke: theme.vars!.palette.tally.held },
  '& .retained': { stroke: theme.vars!.palette.tally.kept },
  '& path.lost': { stroke: theme.vars!.palette.tally.lost, strokeWidth: 1.4 },
  '& path.soft': { stroke: theme.vars!.palette.text.secondary },
  '& .settled': { fill: theme.vars!.palette.tally.settled },
  '& .ground': { fill: theme.vars!.palette.tally.sheet },
  '& .edge': { fill: 'none', stroke: theme.vars!.palette.tally.strong },
  '& .rest': { strokeDasharray: '4 4' },
}));
const Legend = styled('dl')(({ theme }) => ({
  display: 'flex',
  gap: '6px 22px',
  flexWrap: 'wrap',
  margin: '8px 0 0',
  '& dt': { color: theme.vars!.palette.text.secondary, fontSize: 13.5, display: 'flex', alignItems: 'center', gap: 6 },
  '& dd': { margin: 0 },
  '& svg': { width: 22, height: 10 },
  '& a': { color: 'inherit' },
  '& .ink': { stroke: theme.vars!.palette.text.primary },
  '& .settled': { fill: theme.vars!.palette.tally.settled },
}));

// Parts that are told when they are nil, too.
const always = ['settled', 'open', 'left to bill'];

const hatch: Record<string, string> = {
  settled: 'settled',
  open: 'lines',
  'kept back': 'kept',
  'covered by deposits': 'dots',
  'billed in advance': 'grid',
  'left to bill': 'rest',
  'written off': 'lost',
};

/** One bar as long as the contract sum, each part with a hatch and a figure of its own. */
export function Strip({ job }: { job: Job }) {
  const id = useId();
  const parts = (job.strip ?? []).reduce<{ name: string; amount: string; share: number; from: number }[]>(
    (all, p) => [...all, { ...p, from: all.reduce((sum, x) => sum + x.share, 0) }],
    [],
  );
  const drawn = ['lines', 'dots', 'grid', 'kept', 'lost', 'rest'];
  const fill = (name: string) => (drawn.includes(hatch[name] ?? '') ? `url(#${id}${hatch[name]})` : undefined);
  const papers: Record<string, string> = {
    settled: `/papers?job=${job.id}&kind=invoice&state=settled`,
    open: `/papers?job=${job.id}&kind=invoice&state=open`,
    'kept back': `/ledger/registers?register=retention&q=${job.number}`,
    'covered by deposits': `/papers?job=${job.id}&kind=deposit`,
    'billed in advance': `/papers?job=${job.id}&kind=deposit+invoice`,
    'left to bill': `/papers/new/invoice?job=${job.id}&customer=${job.customer}`,
    'written off': `/papers?job=${job.id}&kind=write-off`,
  };
  return (
    <section aria-label="Where the contract sum stands">
      <Drawn role="img" aria-label={parts.map((p) => `${p.name} ${show(p.amount)}`).join(', ')}>
        <defs>
          <pattern id={`${id}lines`} width="6" height="6" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" className="ground" />
            <path d="M0 3H6" className="ink" strokeWidth="1.4" />
          </pattern>
          <pattern id={`${id}dots`} width="7" height="7" patternUnits="userSpaceOnUse">
            <rect width="7" height="7" className="ground" />
            <circle cx="3.500" cy="3.500" r="1.500" className="held" />
          </pattern>
          <pattern id={`${id}grid`} width="6" height="6" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" className="ground" />
            <path d="M0 3H6M3 0V6" className="advance" strokeWidth="1" />
          </pattern>
          <pattern id={`${id}kept`} width="6" height="6" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" className="ground" />
            <path d="M-1 7L7 -1" className="retained" strokeWidth="1.6" />
          </pattern>
          <pattern id={`${id}rest`} width="9" height="9" patternUnits="userSpaceOnUse">
            <rect width="9" height="9" className="ground" />
            <path d="M4.5 1V4" className="soft" strokeWidth="1.2" />
          </pattern>
          <pattern id={`${id}lost`} width="7" height="7" patternUnits="userSpaceOnUse">
            <rect width="7" height="7" className="ground" />
            <path d="M0 0L7 7M7 0L0 7" className="lost" strokeWidth="1" />
          </pattern>
        </defs>
        {parts.map((p) => (
          <g key={p.name}>
            <rect
              x={`${p.from}%`}
              width={`${p.share}%`}
              y="0.500"
              height="31"
              className={p.name === 'settled' ? 'settled' : 'ground'}
              fill={fill(p.name)}
              style={{ fill: fill(p.name) }}
            />
            {p.share > 0 && (
              <rect x={`${p.from}%`} width={`${p.share}%`} y="0.500" height="31" className={`edge ${hatch[p.name]}`} />
            )}
          </g>
        ))}
      </Drawn>
      <Legend>
        {parts
          .filter((p) => !isNil(p.amount) || always.includes(p.name))
          .map((p) => (
            <div key={p.name}>
              <dt>
                <svg aria-hidden>
                  <rect
                    width="22"
                    height="10"
                    className={p.name === 'settled' ? 'settled' : 'ground'}
                    style={{ fill: fill(p.name) ?? (p.name === 'settled' ? undefined : 'transparent') }}
                  />
                </svg>
                {p.name}
              </dt>
              <dd>
                <Typography variant="figure">
                  {isNil(p.amount) ? show(p.amount) : <Link to={papers[p.name]!}>{show(p.amount)}</Link>}
                </Typography>
              </dd>
            </div>
          ))}
      </Legend>
    </section>
  );
}
