import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { mailSeen, mailState } from './mailState';
import { useMailSteps } from './useMailSteps';

const Rows = styled('ul')({
  listStyle: 'none',
  margin: '6px 0 0',
  padding: 0,
  '& li': { display: 'flex', gap: 14, alignItems: 'center', minHeight: 32 },
});

/** What was mailed of a paper: to whom, when, whether it went and was seen. */
export function PaperMails({ paper }: { paper: number }) {
  const steps = useMailSteps();
  const rows = useQuery({
    queryKey: ['mails', 'paper', paper],
    queryFn: () => data(api.GET('/api/v1/mails', { params: { query: { paper } } })),
    // What waits goes by itself.
    refetchInterval: (q) => (q.state.data?.rows.some((m) => m.state === 'waiting') ? 2000 : false),
  }).data?.rows;
  if (!rows?.length) return null;
  return (
    <section className="no-print" aria-label="Mails" style={{ maxWidth: 800, margin: '14px auto 0', width: '100%' }}>
      <Typography variant="h2">Mails</Typography>
      <Rows>
        {rows.map((m) => (
          <li key={m.id}>
            <span style={{ flex: 1, overflowWrap: 'anywhere' }}>
              <Link to={`/papers/outbox/${m.id}`}>{m.subject}</Link> to {m.to.join(', ')}: {mailState(m)}
              {m.state !== 'sent' && m.reason && ` (${m.reason})`}
            </span>
            <span>{mailSeen(m)}</span>
            {m.state === 'failed' && (
              <Button size="small" onClick={() => void steps.send(m.id)}>
                Try again
              </Button>
            )}
          </li>
        ))}
      </Rows>
    </section>
  );
}
