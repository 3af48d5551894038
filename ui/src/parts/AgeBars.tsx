import { styled } from '@mui/material/styles';
import type { Ageing } from '../api/client';
import { Amount } from './Amount';

const Bars = styled('div')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: '62px 1fr auto',
  gap: '9px 6px',
  alignItems: 'center',
  fontSize: 13.5,
  marginTop: 6,
  '& .bar': { height: 13, backgroundColor: theme.vars!.palette.text.primary },
  '& .bar.late1': { opacity: 0.75 },
  '& .bar.late2': { backgroundColor: theme.vars!.palette.primary.main, opacity: 0.75 },
  '& .bar.late3': { backgroundColor: theme.vars!.palette.primary.main },
  '& .bar.late4': { backgroundColor: theme.vars!.palette.error.main },
}));

/** What is owed by age, as bars with their figures. */
export function AgeBars({ ageing }: { ageing: Ageing }) {
  return (
    <Bars>
      {ageing.buckets.map((name, i) => (
        <Bar key={name} name={name} share={ageing.shares[i] ?? 0} value={ageing.total.buckets[i] ?? ''} age={i} />
      ))}
    </Bars>
  );
}

function Bar({ name, share, value, age }: { name: string; share: number; value: string; age: number }) {
  return (
    <>
      <span>{name}</span>
      <span>
        <span className={`bar late${age}`} style={{ display: 'block', width: share > 0 ? `max(2px, ${share}%)` : 0 }} />
      </span>
      <span style={{ textAlign: 'right' }}>
        <Amount value={value} quietNil />
      </span>
    </>
  );
}
