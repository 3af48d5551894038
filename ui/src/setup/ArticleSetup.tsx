import { api, type Article, readAt } from '../api/client';
import { useAccounts, useArticles, useCurrencies, useGroups, useTaxCodes } from '../parts/records';
import { show } from '../parts/show';
import { Choice } from '../papers/editing/fields';
import { UnderstoodField } from '../parts/UnderstoodField';
import { taxName } from '../papers/TaxCodeField';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

/** Items: what is sold again and again. */
export function ArticleSetup() {
  const articles = useArticles().data?.rows;
  const accounts = (useAccounts().data?.rows ?? []).filter((a) => a.type === 'income' && !a.inactive);
  const codes = useTaxCodes().data?.rows ?? [];
  const groups = useGroups().data?.rows ?? [];
  const currencies = useCurrencies().data?.rows ?? [];
  return (
    <RecordTable<Article>
      kind="articles"
      what="article"
      rows={articles}
      nameOf={(i) => i.code}
      blank={{ code: '', name: '', kind: 'service', price: '', unit: '', account: 0, taxCode: 0 }}
      empty="What you sell again and again: a service or a material, with its price. It fills an invoice line by a few letters."
      columns={[
        { title: 'Code', cell: (i) => i.code, text: (i) => i.code },
        { title: 'Name', cell: (i) => i.name, text: (i) => i.name },
        { title: 'Kind', cell: (i) => i.kind, text: (i) => i.kind },
        { title: 'Unit', cell: (i) => i.unit, text: (i) => i.unit ?? '' },
        { title: 'In stock', cell: (i) => (i.stocked ? 'yes' : ''), text: (i) => (i.stocked ? 'yes' : '') },
        { title: 'Price', cell: (i) => show(i.price), text: (i) => i.price ?? '', figure: true },
        { title: 'In use', cell: used, text: used },
      ]}
      save={(i) =>
        i.id
          ? api.PUT('/api/v1/articles/{id}', { params: { path: { id: i.id }, header: readAt(i.version) }, body: i })
          : api.POST('/api/v1/articles', { body: i })
      }
      form={(i, change, refused) => (
        <>
          <Text
            label="Code"
            field="code"
            value={i.code}
            onChange={(code) => change({ code })}
            error={refused('code')}
            autoFocus
          />
          <Text label="Name" field="name" value={i.name} onChange={(name) => change({ name })} error={refused('name')} />
          <Choice
            label="Kind"
            field="kind"
            value={i.kind}
            options={[
              { value: 'service', name: 'service' },
              { value: 'material', name: 'material' },
            ]}
            onChange={(kind) => change({ kind: kind as Article['kind'] })}
          />
          <UnderstoodField
            kind="price"
            label="Price"
            field="price"
            value={i.price ?? ''}
            onChange={(price) => change({ price })}
            error={refused('price')}
          />
          <Text label="Unit" field="unit" value={i.unit} onChange={(unit) => change({ unit })} />
          <Choice
            label="Income account"
            field="account"
            value={i.account ?? 0}
            options={[
              { value: 0, name: 'that of its kind' },
              ...accounts.map((a) => ({ value: a.id!, name: `${a.number} ${a.name}` })),
            ]}
            onChange={(v) => change({ account: Number(v) })}
            error={refused('account')}
          />
          <Choice
            label="Tax code"
            field="taxCode"
            value={i.taxCode ?? 0}
            options={[{ value: 0, name: 'the firm’s own' }, ...codes.map((c) => ({ value: c.id!, name: taxName(c) }))]}
            onChange={(v) => change({ taxCode: Number(v) })}
            error={refused('taxCode')}
          />
          {i.kind === 'material' && (
            <Choice
              label="Kept in stock"
              field="stocked"
              value={i.serial ? 'numbered' : i.stocked ? 'yes' : 'no'}
              options={[
                { value: 'no', name: 'no' },
                { value: 'yes', name: 'yes, by quantity' },
                { value: 'numbered', name: 'yes, each piece bears a number' },
              ]}
              onChange={(v) => change({ stocked: v !== 'no', serial: v === 'numbered' })}
              error={refused('stocked') || refused('serial')}
            />
          )}
          {groups
            .filter((g) => !g.inactive || i.prices?.some((p) => p.group === g.id))
            .map((g) => (
              <UnderstoodField
                key={g.id}
                kind="price"
                label={`Price for ${g.name}`}
                field={`prices.${g.id}`}
                value={i.prices?.find((p) => p.group === g.id)?.price ?? ''}
                onChange={(price) =>
                  change({
                    prices: [
                      ...(i.prices ?? []).filter((p) => p.group !== g.id),
                      ...(price ? [{ group: g.id ?? 0, price }] : []),
                    ],
                  })
                }
                error={refused('prices')}
                placeholder={i.price || 'the price'}
              />
            ))}
          {currencies
            .filter((c) => !c.inactive || i.abroad?.some((p) => p.currency === c.code))
            .map((c) => (
              <UnderstoodField
                key={c.code}
                kind="price"
                label={`Price in ${c.code}`}
                field={`abroad.${c.code}`}
                value={i.abroad?.find((p) => p.currency === c.code)?.price ?? ''}
                onChange={(price) =>
                  change({
                    abroad: [
                      ...(i.abroad ?? []).filter((p) => p.currency !== c.code),
                      ...(price ? [{ currency: c.code, price }] : []),
                    ],
                  })
                }
                error={refused('abroad')}
                placeholder="asked for on the paper"
              />
            ))}
          <InUse inactive={i.inactive} onChange={(inactive) => change({ inactive })} />
        </>
      )}
    />
  );
}
