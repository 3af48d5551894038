import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data, type Job, type JobBody, readAt } from '../api/client';
import { CustomerForm } from '../customers/CustomerForm';
import { useEditing } from '../papers/editing/Editing';
import { Chosen, Figure, Text } from '../papers/editing/fields';
import { PlanFields } from './PlanFields';
import { RetentionFields } from './RetentionFields';
import { RecordDialog } from '../parts/RecordDialog';
import { RecordPicker } from '../parts/RecordPicker';
import { findCustomers, useParties } from '../parts/records';
import { isNil } from '../parts/show';

interface Props {
  job?: Job;
  name?: string;
  customer?: number;
  onClose: () => void;
  movesOn?: boolean;
  onSaved: (j: Job) => void;
}

type Body = Omit<JobBody, 'closed'> & { state: 'open' | 'closed' };

/** The details of a job, new or known. */
export function JobForm({ job, name, customer, onClose, onSaved, movesOn }: Props) {
  const client = useQueryClient();
  const save = async ({ state, ...rest }: Body) => {
    const body: JobBody = { ...rest, closed: state === 'closed' };
    const saved = job
      ? await data(api.PUT('/api/v1/jobs/{id}', { params: { path: { id: job.id }, header: readAt(job.version) }, body }))
      : await data(api.POST('/api/v1/jobs', { body }));
    await client.invalidateQueries();
    onSaved(saved);
  };
  const initial: Body = {
    name: job?.name ?? name ?? '',
    number: job?.number ?? '',
    site: job?.site ?? '',
    note: job?.note ?? '',
    markup: job?.markup ?? '',
    budget: job?.budget ?? '',
    customer: job?.customer ?? customer ?? 0,
    contractSum: isNil(job?.contractSum) ? '' : (job?.contractSum ?? ''),
    state: job?.closed ? 'closed' : 'open',
    retention: job?.retention ?? '',
    retentionGross: job?.retentionGross ?? false,
    retentionCap: job?.retentionCap ?? '',
    retentionCapPercent: job?.retentionCapPercent ?? '',
    retentionTaxLater: job?.retentionTaxLater ?? false,
    releases: job?.releases ?? [],
    stages: job?.stages ?? [],
  };
  return (
    <RecordDialog<Body> title={job ? 'Job' : 'New job'} initial={initial} onClose={onClose} onSave={save} movesOn={movesOn}>
      <Text label="Name" name="name" className="wide" autoFocus />
      <CustomerField fixed={job !== undefined} />
      <Figure kind="amount" label="Contract sum, net" name="contractSum" />
      <Text label="Site" name="site" />
      <Figure kind="amount" label="Budget: what it should cost" name="budget" placeholder="none" />
      <Figure kind="percent" label="Markup on costs passed on, %" name="markup" placeholder="the firm’s" />
      <Text label="Number (empty: the next)" name="number" />
      {job && (
        <Chosen
          label="State"
          name="state"
          options={[
            { value: 'open', name: 'open' },
            { value: 'closed', name: 'closed' },
          ]}
        />
      )}
      <RetentionFields />
      <PlanFields />
      <Text label="Note" name="note" multiline minRows={2} className="wide" />
    </RecordDialog>
  );
}

function CustomerField({ fixed }: { fixed: boolean }) {
  const { body, change, refused } = useEditing<Body>();
  const [creating, setCreating] = useState<string | null>(null);
  const who = body.customer ?? 0;
  return (
    <>
      <RecordPicker
        label="Customer"
        field="customer"
        chosen={who}
        value={useParties(who, 0).customer}
        onPick={(o) => change({ customer: o?.id ?? 0 })}
        find={findCustomers}
        findKey={['customer']}
        onCreate={setCreating}
        createWhat="customer"
        error={refused('customer')}
        disabled={fixed}
      />
      {creating !== null && (
        <CustomerForm
          name={creating}
          onClose={() => setCreating(null)}
          onSaved={(c) => {
            change({ customer: c.id });
            setCreating(null);
          }}
        />
      )}
    </>
  );
}
