import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { api, data } from '../api/client';
import { useBack } from '../parts/keys';
import { Failure, Page, PageHead } from '../parts/Layout';
import { PositionRow } from '../parts/Position';
import { useCustomer } from '../parts/records';
import { Story } from '../parts/Story';
import { Bench } from './Bench';
import { CustomerForm } from './CustomerForm';

/** A customer: where it stands, the matching bench, the story. */
export default function CustomerPage() {
  const id = Number(useParams().id);
  const customer = useCustomer(id);
  const story = useQuery({
    queryKey: ['story', 'customer', id],
    queryFn: () => data(api.GET('/api/v1/customers/{id}/story', { params: { path: { id } } })),
  });
  const [editing, setEditing] = useState(false);
  const go = useNavigate();
  useBack(() => go(-1));
  if (customer.isError)
    return (
      <Page>
        <Failure error={customer.error} />
      </Page>
    );
  const c = customer.data;
  if (!c) return null;
  const p = c.position;
  const jobs = c.jobs ?? [];
  const about = [c.number, c.town, c.termsName, jobs.length === 1 ? '1 job' : `${jobs.length} jobs`, c.inactive && 'not in use']
    .filter(Boolean)
    .join(' · ');
  return (
    <Page>
      <PageHead title={c.name} under={about}>
        <Button variant="outlined" onClick={() => go(`/papers/new/invoice?customer=${id}`)}>
          Invoice
        </Button>
        <Button variant="outlined" onClick={() => go(`/papers/new/deposit?customer=${id}`)}>
          Deposit
        </Button>
        <Button variant="outlined" onClick={() => go(`/papers/new/receipt?customer=${id}`)}>
          Receipt
        </Button>
        <Button variant="outlined" onClick={() => go(`/customers/${id}/statement`)}>
          Statement
        </Button>
        <Button variant="outlined" onClick={() => setEditing(true)}>
          Details
        </Button>
      </PageHead>
      <PositionRow
        figures={[
          { name: 'Owes now', value: p.owesNow, to: `/papers?customer=${id}&state=overdue` },
          { name: 'Not yet due', value: p.notYetDue, to: `/papers?customer=${id}&kind=invoice&state=open` },
          { name: 'Keeps back', value: p.keepsBack },
          { name: 'We hold', value: p.held, tone: 'held', to: `/ledger/registers?register=deposits&customer=${id}` },
          { name: 'Credits not placed', value: p.unplaced, to: `/papers?customer=${id}&kind=receipt&state=open` },
          { name: 'Net', value: p.net, final: true, to: `/customers/${id}/statement` },
        ]}
      />
      <Bench key={id} customer={id} />
      <Story rows={story.data?.rows ?? []} loaded={story.isSuccess} />
      {editing && <CustomerForm customer={c} onClose={() => setEditing(false)} onSaved={() => setEditing(false)} />}
    </Page>
  );
}
