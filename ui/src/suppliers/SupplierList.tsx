import Button from '@mui/material/Button';
import { useNavigate } from 'react-router';
import { Leads } from '../parts/may';
import type { components } from '../api/schema';
import { CustomerForm } from '../customers/CustomerForm';
import { Amount } from '../parts/Amount';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { useAddress } from '../parts/useAddress';

type Row = components['schemas']['SupplierRow'];

const columns: Column<Row>[] = [
  { id: 'name', title: 'Name', cell: (r) => r.name, wide: true },
  { id: 'town', title: 'Town', cell: (r) => r.town },
  { id: 'contact', title: 'Contact', cell: (r) => r.contact, hidden: true },
  { id: 'phone', title: 'Phone', cell: (r) => r.phone, hidden: true },
  { id: 'email', title: 'E-mail', cell: (r) => r.email, hidden: true },
  { id: 'number', title: 'Number', cell: (r) => r.number, hidden: true },
  {
    id: 'owe',
    title: 'We owe',
    cell: (r) => (
      <Amount value={r.owe} quietNil why={{ of: 'register', register: 'payables', customer: r.id, name: `we owe · ${r.name}` }} />
    ),
    figure: true,
  },
  { id: 'overdue', title: 'Overdue', cell: (r) => <Amount value={r.overdue} quietNil />, figure: true },
  { id: 'prepaid', title: 'Prepaid', cell: (r) => <Amount value={r.prepaid} quietNil />, figure: true },
  { id: 'keptBack', title: 'We keep back', cell: (r) => <Amount value={r.keptBack} quietNil />, figure: true },
  { id: 'unplaced', title: 'Not used', cell: (r) => <Amount value={r.unplaced} quietNil />, figure: true, hidden: true },
];

const states = [
  { value: '', name: 'In use' },
  { value: 'owing', name: 'We owe' },
  { value: 'overdue', name: 'Overdue' },
  { value: 'inactive', name: 'Not in use' },
];

/** Every supplier, with what we owe and keep back. */
export default function SupplierList() {
  const [params, set] = useAddress();
  const go = useNavigate();
  const open = () => set('new', '1');
  return (
    <Page>
      <PageHead title="Suppliers">
        <Leads variant="outlined" to="/customers">
          Customers
        </Leads>
        <Leads variant="outlined" to="/papers/new/payment_run">
          Pay what is due
        </Leads>
        <Leads variant="outlined" to="/papers/bank-file">
          File for the bank
        </Leads>
        <Leads variant="outlined" to="/papers/read">
          Read an electronic invoice
        </Leads>
        <Button variant="contained" onClick={open}>
          New supplier
        </Button>
      </PageHead>
      <ListTable<Row>
        id="suppliers"
        path="/api/v1/suppliers"
        columns={columns}
        filters={{ param: 'state', options: states }}
        search="Name, number, town, phone"
        to={(r) => `/customers/suppliers/${r.id}`}
        empty={
          <Empty action="New supplier" onAction={open}>
            Here will be everyone you buy from, with what you owe, have prepaid and keep back.
          </Empty>
        }
      />
      <Margin>
        <ListNote title="Suppliers">Choose one to see where we stand, set payments against bills and read its story.</ListNote>
      </Margin>
      {params.get('new') && (
        <CustomerForm supplier onClose={() => set('new', '')} onSaved={(c) => go(`/customers/suppliers/${c.id}`)} />
      )}
    </Page>
  );
}
