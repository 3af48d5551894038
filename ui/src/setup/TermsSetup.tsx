import Button from '@mui/material/Button';
import { api, type Terms, readAt } from '../api/client';
import { useTerms } from '../parts/records';
import { Choice } from '../papers/editing/fields';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

const termsKinds = [
  { value: 'on receipt', name: 'on receipt' },
  { value: 'days', name: 'a number of days' },
  { value: 'end of month', name: 'at the end of the month' },
  { value: 'end of month plus days', name: 'end of the month and days' },
  { value: 'instalments', name: 'in instalments' },
];

/** Payment terms. */
export function TermsSetup() {
  return (
    <RecordTable<Terms>
      kind="terms"
      what="terms"
      rows={useTerms().data?.rows}
      nameOf={(t) => t.name}
      blank={{ name: '', kind: 'days', days: 30, instalments: [] }}
      empty="When invoices are due."
      columns={[
        { title: 'Name', cell: (t) => t.name, text: (t) => t.name },
        { title: 'Due', cell: (t) => termsKinds.find((k) => k.value === t.kind)?.name, text: (t) => t.kind },
        { title: 'Days', cell: (t) => t.days || '', text: (t) => String(t.days ?? ''), figure: true },
        {
          title: 'Instalments',
          cell: (t) => (t.instalments ?? []).map((i) => `${i.percent} % in ${i.days} days`).join(', '),
          text: () => '',
        },
        {
          title: 'Early payment',
          cell: (t) => (t.discountPercent ? `${t.discountPercent} % within ${t.discountDays ?? 0} days` : ''),
          text: (t) => t.discountPercent ?? '',
        },
        { title: 'In use', cell: used, text: used },
      ]}
      save={(t) =>
        t.id
          ? api.PUT('/api/v1/terms/{id}', { params: { path: { id: t.id }, header: readAt(t.version) }, body: t })
          : api.POST('/api/v1/terms', { body: t })
      }
      form={(t, change, refused) => (
        <>
          <Text
            label="Name"
            field="name"
            value={t.name}
            onChange={(name) => change({ name })}
            error={refused('name')}
            autoFocus
          />
          <Choice
            label="Due"
            field="kind"
            value={t.kind}
            options={termsKinds}
            onChange={(kind) =>
              change({
                kind: kind as Terms['kind'],
                ...(kind === 'instalments' ? { discountPercent: '', discountDays: 0 } : {}),
                instalments:
                  kind === 'instalments'
                    ? [
                        { percent: '50', days: 14 },
                        { percent: '50', days: 44 },
                      ]
                    : [],
              })
            }
          />
          {(t.kind === 'days' || t.kind === 'end of month plus days') && (
            <Text
              label="Days"
              field="days"
              type="number"
              value={t.days}
              onChange={(v) => change({ days: Number(v) })}
              error={refused('days')}
            />
          )}
          {t.kind !== 'instalments' && (
            <>
              <Text
                label="Percent off for paying early"
                field="discount"
                value={t.discountPercent ?? ''}
                onChange={(discountPercent) => change({ discountPercent })}
                error={refused('discount')}
              />
              <Text
                label="Within so many days"
                field="discountDays"
                type="number"
                value={t.discountDays ?? 0}
                onChange={(v) => change({ discountDays: Number(v) })}
                error={refused('discount')}
              />
            </>
          )}
          <InUse inactive={t.inactive} onChange={(inactive) => change({ inactive })} />
          {t.kind === 'instalments' &&
            (t.instalments ?? []).map((part, n) => (
              <div key={n} className="wide" style={{ display: 'flex', gap: 10 }} data-field="instalments">
                <Text
                  label="Percent"
                  field={`instalments[${n}].percent`}
                  value={part.percent}
                  onChange={(percent) => change({ instalments: t.instalments!.map((x, i) => (i === n ? { ...x, percent } : x)) })}
                  error={refused('instalments')}
                />
                <Text
                  label="Days after the paper"
                  field={`instalments[${n}].days`}
                  type="number"
                  value={part.days}
                  onChange={(v) =>
                    change({ instalments: t.instalments!.map((x, i) => (i === n ? { ...x, days: Number(v) } : x)) })
                  }
                  error={refused('instalments')}
                />
                <Button onClick={() => change({ instalments: t.instalments!.filter((_, i) => i !== n) })}>Take away</Button>
              </div>
            ))}
          {t.kind === 'instalments' && (
            <Button
              className="wide"
              onClick={() => change({ instalments: [...(t.instalments ?? []), { percent: '', days: 30 }] })}
            >
              One more instalment
            </Button>
          )}
        </>
      )}
    />
  );
}
