import Button from '@mui/material/Button';
import { useNavigate } from 'react-router';
import { Leads } from '../parts/may';
import type { Cost } from '../api/client';
import { Amount } from '../parts/Amount';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { showDay, showDays } from '../parts/show';
import { howPassedOn } from './passedOn';

const columns: Column<Cost>[] = [
  { id: 'number', title: 'Paper', cell: (c) => c.number },
  { id: 'text', title: 'What', cell: (c) => c.text, wide: true },
  { id: 'customer', title: 'Customer', cell: (c) => c.customer },
  { id: 'job', title: 'Job', cell: (c) => c.job },
  { id: 'supplier', title: 'Supplier', cell: (c) => c.supplier, hidden: true },
  { id: 'day', title: 'Age', cell: (c) => <span title={showDay(c.day)}>{showDays(c.age)}</span> },
  { id: 'how', title: 'Passed on', cell: (c) => howPassedOn(c.passOn, c.markup), sort: false },
  { id: 'cost', title: 'Cost', cell: (c) => <Amount value={c.cost} />, figure: true, hidden: true },
  { id: 'onDrafts', title: 'On drafts', cell: (c) => <Amount value={c.onDrafts} quietNil />, figure: true, sort: false },
  { id: 'left', title: 'Waits', cell: (c) => <Amount value={c.left} tone="waiting" />, figure: true },
];

const states = [
  { value: '', name: 'All' },
  { value: 'waiting', name: 'Waiting' },
  { value: 'credited', name: 'Given back past it' },
];

const named = (rows: Cost[]) => rows.map((c) => c.id).join(',');
/** The invoice that bills costs of one customer; of one job where they are. */
function billing(rows: Cost[], costs: string) {
  const jobs = new Set(rows.map((c) => c.jobId));
  return `/papers/new/invoice?customer=${rows[0]!.customerId}${jobs.size === 1 ? `&job=${rows[0]!.jobId}` : ''}&costs=${costs}`;
}

/** Everything that was bought for a customer and is not billed yet. */
export default function CostList() {
  const go = useNavigate();
  useBack(useLeave('/jobs'));
  return (
    <Page>
      <PageHead title="Costs to pass on">
        <Leads variant="outlined" to={'/papers/new/expense'}>
          Expense
        </Leads>
        <Leads variant="outlined" to={'/papers/new/supplier_bill'}>
          Supplier bill
        </Leads>
        <Leads variant="outlined" to={'/papers/new/cost_not_passed_on'}>
          Not to be billed
        </Leads>
      </PageHead>
      <ListTable<Cost>
        id="costs"
        path="/api/v1/costs"
        columns={columns}
        filters={{ param: 'state', options: states }}
        search="What, paper, supplier, job, customer"
        to={(c) => (c.credited ? `/papers/${c.paper}` : billing([c], 'all'))}
        several={(rows) => (
          <>
            {new Set(rows.map((c) => c.customerId)).size === 1 && rows.every((c) => !c.credited) && (
              <Button onClick={() => go(billing(rows, named(rows)))}>Bill them</Button>
            )}
            <Leads to={`/papers/new/cost_not_passed_on?costs=${named(rows)}`}>Not to be billed</Leads>
          </>
        )}
        addsWithin="jobId"
        empty={
          <Empty action="Expense" onAction={() => go('/papers/new/expense')}>
            Here will be what you bought for a customer and have not billed yet: a line of a bill or an expense that names a job
            and is passed on.
          </Empty>
        }
      />
      <Margin>
        <ListNote title="Costs to pass on">
          Choose one to bill it: the invoice of its job opens with all that waits for it. What the supplier gave back past what
          waited is owed to the customer: look at the bill, and credit the invoice.
        </ListNote>
      </Margin>
    </Page>
  );
}
