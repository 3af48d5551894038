import { useEffect, useRef, useState, type ReactNode } from 'react';
import { CustomerForm } from '../customers/CustomerForm';
import { JobForm } from '../jobs/JobForm';
import { RecordPicker } from '../parts/RecordPicker';
import { findCustomers, findJobs, useParties } from '../parts/records';
import type { Refused } from './editing/useForm';

interface Props {
  customer: number;
  job: number;
  onChange: (customer: number, job: number) => void;
  onSheet?: boolean;
  refused: Refused;
  /** Of the fields, where the paper has several parties: 'receipts[1].'. */
  prefix?: string;
  /** How the two fields stand: each is given its picker; left out, one after the other. */
  children?: (customer: ReactNode, job: ReactNode) => ReactNode;
}

const oneAfterTheOther = (customer: ReactNode, job: ReactNode) => (
  <>
    <div>{customer}</div>
    <div>{job}</div>
  </>
);

/** Who it is for, and for which job; both can be created on the way. */
export function PartyFields({ customer, job, onChange, onSheet, refused, prefix = '', children = oneAfterTheOther }: Props) {
  const known = useParties(customer, job);
  const [creating, setCreating] = useState<{ what: 'customer' | 'job'; name: string } | null>(null);
  // Where the cursor goes once the form is closed and lets go of it.
  const next = useRef('');
  useEffect(() => {
    if (creating || !next.current) return;
    const field = document.querySelector<HTMLElement>(`[data-field="${CSS.escape(next.current)}"] input`);
    next.current = '';
    field?.focus();
  }, [creating]);
  const close = (field: string) => {
    next.current = prefix + field;
    setCreating(null);
  };
  return (
    <>
      {children(
        <RecordPicker
          label="Customer"
          field={`${prefix}party`}
          chosen={customer}
          value={known.customer}
          onPick={(o) => onChange(o?.id ?? 0, o?.id === customer ? job : 0)}
          find={findCustomers}
          findKey={['customer']}
          onCreate={(name) => setCreating({ what: 'customer', name })}
          createWhat="customer"
          onSheet={onSheet}
          error={refused(`${prefix}party`)}
          placeholder="Who is it for?"
        />,
        <RecordPicker
          label="Job"
          field={`${prefix}job`}
          chosen={job}
          value={known.job}
          onPick={(o) => onChange(customer, o?.id ?? 0)}
          find={(text) => findJobs(text, customer)}
          findKey={['job', customer]}
          onCreate={(name) => setCreating({ what: 'job', name })}
          createWhat="job"
          onSheet={onSheet}
          error={refused(`${prefix}job`)}
          placeholder="no job"
        />,
      )}
      {creating?.what === 'customer' && (
        <CustomerForm
          name={creating.name}
          movesOn
          onClose={() => close('party')}
          onSaved={(c) => {
            onChange(c.id, 0);
            close('job');
          }}
        />
      )}
      {creating?.what === 'job' && (
        <JobForm
          name={creating.name}
          movesOn
          customer={customer}
          onClose={() => close('job')}
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
