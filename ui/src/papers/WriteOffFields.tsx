import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data, type WriteOffBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useEditing } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';
import { Shares } from './Shares';
import { useBench } from './useBench';

export default function WriteOffFields() {
  const { body, change, refused } = useEditing<WriteOffBody>();
  return (
    <>
      <FormGrid>
        {!body.small && (
          <PartyFields
            customer={body.customer ?? 0}
            job={0}
            onChange={(customer) => change((now) => ({ customer, items: customer === now.customer ? now.items : [] }))}
            refused={refused}
          >
            {(customer) => <div className="wide">{customer}</div>}
          </PartyFields>
        )}
        <Text label="Why is it given up?" name="reason" />
        <Figure kind="day" label="Date" name="day" />
        <Check className="wide" name="relief" label="The tax inside comes back (relief for bad debts)" />
      </FormGrid>
      {body.small ? <Small /> : <OfCustomer />}
    </>
  );
}

function OfCustomer() {
  const { body, change, refused } = useEditing<WriteOffBody>();
  const [find, setFind] = useState('');
  const bench = useBench(body.customer ?? 0, { find, pinned: (body.items ?? []).map((s) => s.item) });
  if (!body.customer) return null;
  return (
    <Shares
      title="Given up"
      verb="Give up"
      side="items"
      items={[...(bench?.owed ?? []), ...(bench?.keptBack ?? [])]}
      count={(bench?.counts?.[0] ?? 0) + (bench?.counts?.[2] ?? 0)}
      onFind={setFind}
      shares={body.items ?? []}
      onChange={(to) => change((now) => ({ items: to(now.items ?? []) }))}
      refused={refused}
      nothing="This customer owes nothing and keeps nothing back."
    />
  );
}

/** All balances under an amount that one chooses, shown before they are given up. */
function Small() {
  const { body, change, refused } = useEditing<WriteOffBody>();
  const [limit, setLimit] = useState('');
  const items =
    useQuery({
      queryKey: ['small', limit],
      queryFn: () => data(api.GET('/api/v1/small-balances', { params: { query: { limit: limit || undefined } } })),
    }).data?.rows ?? [];
  return (
    <>
      <FormGrid sx={{ mt: 2, alignItems: 'center' }}>
        <UnderstoodField
          kind="amount"
          label="All balances up to (empty: the firm’s limit)"
          field="limit"
          value={limit}
          onChange={setLimit}
        />
        <Button
          variant="outlined"
          disabled={items.length === 0}
          onClick={() => change({ items: items.map((i) => ({ item: i.id, amount: i.open })) })}
        >
          Take all {items.length}
        </Button>
      </FormGrid>
      <Shares
        title="Small balances"
        verb="Give up"
        side="items"
        items={items}
        shares={body.items ?? []}
        onChange={(to) => change((now) => ({ items: to(now.items ?? []) }))}
        refused={refused}
        nothing="No balance is as small as that."
        withCustomer
      />
    </>
  );
}
