import { Leads } from '../parts/may';
import type { components } from '../api/schema';
import { Amount } from '../parts/Amount';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';

type Row = components['schemas']['MarginRow'];

const columns: Column<Row>[] = [
  { id: 'number', title: 'Job', cell: (r) => r.number },
  { id: 'name', title: 'Name', cell: (r) => r.name, wide: true },
  { id: 'party', title: 'Customer', cell: (r) => r.customer },
  { id: 'income', title: 'Brought in', cell: (r) => <Amount value={r.income} quietNil />, figure: true },
  { id: 'costs', title: 'Cost', cell: (r) => <Amount value={r.costs} quietNil />, figure: true },
  { id: 'margin', title: 'Margin', cell: (r) => <Amount value={r.margin} strong />, figure: true },
  { id: 'percent', title: '%', cell: (r) => r.percent, figure: true },
  {
    id: 'budget',
    title: 'Budget',
    cell: (r) => (
      <>
        {r.overBudget && 'over '}
        <Amount value={r.budget} quietNil />
      </>
    ),
    figure: true,
  },
  { id: 'waiting', title: 'Costs waiting', cell: (r) => <Amount value={r.waiting} tone="waiting" quietNil />, figure: true },
];

const states = [
  { value: '', name: 'Not closed' },
  { value: 'closed', name: 'Closed' },
  { value: 'all', name: 'All' },
];

/** Jobs by what they brought in and cost. */
export default function MarginList() {
  useBack(useLeave('/jobs'));
  return (
    <Page>
      <PageHead title="Jobs by margin">
        <Leads variant="outlined" to="/jobs">
          Jobs
        </Leads>
      </PageHead>
      <ListTable<Row>
        id="margins"
        path="/api/v1/margins"
        columns={columns}
        filters={{ param: 'state', options: states }}
        search="Number, name, customer"
        to={(r) => `/jobs/${r.id}#margin`}
        empty={<Empty>Here will be every job with what it brought in, what it cost, and what is left.</Empty>}
      />
      <Margin>
        <ListNote title="Margin">
          Billed work and passed-on costs, net, less the costs that name the job. What was paid on a customer’s behalf is neither;
          costs that wait to be passed on are told beside it.
        </ListNote>
      </Margin>
    </Page>
  );
}
