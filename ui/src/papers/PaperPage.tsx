import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api, data, type Paper } from '../api/client';
import { EntryTable } from '../app/EffectView';
import { useBack } from '../parts/keys';
import { Failure, Page, PageHead } from '../parts/Layout';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { isNil, kindName, showDay } from '../parts/show';
import { AllocationList } from '../parts/Story';
import { PostedSheet } from './PostedSheet';
import { TakeBack, type PanelKind } from './TakeBack';

/** A posted paper as the customer sees it, with its entries and allocations. */
export default function PaperPage() {
  const id = Number(useParams().id);
  const paper = useQuery({
    queryKey: ['paper', id],
    queryFn: () => data(api.GET('/api/v1/papers/{id}', { params: { path: { id } } })),
  });
  const [panel, setPanel] = useState<PanelKind | null>(null);
  const go = useNavigate();
  useBack(() => (panel ? setPanel(null) : go(-1)));
  if (paper.isError)
    return (
      <Page>
        <Failure error={paper.error} />
      </Page>
    );
  const p = paper.data;
  if (!p) return null;
  const steps = nextSteps(p);
  return (
    <Page>
      <PageHead
        title={`${kindName(p.kind)} ${p.number}`}
        under={
          <>
            <Mark settled={p.settled} state={p.state} overdue={p.overdue} /> ·{' '}
            {p.customerId > 0 ? <Link to={`/customers/${p.customerId}`}>{p.customer}</Link> : 'not identified'}
            {p.jobId > 0 && (
              <>
                {' '}
                · <Link to={`/jobs/${p.jobId}`}>job {p.job}</Link>
              </>
            )}
            {p.reversedBy && <Linked id={p.reversedById} text={`taken back by ${p.reversedBy}`} />}
            {p.reverses && <Linked id={p.reversesId} text={`takes back ${p.reverses}`} />}
            {p.source && <Linked id={p.sourceId} text={`of ${p.source}`} />}
            {p.standing.map((x) => (
              <Linked key={x.id} id={x.id} text={`${x.kind} ${x.number}`} />
            ))}
          </>
        }
      >
        {steps.map((s) => (
          <Button key={s.name} variant="outlined" onClick={() => ('to' in s ? void go(s.to) : setPanel(s.panel))}>
            {s.name}
          </Button>
        ))}
        <Button variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
      </PageHead>
      {panel && <TakeBack key={panel} kind={panel} paper={p} onClose={() => setPanel(null)} />}
      <PostedSheet paper={p} />
      {!panel && (
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

type Step = { name: string; to: string } | { name: string; panel: PanelKind };

/** What one does next with a paper, as it stands. */
function nextSteps(p: Paper): Step[] {
  const open = !isNil(p.open);
  const item = p.parts.find((x) => x.nature === '' && !isNil(x.open));
  const of = `customer=${p.customerId}&credit=${item?.itemId ?? 0}`;
  const steps: Step[] = [];
  if (p.kind === 'invoice' && open) {
    steps.push({ name: 'Receipt', to: `/papers/new/receipt?customer=${p.customerId}` });
    steps.push({ name: p.disputed ? 'End the dispute' : 'Dispute', panel: 'dispute' });
    steps.push({ name: 'Write off', to: `/papers/new/write-off?customer=${p.customerId}&item=${item?.itemId ?? 0}` });
  }
  if (p.kind === 'unidentified receipt' && open)
    steps.push({ name: 'Whose is it?', to: `/papers/new/distribution?from=${item?.itemId ?? 0}&amount=${item?.open ?? ''}` });
  if (item?.credit && ['deposit', 'receipt', 'transfer', 'journal'].includes(p.kind)) {
    steps.push({ name: 'Set against', to: `/customers/${p.customerId}?credit=${item.itemId}#bench` });
    if (item.register === 'deposits') steps.push({ name: 'What becomes of it', to: `/papers/new/deposit_split?${of}` });
    else steps.push({ name: 'Refund', to: `/papers/new/refund?${of}` });
    steps.push({ name: 'Transfer', to: `/papers/new/transfer?${of}` });
  }
  if (p.kind === 'write-off' && !p.reversedBy) steps.push({ name: 'Recovery', to: `/papers/new/recovery?writeOff=${p.id}` });
  if ((p.kind === 'receipt' || p.kind === 'deposit') && !p.reversedBy)
    steps.push({ name: 'Returned by the bank', panel: 'returned' });
  if (p.kind !== 'reversal' && p.kind !== 'returned payment' && !p.reversedBy) steps.push({ name: 'Reverse', panel: 'reverse' });
  return steps;
}
