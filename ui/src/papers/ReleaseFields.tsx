import { useState } from 'react';
import Button from '@mui/material/Button';
import type { ReleaseBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { CurrencyChoice } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';
import { Shares } from './Shares';
import { useBench } from './useBench';

export default function ReleaseFields() {
  const { body, change, refused, effect } = useEditing<ReleaseBody>();
  const [find, setFind] = useState('');
  const kept = useBench(body.customer ?? 0, { find, pinned: (body.items ?? []).map((s) => s.item) });
  const due = (kept?.keptBack ?? []).filter((i) => i.due && i.due <= (body.day ?? ''));
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={body.customer ?? 0}
          job={0}
          onChange={(customer) => change((now) => ({ customer, items: customer === now.customer ? now.items : [] }))}
          refused={refused}
        >
          {(customer) => <div className="wide">{customer}</div>}
        </PartyFields>
        <Figure kind="day" label="Date" name="day" />
        <Figure kind="due" label="Due date" name="due" offered={effect?.paper?.due} paper={body.day} />
        {(body.items ?? []).length === 0 && <Figure kind="amount" label="So much, oldest first" name="amount" />}
        {(body.items ?? []).length === 0 && !!body.amount && <CurrencyChoice label="Of what is kept back in" />}
        <Text label="Reference" name="reference" />
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        <Text label="Note to the customer" name="note" className="wide" multiline />
      </FormGrid>
      {!!body.customer && (
        <Shares
          title="Released"
          verb="Release"
          side="items"
          items={kept?.keptBack ?? []}
          count={kept?.counts?.[2] ?? 0}
          onFind={setFind}
          shares={body.items ?? []}
          onChange={(to) => change((now) => ({ items: to(now.items ?? []) }))}
          refused={refused}
          nothing="This customer keeps nothing back."
        />
      )}
      {due.length > 0 && (body.items ?? []).length === 0 && (
        <Button
          variant="outlined"
          sx={{ mt: 1 }}
          onClick={() => change({ items: due.map((i) => ({ item: i.id, amount: i.open })) })}
        >
          Release all {due.length} that are due
        </Button>
      )}
    </>
  );
}
