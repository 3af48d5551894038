import { useState } from 'react';
import type { RefundBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { AtBank, useOf } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { PartyFields } from './PartyFields';
import { Shares } from './Shares';
import { useBench } from './useBench';

export default function RefundFields() {
  const { body, change, effect, refused } = useEditing<RefundBody>();
  const [find, setFind] = useState('');
  const bench = useBench(body.customer ?? 0, { find, pinned: (body.sources ?? []).map((s) => s.item) });
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={body.customer ?? 0}
          job={0}
          onChange={(customer) => change((now) => ({ customer, sources: customer === now.customer ? now.sources : [] }))}
          refused={refused}
        >
          {(customer) => <div>{customer}</div>}
        </PartyFields>
        <Figure kind="day" label="Date" name="day" />
        <AtBank of={useOf(bench?.credits, body.sources)} out />
        <MoneyFields next={effect?.paper?.number} out nextCheque={effect?.papers?.[0]?.cheque} />
      </FormGrid>
      {!!body.customer && (
        <Shares
          title="Given back out of"
          verb="Give back"
          side="sources"
          items={(bench?.credits ?? []).filter((i) => i.money)}
          count={bench?.counts?.[1]}
          onFind={setFind}
          shares={body.sources ?? []}
          onChange={(to) => change((now) => ({ sources: to(now.sources ?? []) }))}
          refused={refused}
          nothing="We hold nothing of this customer that could be given back."
        />
      )}
    </>
  );
}
