import { useNavigate } from 'react-router';
import { Leads } from '../parts/may';
import type { components } from '../api/schema';
import { Amount } from '../parts/Amount';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { JobForm } from './JobForm';
import { useAddress } from '../parts/useAddress';

type Row = components['schemas']['JobRow'];

const columns: Column<Row>[] = [
  { id: 'number', title: 'Job', cell: (r) => r.number },
  { id: 'name', title: 'Name', cell: (r) => r.name, wide: true },
  { id: 'party', title: 'Customer', cell: (r) => r.customer },
  { id: 'site', title: 'Site', cell: (r) => r.site, hidden: true },
  { id: 'contractSum', title: 'Contract sum', cell: (r) => <Amount value={r.contractSum} quietNil />, figure: true },
  { id: 'billed', title: 'Billed', cell: (r) => <Amount value={r.billed} quietNil />, figure: true },
  { id: 'leftToBill', title: 'Left to bill', cell: (r) => <Amount value={r.leftToBill} quietNil />, figure: true },
  { id: 'open', title: 'Open', cell: (r) => <Amount value={r.open} quietNil />, figure: true },
  { id: 'held', title: 'We hold', cell: (r) => <Amount value={r.held} tone="held" quietNil />, figure: true },
];

const states = [
  { value: '', name: 'Not closed' },
  { value: 'open', name: 'Money open' },
  { value: 'held', name: 'We hold' },
  { value: 'closed', name: 'Closed' },
  { value: 'all', name: 'All' },
];

/** Every job, with what is billed, open and held. */
export default function JobList() {
  const [params, set] = useAddress();
  const go = useNavigate();
  const open = () => set('new', '1');
  return (
    <Page>
      <PageHead title="Jobs">
        <Leads variant="outlined" to="/jobs/costs">
          Costs to pass on
        </Leads>
        <Leads variant="outlined" to="/jobs/margins">
          By margin
        </Leads>
        <Leads variant="outlined" to="/setup/import?kind=jobs">
          Import
        </Leads>
        <Leads variant="contained" to="/jobs?new=1">
          New job
        </Leads>
      </PageHead>
      <ListTable<Row>
        id="jobs"
        path="/api/v1/jobs"
        columns={columns}
        filters={{ param: 'state', options: states }}
        search="Number, name, customer, site"
        to={(r) => `/jobs/${r.id}`}
        empty={
          <Empty action="New job" onAction={open}>
            Here will be every order, project and contract, with what is billed, open and left to bill.
          </Empty>
        }
      />
      <Margin>
        <ListNote title="Jobs">
          Choose one to see its strip: what is settled, open, covered by deposits and left to bill.
        </ListNote>
      </Margin>
      {params.get('new') && (
        <JobForm
          customer={Number(params.get('customer') ?? 0)}
          onClose={() => set('new', '')}
          onSaved={(j) => go(`/jobs/${j.id}`)}
        />
      )}
    </Page>
  );
}
