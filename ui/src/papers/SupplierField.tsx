import { useState } from 'react';
import { api, data, readAt } from '../api/client';
import { useSnackbar } from '../app/messages';
import { CustomerForm } from '../customers/CustomerForm';
import { RecordPicker } from '../parts/RecordPicker';
import { findParties, findSuppliers, useCustomer } from '../parts/records';
import { useFormHere } from './editing/useForm';

/** A customer that we buy from becomes a supplier too. */
async function becomesSupplier(id: number, say: (text: string) => void) {
  try {
    const c = await data(api.GET('/api/v1/customers/{id}', { params: { path: { id } } }));
    if (c.supplier || c.noCustomer) return;
    const { id: _id, printed, termsName, position, jobs, version, ...kept } = c;
    void [_id, printed, termsName, position, jobs];
    await api.PUT('/api/v1/customers/{id}', {
      params: { path: { id }, header: readAt(version) },
      body: { ...kept, supplier: true },
    });
    say(`${c.name} is a supplier too now.`);
  } catch (e) {
    say(e instanceof Error ? e.message : 'That did not work.');
  }
}

interface Props {
  value: number;
  onPick: (id: number) => void;
  error: string;
  /** Suppliers alone: nobody becomes one here. */
  known?: boolean;
  placeholder?: string;
}

/** Whom we buy from; created on the way, or made of a customer. */
export function SupplierField({ value, onPick, error, known: only, placeholder = 'Whom do we buy from?' }: Props) {
  const known = useCustomer(value).data;
  const [creating, setCreating] = useState<string | null>(null);
  const say = useSnackbar();
  const form = useFormHere();
  return (
    <>
      <RecordPicker
        label="Supplier"
        field="party"
        chosen={value}
        value={value && known?.id === value ? { id: value, label: known.name } : null}
        onPick={(o) => {
          if (!o) return onPick(0);
          if (only) return onPick(o.id);
          form?.wait(
            'party',
            becomesSupplier(o.id, say).then(() => onPick(o.id)),
          );
        }}
        find={only ? findSuppliers : findParties}
        findKey={['supplier', only]}
        onCreate={only ? undefined : setCreating}
        createWhat="supplier"
        error={error}
        placeholder={placeholder}
      />
      {creating !== null && (
        <CustomerForm
          name={creating}
          supplier
          movesOn
          onClose={() => setCreating(null)}
          onSaved={(c) => {
            onPick(c.id);
            setCreating(null);
          }}
        />
      )}
    </>
  );
}
