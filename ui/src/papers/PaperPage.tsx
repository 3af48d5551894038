import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api, data, type Paper } from '../api/client';
import { EffectView, EntryTable } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { useBack, usePrimary } from '../parts/keys';
import { Failure, Key, Page, PageHead } from '../parts/Layout';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { usePost, usePreview } from '../parts/preview';
import { useToday } from '../parts/records';
import { kindName, showDay } from '../parts/show';
import { AllocationList } from '../parts/Story';
import { UnderstoodField } from '../parts/UnderstoodField';
import { PostedSheet } from './PostedSheet';

const Panel = styled('div')(({ theme }) => ({
  display: 'flex',
  gap: 10,
  alignItems: 'flex-start',
  padding: 12,
  backgroundColor: theme.vars!.palette.tally.second,
  borderLeft: `3px solid ${theme.vars!.palette.primary.main}`,
}));

/** A posted paper as the customer sees it, with its entries and allocations. */
export default function PaperPage() {
  const id = Number(useParams().id);
  const paper = useQuery({
    queryKey: ['paper', id],
    queryFn: () => data(api.GET('/api/v1/papers/{id}', { params: { path: { id } } })),
  });
  const [reversing, setReversing] = useState(false);
  const go = useNavigate();
  useBack(() => (reversing ? setReversing(false) : go(-1)));
  if (paper.isError)
    return (
      <Page>
        <Failure error={paper.error} />
      </Page>
    );
  const p = paper.data;
  if (!p) return null;
  const canReverse = p.kind !== 'reversal' && !p.reversedBy;
  return (
    <Page>
      <PageHead
        title={`${kindName(p.kind)} ${p.number}`}
        under={
          <>
            <Mark settled={p.settled} state={p.state} overdue={p.overdue} /> ·{' '}
            <Link to={`/customers/${p.customerId}`}>{p.customer}</Link>
            {p.jobId > 0 && (
              <>
                {' '}
                · <Link to={`/jobs/${p.jobId}`}>job {p.job}</Link>
              </>
            )}
            {p.reversedBy && <Linked id={p.reversedById} text={`reversed by ${p.reversedBy}`} />}
            {p.reverses && <Linked id={p.reversesId} text={`reverses ${p.reverses}`} />}
          </>
        }
      >
        {p.kind === 'invoice' && p.open !== '0.00' && (
          <Button variant="outlined" onClick={() => go(`/papers/new/receipt?customer=${p.customerId}`)}>
            Receipt
          </Button>
        )}
        {(p.state === 'held' || p.state === 'part held' || p.state.includes('place')) && p.open !== '0.00' && (
          <Button variant="outlined" onClick={() => go(`/customers/${p.customerId}?credit=${p.parts?.[0]?.itemId}#bench`)}>
            Set against
          </Button>
        )}
        {canReverse && (
          <Button variant="outlined" onClick={() => setReversing(true)}>
            Reverse
          </Button>
        )}
        <Button variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
      </PageHead>
      {reversing && <Reverse paper={p} onClose={() => setReversing(false)} />}
      <PostedSheet paper={p} />
      {!reversing && (
        <Margin>
          <Typography variant="h2">Entries</Typography>
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
          <AllocationList allocations={p.allocations ?? []} own={p.id} />
        </Margin>
      )}
    </Page>
  );
}

function Linked({ id, text }: { id: number; text: string }) {
  return (
    <>
      {' · '}
      <Link to={`/papers/${id}`}>{text}</Link>
    </>
  );
}

function Reverse({ paper, onClose }: { paper: Paper; onClose: () => void }) {
  const today = useToday();
  const [day, setDay] = useState(today);
  const [reason, setReason] = useState('');
  const go = useNavigate();
  const say = useSnackbar();
  const body = { paper: paper.id, day, reason };
  const effect = usePreview('/api/v1/reversals', body);
  const { post, posting, confirming, refused } = usePost('/api/v1/reversals', (posted) => {
    say(`${paper.number} is reversed by ${posted.number}.`);
    onClose();
    void go(`/papers/${posted.paper}`);
  });
  const act = () => post(body);
  usePrimary(act);
  return (
    <>
      <Panel className="no-print">
        <TextField
          label={`Why is ${paper.number} reversed?`}
          data-field="reason"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          autoFocus
          fullWidth
          error={refused?.refusals.some((r) => r.field === 'reason')}
        />
        <UnderstoodField kind="day" label="Day" field="day" value={day} onChange={setDay} width={140} />
        <Button variant="contained" onClick={act} disabled={posting} style={{ minHeight: 38 }}>
          {confirming ? 'Reverse all the same' : 'Reverse'} <Key>Ctrl ↵</Key>
        </Button>
        <Button onClick={onClose} style={{ minHeight: 38 }}>
          Cancel
        </Button>
      </Panel>
      <EffectView effect={effect} strict={refused !== null} />
    </>
  );
}
