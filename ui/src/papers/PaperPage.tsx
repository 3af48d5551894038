import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { under } from '../api/at';
import { Attachments } from '../parts/Attachments';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Failure, Page, PageHead } from '../parts/Layout';
import { Margin } from '../parts/Margin';
import { PaperMails } from '../outgoing/PaperMails';
import { Mark } from '../parts/Mark';
import { paperQuery, useFirm } from '../parts/records';
import { kindName, show } from '../parts/show';
import { ElectronicOf } from '../outgoing/ElectronicOf';
import { EventList } from './EventList';
import { EventPanel, type EventKind } from './EventPanel';
import { PaperEntries } from './PaperInEffect';
import { LetterheadChoice } from './LetterheadChoice';
import { Links } from '../outgoing/Links';
import { PdfOf } from './PdfOf';
import { PostedSheet } from './PostedSheet';
import { Leads, Only, useMay } from '../parts/may';
import { stepsOf, type Step } from './steps';
import { TakeBack, type PanelKind } from './TakeBack';

const ofSupplier = [
  'purchase order',
  'goods received',
  'supplier bill',
  'expense',
  'supplier credit',
  'supplier payment',
  'supplier prepayment',
  'supplier refund',
  'supplier release',
];

/** A posted paper as the customer sees it, with its entries and allocations. */
export default function PaperPage() {
  const id = Number(useParams().id);
  const paper = useQuery(paperQuery(id));
  const [asked] = useSearchParams();
  const [panel, setPanel] = useState<PanelKind | EventKind | null>(asked.get('panel') === 'returned' ? 'returned' : null);
  const go = useNavigate();
  const may = useMay();
  const firm = useFirm().data;
  const leave = useLeave('/papers');
  useBack(() => (panel ? setPanel(null) : leave()));
  if (paper.isError && !paper.data)
    return (
      <Page>
        <Failure error={paper.error} />
      </Page>
    );
  const p = paper.data;
  if (!p) return null;
  const steps = stepsOf(p).filter((s) => may.step(s));
  const take = (s: Step) => ('to' in s ? void go(s.to) : setPanel(s.panel));
  const taking = panel && !isEvent(panel) ? panel : null;
  return (
    <Page>
      <PageHead
        title={`${kindName(p.kind)} ${p.number}`}
        under={
          <>
            <Mark settled={p.settled} state={p.sent ? `${p.state}, sent` : p.state} overdue={p.overdue} plain={!p.opens} /> ·{' '}
            {p.customerId > 0 ? (
              <Link to={ofSupplier.includes(p.kind) ? `/customers/suppliers/${p.customerId}` : `/customers/${p.customerId}`}>
                {p.customer}
              </Link>
            ) : p.kind === 'unidentified receipt' ? (
              'not identified'
            ) : (
              p.title
            )}
            {p.jobId > 0 && (
              <>
                {' '}
                · <Link to={`/jobs/${p.jobId}`}>job {p.job}</Link>
              </>
            )}
            {p.currency && (
              <>
                {' '}
                · {p.currency} {show(p.total)} at {show(p.rate)}: {firm?.currency} {show(p.base)}
              </>
            )}
            {p.reversedBy && <Linked id={p.reversedById} text={`taken back by ${p.reversedBy}`} />}
            {p.reverses && <Linked id={p.reversesId} text={`takes back ${p.reverses}`} />}
            {p.insteadOf && <Linked id={p.insteadOf.id} text={`in place of ${p.insteadOf.number}`} />}
            {p.writtenAgain && <Linked id={p.writtenAgain.id} text={`written again as ${p.writtenAgain.number}`} />}
            {p.source && <Linked id={p.sourceId} text={`of ${p.source}`} />}
            {p.cleared.map((x) => (
              <Linked key={x.id} id={x.id} text={x.number} />
            ))}
            {p.standing.map((x) => (
              <Linked key={x.id} id={x.id} text={`${x.kind} ${x.number}`} />
            ))}
          </>
        }
      >
        {steps
          .filter((s) => !s.more)
          .map((s) => (
            <Button key={s.name} variant="outlined" onClick={() => take(s)}>
              {s.name}
            </Button>
          ))}
        <MoreSteps steps={steps.filter((s) => s.more)} onTake={take} />
        <Button variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
        <PdfOf papers={[id]} />
        {p.claim && (
          <Button variant="outlined" component="a" href={under(`/api/v1/papers/${id}/certificate`)} download>
            Certificate
          </Button>
        )}
        <ElectronicOf paper={p} />
        <Only right="note, attach and mail">
          <Leads variant="outlined" to={`/papers/mail?papers=${id}`}>
            Mail
          </Leads>
        </Only>
        <Only right="write quotes, orders, deliveries and drafts of invoices">
          <LetterheadChoice paper={p} />
        </Only>
      </PageHead>
      {panel && isEvent(panel) && <EventPanel key={panel} kind={panel} paper={p} onClose={() => setPanel(null)} />}
      {taking && <TakeBack key={taking} kind={taking} paper={p} onClose={() => setPanel(null)} />}
      <PostedSheet paper={p} />
      <Attachments paper={id} goesOut />
      <Only right="see customers, jobs and papers">
        <PaperMails paper={id} />
        <Links key={id} to={{ paper: id }} what="this paper" />
      </Only>
      <EventList events={p.events} />
      {!taking && may.has('see the ledger, the bank and reports') && (
        <Margin>
          <Typography variant="h2">Entries</Typography>
          <PaperEntries paper={p} />
        </Margin>
      )}
    </Page>
  );
}

const isEvent = (panel: PanelKind | EventKind): panel is EventKind => !['reverse', 'returned', 'dispute'].includes(panel);

/** The steps that are taken now and then. */
function MoreSteps({ steps, onTake }: { steps: Step[]; onTake: (s: Step) => void }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  if (steps.length === 0) return null;
  return (
    <>
      <Button variant="outlined" onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu" aria-expanded={at !== null}>
        More
      </Button>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)} transitionDuration={0}>
        {steps.map((s) => (
          <MenuItem
            key={s.name}
            onClick={() => {
              setAt(null);
              onTake(s);
            }}
          >
            {s.name}
          </MenuItem>
        ))}
      </Menu>
    </>
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
