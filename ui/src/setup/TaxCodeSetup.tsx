import Button from '@mui/material/Button';
import { api, type TaxCode, readAt } from '../api/client';
import { useTaxCodes, useToday } from '../parts/records';
import { showDay } from '../parts/show';
import { Choice } from '../papers/editing/fields';
import { UnderstoodField } from '../parts/UnderstoodField';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

// The categories of the norm, by what they are.
const categories = [
  { value: '', name: 'by its kind and rate' },
  { value: 'S', name: 'taxed' },
  { value: 'Z', name: 'taxed at nil' },
  { value: 'E', name: 'exempt' },
  { value: 'AE', name: 'the customer accounts for it' },
  { value: 'K', name: 'supply to another member state' },
  { value: 'G', name: 'export' },
  { value: 'O', name: 'outside tax' },
];

/** Tax codes, each with its dated rates. */
export function TaxCodeSetup() {
  const today = useToday();
  return (
    <RecordTable<TaxCode>
      kind="taxcodes"
      what="tax code"
      rows={useTaxCodes().data?.rows}
      nameOf={(c) => c.code}
      blank={{ code: '', name: '', kind: 'charged', rates: [{ since: today, percent: '' }] }}
      empty="The codes that lines are taxed by."
      columns={[
        { title: 'Code', cell: (c) => c.code, text: (c) => c.code },
        { title: 'Name', cell: (c) => c.name, text: (c) => c.name ?? '' },
        { title: 'Kind', cell: (c) => (c.kind === 'charged' ? 'charged' : 'the customer accounts for it'), text: (c) => c.kind },
        {
          title: 'Rates',
          cell: (c) => c.rates.map((r) => `${r.percent} % since ${showDay(r.since)}`).join(', '),
          text: (c) => c.rates.map((r) => r.percent).join(' '),
        },
        { title: 'In use', cell: used, text: used },
      ]}
      save={(c) =>
        c.id
          ? api.PUT('/api/v1/taxcodes/{id}', { params: { path: { id: c.id }, header: readAt(c.version) }, body: c })
          : api.POST('/api/v1/taxcodes', { body: c })
      }
      form={(c, change, refused) => (
        <>
          <Text
            label="Code"
            field="code"
            value={c.code}
            onChange={(code) => change({ code })}
            error={refused('code')}
            autoFocus
          />
          <Text label="Name" field="name" value={c.name} onChange={(name) => change({ name })} error={refused('name')} />
          <Choice
            label="Kind"
            field="kind"
            value={c.kind}
            options={[
              { value: 'charged', name: 'charged' },
              { value: 'customer accounts', name: 'the customer accounts for it' },
            ]}
            onChange={(kind) => change({ kind: kind as TaxCode['kind'] })}
          />
          <Choice
            label="In electronic invoices"
            field="category"
            value={c.category ?? ''}
            options={categories}
            onChange={(category) => change({ category: category as TaxCode['category'] })}
            error={refused('category')}
          />
          <Text
            label="Why it is not taxed (empty: as usual)"
            field="reason"
            value={c.reason}
            onChange={(reason) => change({ reason })}
            error={refused('reason')}
          />
          <InUse inactive={c.inactive} onChange={(inactive) => change({ inactive })} />
          {c.rates.map((r, n) => (
            <div key={n} className="wide" style={{ display: 'flex', gap: 10 }} data-field="rates">
              <UnderstoodField
                kind="percent"
                label="Percent"
                field={`rates[${n}].percent`}
                value={r.percent}
                onChange={(percent) => change({ rates: c.rates.map((x, i) => (i === n ? { ...x, percent } : x)) })}
                error={refused('rates')}
              />
              <UnderstoodField
                kind="day"
                label="Since"
                field={`rates[${n}].since`}
                value={r.since}
                onChange={(since) => change({ rates: c.rates.map((x, i) => (i === n ? { ...x, since } : x)) })}
                error={refused('rates')}
              />
              <Button disabled={c.rates.length === 1} onClick={() => change({ rates: c.rates.filter((_, i) => i !== n) })}>
                Take away
              </Button>
            </div>
          ))}
          <Button className="wide" onClick={() => change({ rates: [{ since: today, percent: '' }, ...c.rates] })}>
            A new rate from a day on
          </Button>
        </>
      )}
    />
  );
}
