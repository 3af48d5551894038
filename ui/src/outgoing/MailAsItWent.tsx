import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { under } from '../api/at';
import { api, data } from '../api/client';
import { Failure } from '../parts/Layout';
import { Letter } from './Letter';
import { mailSeen, mailState } from './mailState';
import { useMailSteps } from './useMailSteps';

/** A mail with what went along, as it was, and what can be done about it. */
export function MailAsItWent({ id }: { id: number }) {
  const steps = useMailSteps();
  const mail = useQuery({
    queryKey: ['mails', 'one', id],
    queryFn: () => data(api.GET('/api/v1/mails/{id}', { params: { path: { id } } })),
    refetchInterval: (q) => (q.state.data?.state === 'waiting' ? 2000 : false),
  });
  if (mail.isError) return <Failure error={mail.error} />;
  const m = mail.data;
  if (!m) return null;
  const going = m.state === 'waiting' || m.state === 'by hand';
  return (
    <section aria-label="Mail">
      <Typography variant="h2">Mail</Typography>
      <p role="status" style={{ margin: '6px 0' }}>
        {mailState(m)}
        {mailSeen(m) && `, ${mailSeen(m)}`}
        {m.user && `; written by ${m.user}`}
      </p>
      {m.reason && m.state !== 'sent' && <p style={{ margin: '6px 0' }}>{m.reason}.</p>}
      {m.state !== 'sent' && (
        <div style={{ display: 'flex', gap: 8, marginBottom: 8 }}>
          <Button variant="outlined" size="small" onClick={() => void steps.send(m.id)}>
            {m.state === 'failed' || m.tries > 0 ? 'Try again' : 'Send it now'}
          </Button>
          {(going || m.state === 'failed') && (
            <Button size="small" onClick={() => void steps.stop(m.id)}>
              Stop it
            </Button>
          )}
        </div>
      )}
      <Letter
        to={m.to.join(', ')}
        copies={m.copies.join(', ')}
        subject={m.subject}
        text={m.words.replace('{link}', m.link ? '(the link stood here)' : '')}
        files={m.files.map((f) => ({ ...f, href: under(`/api/v1/mails/${m.id}/files/${f.position}`) }))}
      />
      <p style={{ margin: '8px 0' }}>
        {m.papers.map((p, n) => (
          <span key={p}>
            {n > 0 && ', '}
            <Link to={`/papers/${p}`}>{m.numbers.split(', ')[n] ?? 'its paper'}</Link>
          </span>
        ))}
      </p>
    </section>
  );
}
