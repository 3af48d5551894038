import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { OpenItem, RefundBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { Field } from './Field';
import { MoneyFields } from './MoneyFields';
import { PaperEditor, type Editing } from './PaperEditor';
import { PartyFields } from './PartyFields';
import { Shares } from './Shares';
import { useBench } from './useBench';

/** We gave money back: a refund out of open credits. */
export function RefundEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  return (
    <PaperEditor<RefundBody>
      kind="refund"
      path="/api/v1/refunds"
      id={id}
      title="Refund"
      lead="Money given back out of what is open: a deposit, a receipt on account, another credit."
      hint="Choose the credit that is given back: what that does is shown here before anything is written."
      initial={{
        customer: Number(params.get('customer') ?? 0),
        day: today,
        sources: [],
        bank: 1,
        method: 'transfer',
        reference: '',
      }}
      begun={(b) => (b.sources ?? []).length > 0}
      quiet={(b) => ((b.sources ?? []).length ? [] : ['sources'])}
    >
      {(e) => <Fields {...e} credit={Number(params.get('credit') ?? 0)} />}
    </PaperEditor>
  );
}

function Fields({ body, change, effect, refused, credit }: Editing<RefundBody> & { credit: number }) {
  const [find, setFind] = useState('');
  const bench = useBench(body.customer ?? 0, { find, pinned: [credit, ...(body.sources ?? []).map((s) => s.item)] });
  const credits = (bench?.credits ?? []).filter((i) => i.money);
  usePreset(credits, credit, (i) => change({ sources: [{ item: i.id, amount: i.open }] }));
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={body.customer ?? 0}
          job={0}
          onChange={(customer) => change((now) => ({ customer, sources: customer === now.customer ? now.sources : [] }))}
          refused={refused}
          autoFocus
        >
          {(customer) => <div>{customer}</div>}
        </PartyFields>
        <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
        <MoneyFields
          value={body}
          onChange={change}
          refused={refused}
          next={effect?.paper?.number ?? ''}
          out
          nextCheque={effect?.papers?.[0]?.cheque}
        />
      </FormGrid>
      {!!body.customer && (
        <Shares
          title="Given back out of"
          verb="Give back"
          side="sources"
          items={credits}
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

/** Takes what the address names, once it is known. */
export function usePreset(items: OpenItem[], id: number, take: (i: OpenItem) => void) {
  const done = useRef(false);
  const item = items.find((i) => i.id === id);
  const latest = useRef(take);
  useEffect(() => {
    latest.current = take;
  });
  useEffect(() => {
    if (item && !done.current) {
      done.current = true;
      latest.current(item);
    }
  }, [item]);
}
