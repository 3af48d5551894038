import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { api, data, type Job, type JobBody, readAt } from '../api/client';
import { CustomerForm } from '../customers/CustomerForm';
import { RecordDialog } from '../parts/RecordDialog';
import { RecordPicker } from '../parts/RecordPicker';
import { findCustomers, useParties } from '../parts/records';
import { isNil } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';

interface Props {
  job?: Job;
  name?: string;
  customer?: number;
  onClose: () => void;
  movesOn?: boolean;
  onSaved: (j: Job) => void;
}

/** The details of a job, new or known. */
export function JobForm({ job, name, customer, onClose, onSaved, movesOn }: Props) {
  const client = useQueryClient();
  const [who, setWho] = useState(job?.customer ?? customer ?? 0);
  const [sum, setSum] = useState(isNil(job?.contractSum) ? '' : (job?.contractSum ?? ''));
  const [creating, setCreating] = useState<string | null>(null);
  const { register, getValues } = useForm({
    defaultValues: {
      name: job?.name ?? name ?? '',
      number: job?.number ?? '',
      site: job?.site ?? '',
      note: job?.note ?? '',
      closed: String(job?.closed ?? false),
    },
  });
  const party = useParties(who, 0).customer;
  const save = async () => {
    const v = getValues();
    const body: JobBody = {
      name: v.name,
      number: v.number,
      site: v.site,
      note: v.note,
      customer: who,
      contractSum: sum,
      closed: v.closed === 'true',
    };
    const saved = job
      ? await data(api.PUT('/api/v1/jobs/{id}', { params: { path: { id: job.id }, header: readAt(job.version) }, body }))
      : await data(api.POST('/api/v1/jobs', { body }));
    await client.invalidateQueries();
    onSaved(saved);
  };
  return (
    <>
      <RecordDialog title={job ? 'Job' : 'New job'} onClose={onClose} onSave={save} movesOn={movesOn}>
        {(refused) => (
          <>
            <TextField label="Name" data-field="name" error={refused('name')} className="wide" autoFocus {...register('name')} />
            <RecordPicker
              label="Customer"
              field="customer"
              value={party}
              onPick={(o) => setWho(o?.id ?? 0)}
              find={findCustomers}
              findKey={[]}
              onCreate={setCreating}
              createWhat="customer"
              error={refused('customer')}
              disabled={job !== undefined}
            />
            <UnderstoodField
              kind="amount"
              label="Contract sum, net"
              field="contractSum"
              value={sum}
              onChange={setSum}
              error={refused('contractSum')}
            />
            <TextField label="Site" data-field="site" error={refused('site')} {...register('site')} />
            <TextField label="Number (empty: the next)" data-field="number" error={refused('number')} {...register('number')} />
            {job && (
              <TextField label="State" select defaultValue={String(job.closed ?? false)} {...register('closed')}>
                <MenuItem value="false">open</MenuItem>
                <MenuItem value="true">closed</MenuItem>
              </TextField>
            )}
            <TextField label="Note" data-field="note" multiline minRows={2} className="wide" {...register('note')} />
          </>
        )}
      </RecordDialog>
      {creating !== null && (
        <CustomerForm
          name={creating}
          onClose={() => setCreating(null)}
          onSaved={(c) => {
            setWho(c.id);
            setCreating(null);
          }}
        />
      )}
    </>
  );
}
