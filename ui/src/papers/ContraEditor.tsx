import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { ContraBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { Field } from './Field';
import { PaperEditor, type Editing } from './PaperEditor';
import { PartyFields } from './PartyFields';
import { Shares } from './Shares';
import { useBench } from './useBench';

/** They owe us and we owe them: what can be set off is. */
export function ContraEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  return (
    <PaperEditor<ContraBody>
      kind="contra"
      path="/api/v1/contras"
      id={id}
      title="Contra"
      lead="What a party owes us, set against what we owe the same party. No money moves."
      hint="Choose what is set off on each side: both sides must come to the same."
      initial={{ party: Number(params.get('customer') ?? 0), day: today, owed: [], owing: [] }}
      begun={(b) => !!(b.owed?.length || b.owing?.length)}
      quiet={(b) => (b.owed?.length && b.owing?.length ? [] : ['owed'])}
      then={(b) => () => `/customers/${b.party}`}
      // A side that was taken whole gives way to the other: Go says how far.
      exact={(b, effect) => ({
        ...b,
        owed: (b.owed ?? []).map((s) => ({
          ...s,
          amount: s.amount || (effect?.pairs.find((x) => x.debit === s.item)?.amount ?? ''),
        })),
        owing: (b.owing ?? []).map((s) => ({
          ...s,
          amount: s.amount || (effect?.pairs.find((x) => x.credit === s.item)?.amount ?? ''),
        })),
      })}
    >
      {(e) => <Fields {...e} />}
    </PaperEditor>
  );
}

function Fields({ body, change, effect, refused }: Editing<ContraBody>) {
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
          autoFocus
        >
          {(customer) => <div>{customer}</div>}
        </PartyFields>
        <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
        <TextField className="wide" label="Note" value={body.note ?? ''} onChange={(x) => change({ note: x.target.value })} />
      </FormGrid>
      {!!body.party && side('owed', 'debit', 'They owe us', 'They owe us nothing.')}
      {!!body.party && side('owing', 'credit', 'We owe them', 'We owe them nothing. Record the supplier’s bill first.')}
    </>
  );
}
