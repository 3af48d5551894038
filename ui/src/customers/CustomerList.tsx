import { useNavigate } from 'react-router';
import { Leads } from '../parts/may';
import { Amount } from '../parts/Amount';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { ListNote } from '../parts/ListNote';
import type { components } from '../api/schema';
import { CustomerForm } from './CustomerForm';
import { useAddress } from '../parts/useAddress';

type Row = components['schemas']['CustomerRow'];

const columns: Column<Row>[] = [
  { id: 'name', title: 'Name', cell: (r) => r.name, wide: true },
  { id: 'town', title: 'Town', cell: (r) => r.town },
  { id: 'contact', title: 'Contact', cell: (r) => r.contact },
  { id: 'phone', title: 'Phone', cell: (r) => r.phone, hidden: true },
  { id: 'email', title: 'E-mail', cell: (r) => r.email, hidden: true },
  { id: 'number', title: 'Number', cell: (r) => r.number, hidden: true },
  { id: 'jobs', title: 'Jobs', cell: (r) => r.jobs, figure: true },
  {
    id: 'owes',
    title: 'Owes',
    cell: (r) => (
      <Amount
        value={r.owes}
        quietNil
        why={{ of: 'register', register: 'receivables', customer: r.id, name: `owes · ${r.name}` }}
      />
    ),
    figure: true,
  },
  { id: 'overdue', title: 'Overdue', cell: (r) => <Amount value={r.overdue} quietNil />, figure: true },
  {
    id: 'held',
    title: 'We hold',
    cell: (r) => (
      <Amount
        value={r.held}
        tone="held"
        quietNil
        why={{ of: 'register', register: 'deposits', customer: r.id, name: `held · ${r.name}` }}
      />
    ),
    figure: true,
  },
  { id: 'keptBack', title: 'Keeps back', cell: (r) => <Amount value={r.keptBack} quietNil />, figure: true, hidden: true },
  { id: 'unplaced', title: 'Credits not used', cell: (r) => <Amount value={r.unplaced} quietNil />, figure: true, hidden: true },
];

const states = [
  { value: '', name: 'In use' },
  { value: 'owing', name: 'Owing' },
  { value: 'overdue', name: 'Overdue' },
  { value: 'held', name: 'We hold' },
  { value: 'inactive', name: 'Not in use' },
];

/** Every customer, with what they owe and what we hold for them. */
export default function CustomerList() {
  const [params, set] = useAddress();
  const go = useNavigate();
  const open = () => set('new', '1');
  const close = () => set('new', '');
  return (
    <Page>
      <PageHead title="Customers">
        <Leads variant="outlined" to="/customers/suppliers">
          Suppliers
        </Leads>
        <Leads variant="outlined" to="/customers/statements">
          Statements for all
        </Leads>
        <Leads variant="outlined" to="/customers/reminders">
          Reminders
        </Leads>
        <Leads variant="outlined" to="/customers/late">
          Late charges
        </Leads>
        <Leads variant="outlined" to="/setup/import?kind=customers">
          Import
        </Leads>
        <Leads variant="contained" to="/customers?new=1">
          New customer
        </Leads>
      </PageHead>
      <ListTable<Row>
        id="customers"
        path="/api/v1/customers"
        columns={columns}
        filters={{ param: 'state', options: states }}
        search="Name, number, town, phone"
        to={(r) => `/customers/${r.id}`}
        empty={
          <Empty action="New customer" onAction={open}>
            Here will be everyone you work for, with what they owe and what you hold for them.
          </Empty>
        }
      />
      <Margin>
        <ListNote title="Customers">Choose one to see where it stands, set money against invoices and read its story.</ListNote>
      </Margin>
      {params.get('new') && <CustomerForm onClose={close} onSaved={(c) => go(`/customers/${c.id}`)} />}
    </Page>
  );
}
