import { useState } from 'react';
import Typography from '@mui/material/Typography';
import { api, type BankAccount, readAt } from '../api/client';
import { useQuery } from '@tanstack/react-query';
import { bankQuery } from '../bank/BankPlace';
import { useAccounts, useBanks } from '../parts/records';
import { useCurrencyOptions } from '../parts/currencies';
import { Choice } from '../papers/editing/fields';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

type WithFeed = BankAccount & { feed?: string };

/** Saves an account, and then how its statements come. */
async function saved(b: WithFeed, was: string) {
  const { feed, ...account } = b;
  const answer = b.id
    ? await api.PUT('/api/v1/banks/{id}', { params: { path: { id: b.id }, header: readAt(b.version) }, body: account })
    : await api.POST('/api/v1/banks', { body: account });
  if (b.id && (feed ?? '') !== was)
    await api.PUT('/api/v1/banks/{id}/feed', {
      params: { path: { id: b.id } },
      body: { way: feed === 'stand-in' ? 'stand-in' : '' },
    });
  return answer;
}

/** Bank accounts, each with its ledger account. */
export function BankSetup() {
  const accounts = useAccounts().data?.rows ?? [];
  const name = (id: number | undefined) => {
    const a = accounts.find((x) => x.id === id);
    return a ? `${a.number} ${a.name}` : '';
  };
  const currencies = useCurrencyOptions();
  const own = currencies[0]?.value ?? '';
  const currencyOf = (b: BankAccount) => b.currency || own;
  const at = useQuery(bankQuery()).data?.rows;
  const feedOf = (id: number | undefined) => at?.find((b) => b.id === id)?.feed ?? '';
  const standIn = at?.[0]?.standIn;
  return (
    <>
      <RecordTable<WithFeed>
        kind="banks"
        what="bank account"
        rows={useBanks().data?.rows.map((b) => ({ ...b, feed: feedOf(b.id) }))}
        nameOf={(b) => b.name}
        blank={{ name: '', iban: '', account: 0 }}
        empty="Where money is."
        columns={[
          { title: 'Name', cell: (b) => b.name, text: (b) => b.name },
          { title: 'IBAN', cell: (b) => b.iban, text: (b) => b.iban ?? '' },
          { title: 'Ledger account', cell: (b) => name(b.account), text: (b) => name(b.account) },
          ...(currencies.length > 1 ? [{ title: 'Currency', cell: currencyOf, text: currencyOf }] : []),
          { title: 'What it is', cell: whatItIs, text: whatItIs },
          { title: 'In use', cell: used, text: used },
        ]}
        save={(b) => saved(b, feedOf(b.id))}
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
            {(currencies.length > 1 || b.currency) && (
              <Choice
                label="Currency"
                field="currency"
                value={b.currency || own}
                options={currencies}
                onChange={(v) => change({ currency: v === own ? '' : v })}
                error={refused('currency')}
              />
            )}
            <Choice
              label="What it is"
              field="takings"
              value={b.cash ? 'cash' : b.takings ? 'takings' : ''}
              options={[
                { value: '', name: 'an account at a bank' },
                { value: 'cash', name: 'a till: it never holds less than nothing' },
                { value: 'takings', name: 'card takings, until they are paid out' },
              ]}
              onChange={(v) => change({ cash: v === 'cash', takings: v === 'takings' })}
              error={refused('takings')}
            />
            {!b.cash && !b.takings && (
              <>
                {!!b.id && (
                  <Choice
                    label="Statements"
                    field="feed"
                    value={b.feed ?? ''}
                    options={[
                      { value: '', name: 'are read from files, or typed' },
                      { value: 'stand-in', name: 'are fetched from the stand-in for a bank' },
                    ]}
                    onChange={(feed) => change({ feed })}
                    error={refused('feed')}
                  />
                )}
                <Choice
                  label="Cheques are printed"
                  field="chequeForm"
                  value={b.chequeForm ? 'form' : ''}
                  options={[
                    { value: '', name: 'on plain paper' },
                    { value: 'form', name: 'on a form of the bank’s' },
                  ]}
                  onChange={(v) => change({ chequeForm: v === 'form' })}
                />
                {b.chequeForm && (
                  <>
                    <Millimetres
                      label="Further right by (mm)"
                      field="chequeRight"
                      value={b.chequeRight ?? 0}
                      onChange={(chequeRight) => change({ chequeRight })}
                      error={refused('chequeRight')}
                    />
                    <Millimetres
                      label="Further down by (mm)"
                      field="chequeDown"
                      value={b.chequeDown ?? 0}
                      onChange={(chequeDown) => change({ chequeDown })}
                      error={refused('chequeDown')}
                    />
                  </>
                )}
              </>
            )}
            <InUse inactive={b.inactive} onChange={(inactive) => change({ inactive })} />
          </>
        )}
      />
      <Typography variant="body2" color="textSecondary">
        A bank account is where money comes in: an account at a bank, the till, card takings on the way.
        {standIn && (
          <>
            {' '}
            The stand-in for a bank is looked at{' '}
            <a href={standIn} target="_blank" rel="noreferrer">
              here
            </a>
            .
          </>
        )}
      </Typography>
    </>
  );
}

const whatItIs = (b: { cash?: boolean; takings?: boolean }) => (b.cash ? 'till' : b.takings ? 'card takings' : 'bank');

interface MillimetresProps {
  label: string;
  field: string;
  value: number;
  onChange: (v: number) => void;
  error?: string;
}

/** Whole millimetres, below nil the other way; a minus that stands alone yet is no figure. */
function Millimetres({ value, onChange, ...rest }: MillimetresProps) {
  const [text, setText] = useState(value ? String(value) : '');
  return (
    <Text
      {...rest}
      value={text}
      onChange={(v) => {
        setText(v);
        const n = Number(v.replace('−', '-'));
        if (Number.isInteger(n)) onChange(n);
      }}
    />
  );
}
