import { useEffect, useRef, useState } from 'react';
import { CustomerForm } from '../customers/CustomerForm';
import { JobForm } from '../jobs/JobForm';
import { RecordPicker } from '../parts/RecordPicker';
import { findCustomers, findJobs, useJob, useParties } from '../parts/records';

interface Props {
  customer: number;
  job: number;
  onChange: (customer: number, job: number) => void;
  onSheet?: boolean;
  refused: (field: string) => boolean;
  /** How the two fields stand: each is given its picker. */
  children: (customer: React.ReactNode, job: React.ReactNode) => React.ReactNode;
  autoFocus?: boolean;
}

/** Who it is for, and for which job; both can be created on the way. */
export function PartyFields({ customer, job, onChange, onSheet, refused, children, autoFocus }: Props) {
  const known = useParties(customer, job);
  const ofJob = useJob(customer ? 0 : job).data;
  const [creating, setCreating] = useState<{ what: 'customer' | 'job'; name: string } | null>(null);
  // Where the cursor goes once the form is closed and lets go of it.
  const next = useRef('');
  const nobody = useRef(!customer && !job);
  useEffect(() => {
    if (creating || !next.current) return;
    document.querySelector<HTMLElement>(`[data-field="${next.current}"] input`)?.focus();
    next.current = '';
  }, [creating]);
  if (!customer && job && ofJob?.id === job) queueMicrotask(() => onChange(ofJob.customer, job));
  return (
    <>
      {children(
        <RecordPicker
          label="Customer"
          field="party"
          value={known.customer}
          onPick={(o) => onChange(o?.id ?? 0, o?.id === customer ? job : 0)}
          find={findCustomers}
          findKey={[]}
          onCreate={(name) => setCreating({ what: 'customer', name })}
          createWhat="customer"
          onSheet={onSheet}
          error={refused('party')}
          autoFocus={autoFocus && nobody.current}
          placeholder="Who is it for?"
        />,
        <RecordPicker
          label="Job"
          field="job"
          value={known.job}
          onPick={(o) => onChange(customer, o?.id ?? 0)}
          find={(text) => findJobs(text, customer)}
          findKey={[customer]}
          onCreate={(name) => setCreating({ what: 'job', name })}
          createWhat="job"
          onSheet={onSheet}
          error={refused('job')}
          placeholder="no job"
        />,
      )}
      {creating?.what === 'customer' && (
        <CustomerForm
          name={creating.name}
          movesOn
          onClose={() => setCreating(null)}
          onSaved={(c) => {
            onChange(c.id, 0);
            next.current = 'job';
            setCreating(null);
          }}
        />
      )}
      {creating?.what === 'job' && (
        <JobForm
          name={creating.name}
          movesOn
          customer={customer}
          onClose={() => setCreating(null)}
          onSaved={(j) => {
            onChange(j.customer, j.id);
            next.current = 'amount';
            setCreating(null);
          }}
        />
      )}
    </>
  );
}
