import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { Paper } from '../api/client';
import { EntryTable } from '../app/EffectView';
import { Amount } from '../parts/Amount';
import { Mark } from '../parts/Mark';
import { paperQuery } from '../parts/records';
import { isNil, kindName, showDay } from '../parts/show';
import { AllocationList } from '../parts/Story';

/** The entries of a posted paper and what is set against it. */
export function PaperEntries({ paper: p }: { paper: Paper }) {
  if ((p.entries ?? []).length === 0 && (p.allocations ?? []).length === 0)
    return (
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        It posts nothing.
      </Typography>
    );
  return (
    <>
      {(p.entries ?? []).map((e) => (
        <section key={e.id} style={{ marginTop: 10 }}>
          <Typography variant="body2" color="textSecondary">
            {showDay(e.day)} · {e.text}
          </Typography>
          <EntryTable entries={[e]} />
        </section>
      ))}
      <Typography variant="h2" sx={{ mt: 2 }}>
        Set against
      </Typography>
      <AllocationList
        allocations={p.allocations ?? []}
        own={p.id}
        customer={p.parts.some((x) => x.register === 'receivables') ? p.customerId : undefined}
      />
    </>
  );
}

/** A posted paper in the Effect's column: what it did, what settled it, what is open. */
export function PaperInEffect({ id }: { id: number }) {
  const { data: p } = useQuery({
    ...paperQuery(id),
    placeholderData: (old) => old,
  });
  if (!p) return null;
  return (
    <section aria-label={`${kindName(p.kind)} ${p.number}`}>
      <Typography variant="h2">
        {kindName(p.kind)} {p.number}
      </Typography>
      <Typography variant="body2" color="textSecondary" component="div">
        {p.customer}
        {p.job && ` · job ${p.job}`}
        <br />
        <Mark settled={p.settled} state={p.state} overdue={p.overdue} plain={!p.opens} />
        {!isNil(p.open) && (
          <>
            {' · '}
            <Amount value={p.open} code={p.currency} /> open
          </>
        )}
      </Typography>
      <PaperEntries paper={p} />
      {p.note && <Typography sx={{ whiteSpace: 'pre-wrap' }}>{p.note}</Typography>}
      <Link to={`/papers/${p.id}`}>Open it</Link>
    </section>
  );
}
