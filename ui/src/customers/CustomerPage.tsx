import Button from '@mui/material/Button';
import { useState } from 'react';
import { useParams } from 'react-router';
import { Leads, Only, useMay } from '../parts/may';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Failure, Page, PageHead } from '../parts/Layout';
import { PositionRow } from '../parts/Position';
import { useCustomer, useFirm } from '../parts/records';
import { isNil } from '../parts/show';
import { Story } from '../parts/Story';
import type { WhyOf } from '../parts/why';
import { Attachments } from '../parts/Attachments';
import { Costs } from '../jobs/Costs';
import { Bench } from './Bench';
import { ByCurrency } from './ByCurrency';
import { CustomerForm } from './CustomerForm';
import { OpenPapers } from './OpenPapers';

/** A customer: where it stands, the matching bench, the story. */
export default function CustomerPage() {
  const id = Number(useParams().id);
  const customer = useCustomer(id);
  const [editing, setEditing] = useState(false);
  const may = useMay();
  const own = useFirm().data?.currency;
  useBack(useLeave('/customers'));
  if (customer.isError && !customer.data)
    return (
      <Page>
        <Failure error={customer.error} />
      </Page>
    );
  const c = customer.data;
  if (!c) return null;
  const p = c.position;
  const jobs = c.jobs ?? [];
  const why = (register: WhyOf['register'], what: string): WhyOf => ({
    of: 'register',
    register,
    customer: id,
    name: `${what} · ${c.name}`,
  });
  const step = (name: string, kind: string) => (
    <Leads variant="outlined" to={`/papers/new/${kind}?customer=${id}`}>
      {name}
    </Leads>
  );
  if (!may.has('see customers, jobs and papers'))
    return (
      <Page>
        <PageHead title={c.name} under={[c.number, c.town].filter(Boolean).join(' · ')}>
          {step('Deposit', 'deposit')}
          {step('Receipt', 'receipt')}
        </PageHead>
        <OpenPapers customer={id} />
      </Page>
    );
  const about = [
    c.number,
    c.town,
    c.termsName,
    jobs.length === 1 ? '1 job' : `${jobs.length} jobs`,
    c.supplier && (c.noCustomer ? 'supplier' : 'supplier too'),
    c.inactive && 'not in use',
  ]
    .filter(Boolean)
    .join(' · ');
  return (
    <Page>
      <PageHead title={c.name} under={about}>
        {!c.noCustomer && step('Invoice', 'invoice')}
        {!c.noCustomer && step('Deposit', 'deposit')}
        {!c.noCustomer && step('Receipt', 'receipt')}
        {!isNil(p.unplaced) && step('Refund', 'refund')}
        {c.supplier && (
          <Leads variant="outlined" to={`/customers/suppliers/${id}`}>
            As supplier
          </Leads>
        )}
        {c.supplier && !c.noCustomer && step('Contra', 'contra')}
        <Leads variant="outlined" to={`/customers/${id}/statement`}>
          Statement
        </Leads>
        {may.has('write quotes, orders, deliveries and drafts of invoices') && (
          <Button variant="outlined" onClick={() => setEditing(true)}>
            Details
          </Button>
        )}
      </PageHead>
      <PositionRow
        figures={[
          { name: 'Owes now', value: p.owesNow, to: `/papers?customer=${id}&state=overdue` },
          { name: 'Not yet due', value: p.notYetDue, to: `/papers?customer=${id}&kind=invoice&state=open` },
          ...(isNil(p.disputed) ? [] : [{ name: 'Of that disputed', value: p.disputed }]),
          { name: 'Keeps back', value: p.keepsBack, why: why('retention', 'kept back') },
          { name: 'We hold', value: p.held, tone: 'held' as const, why: why('deposits', 'held') },
          {
            name: 'Credits not used',
            value: p.unplaced,
            why: { ...why('receivables', 'credits not used'), side: 'credits' as const },
          },
          {
            name: c.byCurrency?.length ? `Balance, all in ${own}` : 'Balance',
            value: p.net,
            final: true,
            why: why('receivables', 'owed'),
          },
          ...(isNil(p.weOwe) ? [] : [{ name: 'We owe them', value: p.weOwe, why: why('payables', 'we owe') }]),
        ]}
      />
      {!!c.byCurrency?.length && <ByCurrency rows={c.byCurrency} />}
      <Only right="see the ledger, the bank and reports">
        <Costs customer={id} />
      </Only>
      <Bench key={`bench ${id}`} customer={id} />
      <Attachments key={`files ${id}`} customer={id} />
      <Story key={`story ${id}`} customer={id} />
      {editing && <CustomerForm customer={c} onClose={() => setEditing(false)} onSaved={() => setEditing(false)} />}
    </Page>
  );
}
