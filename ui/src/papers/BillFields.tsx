import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, data, readAt, type BillBody, type CustomerBody } from '../api/client';
import { useSnackbar } from '../app/messages';
import { CustomerForm } from '../customers/CustomerForm';
import { FormGrid } from '../parts/RecordDialog';
import { RecordPicker } from '../parts/RecordPicker';
import { findParties, useCustomer, useFirm } from '../parts/records';
import { show } from '../parts/show';
import { useEditing } from './editing/Editing';
import { useFormHere } from './editing/useForm';
import { Figure, Text } from './editing/fields';
import { AccountField, AnyJobField, EntryLines } from './Lines';
import { TaxCodeField } from './TaxCodeField';

type Line = NonNullable<BillBody['lines']>[number];

export default function BillFields() {
  const { body, change, effect, refused } = useEditing<BillBody>();
  const taxCode = useFirm().data?.taxCode ?? 0;
  const fresh = (): Line => ({ text: '', account: 0, net: '', taxCode });
  return (
    <>
      <FormGrid>
        <SupplierField value={body.supplier ?? 0} onPick={(supplier) => change({ supplier })} error={refused('party')} />
        <Text label="Their number" name="reference" />
        <Figure kind="day" label="Invoice date" name="day" />
        <Figure kind="due" label="Due date" name="due" paper={body.day} placeholder="on its own date" />
      </FormGrid>
      <EntryLines<Line>
        label="Lines of the bill"
        heads={[
          { title: 'What' },
          { title: 'Account', width: 176 },
          { title: 'Job', width: 120 },
          { title: 'Tax', width: 112 },
          { title: 'Net', figure: true, width: 110 },
        ]}
        lines={body.lines ?? []}
        fresh={fresh}
        pasted={{
          kinds: ['text', 'account', 'amount'],
          line: ([text, account, net]) => ({ ...fresh(), text, account: Number(account || 0), net }),
        }}
        onChange={(to) => change((now) => ({ lines: to(now.lines ?? []) }))}
      >
        {(l, n, set) => [
          <Text key="text" variant="standard" fullWidth name={`lines[${n}].text`} label={`What, line ${n + 1}`} />,
          <AccountField
            key="account"
            label={`Account, line ${n + 1}`}
            field={`lines[${n}].account`}
            value={l.account ?? 0}
            onPick={(account) => set({ account })}
            error={refused(`lines[${n}].account`)}
            types={['expense', 'asset']}
          />,
          <AnyJobField
            key="job"
            label={`Job, line ${n + 1}`}
            field={`lines[${n}].job`}
            value={l.job ?? 0}
            onPick={(job) => set({ job })}
          />,
          <TaxCodeField key="tax" label={`Tax, line ${n + 1}`} name={`lines[${n}].taxCode`} value={l.taxCode ?? 0} onSheet />,
          <Figure key="net" kind="amount" label={`Net, line ${n + 1}`} name={`lines[${n}].net`} onSheet />,
        ]}
      </EntryLines>
      {effect?.paper && (
        <Typography align="right" sx={{ mt: 1 }}>
          Net {show(effect.paper.net)} · tax {show(effect.paper.tax)} · <b>{show(effect.paper.total)}</b> to pay
        </Typography>
      )}
    </>
  );
}

/** A customer that we buy from becomes a supplier too. */
async function becomesSupplier(id: number, say: (text: string) => void) {
  try {
    const c = await data(api.GET('/api/v1/customers/{id}', { params: { path: { id } } }));
    if (c.supplier) return;
    const body: CustomerBody = {
      name: c.name,
      number: c.number,
      contact: c.contact,
      email: c.email,
      phone: c.phone,
      address: c.address,
      town: c.town,
      siteAddress: c.siteAddress,
      taxNumber: c.taxNumber,
      note: c.note,
      terms: c.terms,
      inactive: c.inactive,
      noCustomer: c.noCustomer,
      supplier: true,
    };
    await api.PUT('/api/v1/customers/{id}', { params: { path: { id }, header: readAt(c.version) }, body });
    say(`${c.name} is a supplier too now.`);
  } catch (e) {
    say(e instanceof Error ? e.message : 'That did not work.');
  }
}

function SupplierField({ value, onPick, error }: { value: number; onPick: (id: number) => void; error: string }) {
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
          form?.wait(
            'party',
            becomesSupplier(o.id, say).then(() => onPick(o.id)),
          );
        }}
        find={findParties}
        findKey={['supplier']}
        onCreate={setCreating}
        createWhat="supplier"
        error={error}
        placeholder="Who billed us?"
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
