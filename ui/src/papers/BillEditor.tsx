import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { BillBody } from '../api/client';
import { CustomerForm } from '../customers/CustomerForm';
import { FormGrid } from '../parts/RecordDialog';
import { RecordPicker } from '../parts/RecordPicker';
import { findSuppliers, useCustomer, useFirm, useToday } from '../parts/records';
import { show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { AccountField, AnyJobField, EntryLines } from './Lines';
import { Field } from './Field';
import { PaperEditor } from './PaperEditor';
import { TaxCodeField } from './TaxCodeField';

type Line = NonNullable<BillBody['lines']>[number];

/** They billed us: a supplier's bill. */
export function BillEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  const firm = useFirm().data;
  const fresh = (): Line => ({ text: '', account: 0, net: '', taxCode: firm?.taxCode ?? 0 });
  if (!firm) return null;
  return (
    <PaperEditor<BillBody>
      kind="supplier bill"
      path="/api/v1/supplier-bills"
      id={id}
      title="Supplier bill"
      lead="What a supplier billed us, line by line to the account that it belongs to."
      hint="Say who billed what: the entry is shown here before anything is written."
      initial={{ supplier: Number(params.get('customer') ?? 0), day: today, due: '', reference: '', lines: [fresh()] }}
      begun={(b) => !!(b.reference || (b.lines ?? []).some((l) => l.text || l.net))}
      quiet={(b) => ((b.lines ?? []).some((l) => l.net) ? [] : ['lines', 'lines[0].net', 'lines[0].text'])}
    >
      {({ body, change, effect, refused }) => (
        <>
          <FormGrid>
            <SupplierField value={body.supplier ?? 0} onPick={(supplier) => change({ supplier })} error={refused('party')} />
            <TextField
              label="Their number"
              data-field="reference"
              value={body.reference ?? ''}
              onChange={(e) => change({ reference: e.target.value })}
              slotProps={{ htmlInput: { 'data-walk': '' } }}
            />
            <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
            <Field
              on={{ body, change, refused }}
              kind="due"
              label="Due"
              name="due"
              paper={body.day}
              placeholder="on its own day"
            />
          </FormGrid>
          <EntryLines<Line>
            label="Lines of the bill"
            heads={[
              { title: 'What' },
              { title: 'Account', width: 190 },
              { title: 'Job', width: 130 },
              { title: 'Tax', width: 70 },
              { title: 'Net', figure: true, width: 110 },
            ]}
            lines={body.lines ?? []}
            fresh={fresh}
            onChange={(to) => change((now) => ({ lines: to(now.lines ?? []) }))}
          >
            {(l, n, set) => [
              <TextField
                key="text"
                variant="standard"
                fullWidth
                data-field={`lines[${n}].text`}
                value={l.text ?? ''}
                onChange={(e) => set({ text: e.target.value })}
                error={refused(`lines[${n}].text`)}
                slotProps={{ htmlInput: { 'aria-label': `What, line ${n + 1}`, 'data-walk': '' } }}
              />,
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
              <TaxCodeField
                key="tax"
                label={`Tax, line ${n + 1}`}
                field={`lines[${n}].taxCode`}
                value={l.taxCode ?? 0}
                onChange={(taxCode) => set({ taxCode })}
                error={refused(`lines[${n}].taxCode`)}
                onSheet
              />,
              <UnderstoodField
                key="net"
                kind="amount"
                label={`Net, line ${n + 1}`}
                field={`lines[${n}].net`}
                value={l.net ?? ''}
                onChange={(net) => set({ net })}
                error={refused(`lines[${n}].net`)}
                onSheet
              />,
            ]}
          </EntryLines>
          {effect?.paper && (
            <Typography align="right" sx={{ mt: 1 }}>
              Net {show(effect.paper.net)} · tax {show(effect.paper.tax)} · <b>{show(effect.paper.total)}</b> to pay
            </Typography>
          )}
        </>
      )}
    </PaperEditor>
  );
}

function SupplierField({ value, onPick, error }: { value: number; onPick: (id: number) => void; error: boolean }) {
  const known = useCustomer(value).data;
  const [creating, setCreating] = useState<string | null>(null);
  return (
    <>
      <RecordPicker
        label="Supplier"
        field="party"
        value={value && known?.id === value ? { id: value, label: known.name } : null}
        onPick={(o) => onPick(o?.id ?? 0)}
        find={findSuppliers}
        findKey={['supplier']}
        onCreate={setCreating}
        createWhat="supplier"
        error={error}
        autoFocus={!value}
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
