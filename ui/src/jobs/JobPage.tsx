import Button from '@mui/material/Button';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { Leads, Only } from '../parts/may';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Failure, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { PositionRow } from '../parts/Position';
import { useJob } from '../parts/records';
import { isNil, show } from '../parts/show';
import { Story } from '../parts/Story';
import type { WhyOf } from '../parts/why';
import { Attachments } from '../parts/Attachments';
import { Costs } from './Costs';
import { JobForm } from './JobForm';
import { JobMargin } from './JobMargin';
import { Contract } from './Contract';
import { Strip } from './Strip';

/** A job: its strip, where its money stands, the story. */
export default function JobPage() {
  const id = Number(useParams().id);
  const job = useJob(id);
  const [editing, setEditing] = useState(false);
  useBack(useLeave('/jobs'));
  if (job.isError && !job.data)
    return (
      <Page>
        <Failure error={job.error} />
      </Page>
    );
  const j = job.data;
  if (!j) return null;
  const why = (register: WhyOf['register'], what: string, side?: WhyOf['side']): WhyOf => ({
    of: 'register',
    register,
    side,
    job: id,
    name: `${what} · job ${j.number}`,
  });
  const known = `?customer=${j.customer}&job=${id}`;
  return (
    <Page>
      <PageHead
        title={`${j.number} ${j.name}`}
        under={
          <>
            <Link to={`/customers/${j.customer}`}>{j.customerName}</Link>
            {j.site && ` · ${j.site}`} · {isNil(j.contract) ? 'no contract sum' : `contract ${show(j.contract)} net`}
            {j.closed && ' · closed'}
          </>
        }
      >
        <Leads variant="outlined" to={`/papers/new/invoice${known}`}>
          Invoice
        </Leads>
        <Leads variant="outlined" to={`/papers/new/deposit${known}`}>
          Deposit
        </Leads>
        <Leads variant="outlined" to={`/papers/new/order${known}`}>
          Order
        </Leads>
        {!isNil(j.leftToBill) && (
          <Leads variant="outlined" to={`/papers/new/claim${known}`}>
            Claim
          </Leads>
        )}
        {!j.closed && (
          <Leads variant="outlined" to={`/papers/new/invoice${known}&finish=1`}>
            Finish the job
          </Leads>
        )}
        <Leads variant="outlined" to={`/papers/new/expense?job=${id}`}>
          Expense
        </Leads>
        <Only right="write quotes, orders, deliveries and drafts of invoices">
          <Button variant="outlined" onClick={() => setEditing(true)}>
            Details
          </Button>
        </Only>
      </PageHead>
      <Strip job={j} />
      <PositionRow
        figures={[
          { name: 'Billed, net', value: j.billed, why: { of: 'billed', job: id, name: `billed · job ${j.number}` } },
          { name: 'Billed with tax', value: j.billedGross, to: `/papers?job=${id}&kind=invoice` },
          { name: 'Settled of that', value: j.settled, to: `/papers?job=${id}&state=settled` },
          { name: 'Open', value: j.open, why: why('receivables', 'open', 'owed') },
          { name: 'Kept back', value: j.keptBack, why: why('retention', 'kept back') },
          { name: 'We hold', value: j.held, tone: 'held', why: why('deposits', 'held') },
          { name: 'Credits not used', value: j.unplaced, why: why('receivables', 'credits not used', 'credits') },
        ]}
      />
      <Contract job={j} />
      <Only right="see the ledger, the bank and reports">
        <Costs job={id} />
        <JobMargin job={id} />
      </Only>
      {j.note && <p style={{ margin: 0, whiteSpace: 'pre-wrap' }}>{j.note}</p>}
      <Attachments key={`files ${id}`} job={id} />
      <Story key={`story ${id}`} job={id} />
      <Margin>
        <ListNote title="Job">
          The strip is as long as the contract sum, net of tax. Settled and open are what was billed; deposits that are held cover
          a part of what is left to bill. Each figure opens its papers.
        </ListNote>
      </Margin>
      {editing && <JobForm job={j} onClose={() => setEditing(false)} onSaved={() => setEditing(false)} />}
    </Page>
  );
}
