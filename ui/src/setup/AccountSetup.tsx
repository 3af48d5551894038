import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Account, type Notice, readAt } from '../api/client';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';
import { useAccounts, useFirm } from '../parts/records';
import { Choice } from '../papers/editing/fields';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

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
          { title: 'Role', cell: (a) => a.role, text: (a) => a.role ?? '' },
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
            <Choice
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
              <Choice
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
