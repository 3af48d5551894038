import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data, readAt } from '../api/client';
import type { components } from '../api/schema';
import { Choice } from '../papers/editing/fields';
import { PartyField } from '../papers/PartyField';
import { Amount } from '../parts/Amount';
import { useAccounts, useBanks, useToday } from '../parts/records';
import { kindName, showDay } from '../parts/show';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

type Rule = components['schemas']['BankRule'];

const kinds: { value: Rule['becomes']; name: string }[] = [
  { value: 'journal', name: 'a charge, interest, or an entry' },
  { value: 'own transfer', name: 'a transfer between own accounts' },
  { value: 'supplier payment', name: 'a payment to a supplier' },
  { value: 'expense', name: 'an expense' },
  { value: 'receipt', name: 'a receipt of a customer' },
];

const ways = [
  { value: 'went', name: 'that went' },
  { value: 'came', name: 'that came' },
  { value: 'both', name: 'either way' },
];

/** Rules of the firm's own: what lines of its banks become. They fill in; a person takes. */
export function BankRules() {
  const rows = useQuery({ queryKey: ['bank-rules'], queryFn: () => data(api.GET('/api/v1/bank-rules')) }).data?.rows;
  const accounts = useAccounts().data?.rows ?? [];
  const banks = useBanks().data?.rows ?? [];
  const words = (r: Rule) => [r.text, r.other && `other side: ${r.other}`].filter(Boolean).join(', ');
  const becomes = (r: Rule) => kinds.find((k) => k.value === r.becomes)?.name ?? kindName(r.becomes);
  return (
    <>
      <RecordTable<Rule>
        kind="bank-rules"
        what="rule"
        rows={rows}
        nameOf={(r) => r.name}
        blank={{ name: '', becomes: 'journal', went: true }}
        empty="What lines of the bank become that say the same again and again: a fee, interest, a rent."
        alone
        columns={[
          { title: 'Name', cell: (r) => r.name, text: (r) => r.name },
          { title: 'The line says', cell: words, text: words },
          { title: 'It becomes', cell: becomes, text: becomes },
          { title: 'Taken', cell: (r) => r.used || '', text: (r) => String(r.used ?? ''), figure: true },
          { title: 'In use', cell: used, text: used },
        ]}
        save={(r) =>
          r.id
            ? api.PUT('/api/v1/bank-rules/{id}', { params: { path: { id: r.id }, header: readAt(r.version) }, body: r })
            : api.POST('/api/v1/bank-rules', { body: r })
        }
        form={(r, change, refused) => (
          <>
            <Text
              label="Name"
              field="name"
              value={r.name}
              onChange={(name) => change({ name })}
              error={refused('name')}
              autoFocus
            />
            <Choice
              label="Of money"
              field="came"
              value={r.came && r.went ? 'both' : r.came ? 'came' : 'went'}
              options={ways}
              onChange={(v) => change({ came: v !== 'went', went: v !== 'came' })}
              error={refused('came')}
            />
            <Text
              label="The text holds"
              field="text"
              value={r.text}
              onChange={(text) => change({ text })}
              error={refused('text')}
            />
            <Text
              label="The other side’s name holds"
              field="other"
              value={r.other}
              onChange={(other) => change({ other })}
              error={refused('other')}
            />
            <Choice
              label="On"
              field="bank"
              value={r.bank ?? 0}
              options={[
                { value: 0, name: 'any account' },
                ...banks.filter((b) => !b.cash && !b.takings).map((b) => ({ value: b.id ?? 0, name: b.name })),
              ]}
              onChange={(v) => change({ bank: Number(v) })}
              error={refused('bank')}
            />
            <Choice
              label="It becomes"
              field="becomes"
              value={r.becomes}
              options={kinds}
              onChange={(v) => change({ becomes: v as Rule['becomes'] })}
              error={refused('becomes')}
            />
            {r.becomes === 'journal' && (
              <Choice
                label="Account"
                field="account"
                value={r.account ?? 0}
                options={[
                  { value: 0, name: '–' },
                  ...accounts.filter((a) => !a.inactive).map((a) => ({ value: a.id!, name: `${a.number} ${a.name}` })),
                ]}
                onChange={(v) => change({ account: Number(v) })}
                error={refused('account')}
              />
            )}
            {r.becomes === 'own transfer' && (
              <Choice
                label="Other account"
                field="toBank"
                value={r.toBank ?? 0}
                options={[
                  { value: 0, name: '–' },
                  ...banks.filter((b) => !b.takings && !b.inactive).map((b) => ({ value: b.id ?? 0, name: b.name })),
                ]}
                onChange={(v) => change({ toBank: Number(v) })}
                error={refused('toBank')}
              />
            )}
            {['supplier payment', 'expense', 'receipt'].includes(r.becomes) && (
              <PartyField
                label="Who"
                field="party"
                value={r.party ?? 0}
                onPick={(party) => change({ party })}
                error={refused('party')}
              />
            )}
            <InUse inactive={r.inactive} onChange={(inactive) => change({ inactive })} />
            {!!r.id && !!r.used && <Did rule={r.id} />}
          </>
        )}
      />
      <Typography variant="body2" color="textSecondary">
        A rule fills in what a line of the bank becomes. Nothing is posted by itself.
      </Typography>
    </>
  );
}

/** What a rule did: the lines that somebody took by it. */
function Did({ rule }: { rule: number }) {
  const today = useToday();
  const rows = useQuery({
    queryKey: ['bank-rules', rule, 'uses'],
    queryFn: () => data(api.GET('/api/v1/bank-rules/{id}/uses', { params: { path: { id: rule } } })),
  }).data?.rows;
  return (
    <div className="wide" role="region" aria-label="What it did" tabIndex={0} style={{ maxHeight: 180, overflowY: 'auto' }}>
      {rows?.map((u) => (
        <div key={u.at + u.number} style={{ display: 'flex', gap: 12 }}>
          <span style={{ whiteSpace: 'nowrap' }}>{showDay(u.day, today)}</span>
          <Link to={`/papers/${u.paperId}`}>{u.number}</Link>
          <span style={{ flex: 1 }}>{u.text}</span>
          <Amount value={u.amount} />
        </div>
      ))}
    </div>
  );
}
