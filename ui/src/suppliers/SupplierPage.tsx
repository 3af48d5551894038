import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { Leads } from '../parts/may';
import { api, data } from '../api/client';
import { Bench } from '../customers/Bench';
import { CustomerForm } from '../customers/CustomerForm';
import { Amount } from '../parts/Amount';
import { Attachments } from '../parts/Attachments';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Failure, Page, PageHead } from '../parts/Layout';
import { PositionRow } from '../parts/Position';
import { useCustomer } from '../parts/records';
import { isNil, showDay } from '../parts/show';
import { Story } from '../parts/Story';
import type { WhyOf } from '../parts/why';

/** A supplier: where we stand, what is ordered, the bench of what we owe, the story. */
export default function SupplierPage() {
  const id = Number(useParams().id);
  const supplier = useQuery({
    queryKey: ['supplier', id],
    queryFn: () => data(api.GET('/api/v1/suppliers/{id}', { params: { path: { id } } })),
  });
  const details = useCustomer(id).data;
  const [editing, setEditing] = useState(false);
  useBack(useLeave('/customers/suppliers'));
  if (supplier.isError && !supplier.data)
    return (
      <Page>
        <Failure error={supplier.error} />
      </Page>
    );
  const s = supplier.data;
  if (!s) return null;
  const p = s.position;
  const why = (register: WhyOf['register'], what: string): WhyOf => ({
    of: 'register',
    register,
    customer: id,
    name: `${what} · ${s.name}`,
  });
  const step = (name: string, kind: string) => (
    <Leads variant="outlined" to={`/papers/new/${kind}?customer=${id}`}>
      {name}
    </Leads>
  );
  const about = [s.number, s.town, s.termsName, !s.noCustomer && 'customer too', s.inactive && 'not in use']
    .filter(Boolean)
    .join(' · ');
  return (
    <Page>
      <PageHead title={s.name} under={about}>
        {step('Order', 'purchase_order')}
        {step('Bill', 'supplier_bill')}
        {step('Expense', 'expense')}
        {step('Pay', 'supplier_payment')}
        {step('Pay ahead', 'supplier_prepayment')}
        {!s.noCustomer && step('Contra', 'contra')}
        {!s.noCustomer && (
          <Leads variant="outlined" to={`/customers/${id}`}>
            As customer
          </Leads>
        )}
        <Button variant="outlined" onClick={() => setEditing(true)}>
          Details
        </Button>
      </PageHead>
      <PositionRow
        figures={[
          { name: 'We owe now', value: p.oweNow },
          { name: 'Not yet due', value: p.notYetDue },
          { name: 'We keep back', value: p.keepBack, why: why('retention payable', 'we keep back') },
          { name: 'Prepaid', value: p.prepaid, why: why('supplier prepayments', 'prepaid') },
          { name: 'Not used', value: p.unplaced },
          { name: 'Balance', value: p.net, final: true, why: why('payables', 'we owe') },
          ...(isNil(p.notBilled) ? [] : [{ name: 'Came, not billed', value: p.notBilled }]),
        ]}
      />
      {(s.orders ?? []).length > 0 && (
        <section aria-label="Ordered">
          <Typography variant="h2">Ordered</Typography>
          <Table>
            <TableBody>
              {(s.orders ?? []).map((o) => (
                <TableRow key={o.id}>
                  <TableCell>
                    <Link to={`/papers/${o.id}`}>{o.number}</Link> {o.title}
                  </TableCell>
                  <TableCell>{o.expected ? `expected ${showDay(o.expected)}${o.late ? ', late' : ''}` : ''}</TableCell>
                  <TableCell align="right">
                    <Amount value={o.net} code={o.currency} />
                  </TableCell>
                  <TableCell align="right">
                    <Leads to={`/papers/new/goods_received?order=${o.id}`}>It came</Leads>
                    <Leads to={`/papers/new/supplier_bill?order=${o.id}`}>They billed it</Leads>
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </section>
      )}
      <Bench key={`bench ${id}`} customer={id} payable />
      <Attachments key={`files ${id}`} customer={id} />
      <Story key={`story ${id}`} supplier={id} />
      {editing && details && (
        <CustomerForm customer={details} onClose={() => setEditing(false)} onSaved={() => setEditing(false)} />
      )}
    </Page>
  );
}
