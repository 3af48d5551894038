import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Account, type BankAccount, type Article, type Notice, type TaxCode, type Terms, readAt } from '../api/client';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';
import { useAccounts, useBanks, useFirm, useArticles, useTaxCodes, useTerms, useToday } from '../parts/records';
import { show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { RecordTable } from './RecordTable';

interface PickProps {
  label: string;
  field: string;
  value: string | number;
  options: { value: string | number; name: string }[];
  onChange: (v: string) => void;
  error?: boolean;
}

function Pick({ label, field, value, options, onChange, error }: PickProps) {
  return (
    <TextField select label={label} data-field={field} value={value} onChange={(e) => onChange(e.target.value)} error={error}>
      {options.map((o) => (
        <MenuItem key={o.value} value={o.value}>
          {o.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

const InUse = ({ inactive, onChange, error }: { inactive?: boolean; onChange: (inactive: boolean) => void; error?: boolean }) => (
  <Pick
    label="In use"
    field="inactive"
    value={inactive ? 'no' : 'yes'}
    options={[
      { value: 'yes', name: 'yes' },
      { value: 'no', name: 'no' },
    ]}
    onChange={(v) => onChange(v === 'no')}
    error={error}
  />
);

interface TextProps {
  label: string;
  field: string;
  value: string | number | undefined;
  onChange: (v: string) => void;
  error?: boolean;
  autoFocus?: boolean;
  type?: string;
}

const Text = ({ label, field, value, onChange, error, autoFocus, type }: TextProps) => (
  <TextField
    label={label}
    data-field={field}
    type={type}
    value={value ?? ''}
    onChange={(e) => onChange(e.target.value)}
    error={error}
    autoFocus={autoFocus}
  />
);

const used = (r: { inactive?: boolean }) => (r.inactive ? 'no' : 'yes');

/** Items: what is sold again and again. */
export function ArticleSetup() {
  const articles = useArticles().data?.rows;
  const accounts = (useAccounts().data?.rows ?? []).filter((a) => a.type === 'income' && !a.inactive);
  const codes = useTaxCodes().data?.rows ?? [];
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
          <Pick
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
          <Pick
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
          <Pick
            label="Tax code"
            field="taxCode"
            value={i.taxCode ?? 0}
            options={[
              { value: 0, name: 'the firm’s own' },
              ...codes.map((c) => ({ value: c.id!, name: `${c.code} ${c.name ?? ''}` })),
            ]}
            onChange={(v) => change({ taxCode: Number(v) })}
            error={refused('taxCode')}
          />
          <InUse inactive={i.inactive} onChange={(inactive) => change({ inactive })} />
        </>
      )}
    />
  );
}

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
          <Pick
            label="Kind"
            field="kind"
            value={c.kind}
            options={[
              { value: 'charged', name: 'charged' },
              { value: 'customer accounts', name: 'the customer accounts for it' },
            ]}
            onChange={(kind) => change({ kind: kind as TaxCode['kind'] })}
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
          <Pick
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

const types: Account['type'][] = ['asset', 'contra asset', 'liability', 'equity', 'income', 'contra income', 'expense'];

/** Ledger accounts, and what the rules call them. */
export function AccountSetup() {
  const accounts = useAccounts().data?.rows;
  const firm = useFirm().data;
  const client = useQueryClient();
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const setRole = async (role: string, account: number) => {
    try {
      await api.PUT('/api/v1/roles/{role}', { params: { path: { role } }, body: { account } });
      setRefusals([]);
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  return (
    <>
      <RecordTable<Account>
        kind="accounts"
        what="account"
        rows={accounts}
        nameOf={(a) => `${a.number} ${a.name}`}
        blank={{ number: '', name: '', type: 'income' }}
        empty=""
        columns={[
          { title: 'Number', cell: (a) => a.number, text: (a) => a.number },
          { title: 'Name', cell: (a) => a.name, text: (a) => a.name },
          { title: 'Type', cell: (a) => a.type, text: (a) => a.type },
          { title: 'What the rules call it', cell: (a) => a.role, text: (a) => a.role ?? '' },
          { title: 'In use', cell: used, text: used },
        ]}
        save={(a) => {
          const body: Account = { number: a.number, name: a.name, type: a.type, inactive: a.inactive };
          return a.id
            ? api.PUT('/api/v1/accounts/{id}', { params: { path: { id: a.id }, header: readAt(a.version) }, body })
            : api.POST('/api/v1/accounts', { body });
        }}
        form={(a, change, refused) => (
          <>
            <Text
              label="Number"
              field="number"
              value={a.number}
              onChange={(number) => change({ number })}
              error={refused('number')}
              autoFocus
            />
            <Text label="Name" field="name" value={a.name} onChange={(name) => change({ name })} error={refused('name')} />
            <Pick
              label="Type"
              field="type"
              value={a.type}
              options={types.map((t) => ({ value: t, name: t }))}
              onChange={(type) => change({ type: type as Account['type'] })}
              error={refused('type')}
            />
            <InUse inactive={a.inactive} onChange={(inactive) => change({ inactive })} error={refused('inactive')} />
          </>
        )}
      />
      <Margin>
        <ListNote title="Roles">
          The rules name accounts by roles. A role can point at another account of the same type; a control account’s role stays
          once anything is posted to it.
        </ListNote>
        <Notices refusals={refusals} />
        <div style={{ display: 'grid', gap: 12, marginTop: 14 }}>
          {Object.entries(firm?.roles ?? {}).map(([role, id]) => {
            const own = accounts?.find((a) => a.id === id);
            return (
              <Pick
                key={role}
                label={role}
                field={`role.${role}`}
                value={id}
                options={(accounts ?? [])
                  .filter((a) => a.id === id || (a.type === own?.type && !a.inactive && !a.role))
                  .map((a) => ({ value: a.id!, name: `${a.number} ${a.name}` }))}
                onChange={(v) => void setRole(role, Number(v))}
              />
            );
          })}
        </div>
      </Margin>
    </>
  );
}

/** Bank accounts, each with its ledger account. */
export function BankSetup() {
  const accounts = useAccounts().data?.rows ?? [];
  const name = (id: number | undefined) => {
    const a = accounts.find((x) => x.id === id);
    return a ? `${a.number} ${a.name}` : '';
  };
  return (
    <>
      <RecordTable<BankAccount>
        kind="banks"
        what="bank account"
        rows={useBanks().data?.rows}
        nameOf={(b) => b.name}
        blank={{ name: '', iban: '', account: 0 }}
        empty="Where money is."
        columns={[
          { title: 'Name', cell: (b) => b.name, text: (b) => b.name },
          { title: 'IBAN', cell: (b) => b.iban, text: (b) => b.iban ?? '' },
          { title: 'Ledger account', cell: (b) => name(b.account), text: (b) => name(b.account) },
          { title: 'In use', cell: used, text: used },
        ]}
        save={(b) =>
          b.id
            ? api.PUT('/api/v1/banks/{id}', { params: { path: { id: b.id }, header: readAt(b.version) }, body: b })
            : api.POST('/api/v1/banks', { body: b })
        }
        form={(b, change, refused) => (
          <>
            <Text
              label="Name"
              field="name"
              value={b.name}
              onChange={(v) => change({ name: v })}
              error={refused('name')}
              autoFocus
            />
            <Text label="IBAN" field="iban" value={b.iban} onChange={(iban) => change({ iban })} error={refused('iban')} />
            <Pick
              label="Ledger account"
              field="account"
              value={b.account ?? 0}
              options={[
                { value: 0, name: 'a new one' },
                ...accounts
                  .filter((a) => a.type === 'asset' && !a.role && !a.inactive)
                  .map((a) => ({ value: a.id!, name: `${a.number} ${a.name}` })),
              ]}
              onChange={(v) => change({ account: Number(v) })}
              error={refused('account')}
            />
            <InUse inactive={b.inactive} onChange={(inactive) => change({ inactive })} />
          </>
        )}
      />
      <Typography variant="body2" color="textSecondary">
        A bank account is where money comes in: an account at a bank, the till, card takings on the way.
      </Typography>
    </>
  );
}
