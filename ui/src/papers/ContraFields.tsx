import { useState } from 'react';
import type { ContraBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';
import { Shares } from './Shares';
import { useBench } from './useBench';

export default function ContraFields() {
  const { body, change, effect, refused } = useEditing<ContraBody>();
  const [find, setFind] = useState('');
  const bench = useBench(body.party ?? 0, { find, pinned: [...(body.owed ?? []), ...(body.owing ?? [])].map((s) => s.item) });
  const offered = (side: 'debit' | 'credit', item: number) => effect?.pairs.find((x) => x[side] === item)?.amount ?? '';
  const side = (name: 'owed' | 'owing', from: 'debit' | 'credit', title: string, nothing: string) => (
    <Shares
      title={title}
      verb="Set off"
      side={name}
      items={(name === 'owed' ? bench?.owed : bench?.owing) ?? []}
      count={bench?.counts?.[name === 'owed' ? 0 : 3]}
      onFind={setFind}
      shares={(body[name] ?? []).map((s) => ({ ...s, amount: s.amount || offered(from, s.item) }))}
      // What is taken whole is "as much as the other side allows".
      onChange={(to) =>
        change((now) => {
          const old = now[name] ?? [];
          return { [name]: to(old).map((s) => (old.some((o) => o.item === s.item) ? s : { item: s.item, amount: '' })) };
        })
      }
      refused={refused}
      nothing={nothing}
    />
  );
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={body.party ?? 0}
          job={0}
          onChange={(party) => change((now) => (party === now.party ? {} : { party, owed: [], owing: [] }))}
          refused={refused}
        >
          {(customer) => <div>{customer}</div>}
        </PartyFields>
        <Figure kind="day" label="Date" name="day" />
        <Text className="wide" label="Note" name="note" />
      </FormGrid>
      {!!body.party && side('owed', 'debit', 'They owe us', 'They owe us nothing.')}
      {!!body.party && side('owing', 'credit', 'We owe them', 'We owe them nothing. Record the supplier’s bill first.')}
    </>
  );
}
