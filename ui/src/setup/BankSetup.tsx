import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Typography from '@mui/material/Typography';
import { api, type BankAccount, readAt } from '../api/client';
import { useAccounts, useBanks } from '../parts/records';
import { Choice } from '../papers/editing/fields';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

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
          { title: 'Till', cell: (b) => b.cash && 'yes', text: (b) => (b.cash ? 'yes' : '') },
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
            <Choice
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
            <FormControlLabel
              control={<Checkbox size="small" checked={!!b.cash} onChange={(e) => change({ cash: e.target.checked })} />}
              label="It is a till: it never holds less than nothing"
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
