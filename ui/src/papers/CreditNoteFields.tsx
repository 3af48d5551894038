import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, data, type Creditable, type CreditBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { RecordPicker } from '../parts/RecordPicker';
import { useFirm } from '../parts/records';
import { isNil, show, showDay } from '../parts/show';
import { PaperCurrency } from './CurrencyFields';
import { CreditLines } from './CreditLines';
import { CreditOnItsOwn, freshEntry } from './CreditOnItsOwn';
import { useEditing } from './editing/Editing';
import { Check, Choice, Chosen, Figure, Text } from './editing/fields';
import { useAgain } from './editing/useForm';
import { MoneyFields } from './MoneyFields';
import { End, useGiven } from './OneEnd';
import { PartyFields } from './PartyFields';
import { Shares } from './Shares';
import { useBench } from './useBench';

const causes = [
  { value: 'return', name: 'Goods came back' },
  { value: 'price', name: 'The price' },
  { value: 'fault', name: 'A fault' },
  { value: 'goodwill', name: 'Goodwill' },
  { value: 'cancellation', name: 'Called off' },
  { value: 'other', name: 'Another reason' },
];

/** What of an invoice is taken back, or given on its own, why, and where it goes. */
export default function CreditNoteFields() {
  const { body, change, effect, refused } = useEditing<CreditBody>();
  const of = useCreditable();
  const customer = of?.partyId ?? body.customer ?? 0;
  const what = body.what ?? 'all';
  return (
    <>
      <FormGrid>
        <OfInvoice of={of} customer={customer} />
        {!body.paper && (
          <PartyFields
            customer={body.customer ?? 0}
            job={body.job ?? 0}
            onChange={(c, job) => change((now) => ({ customer: c, job, setAgainst: c === now.customer ? now.setAgainst : [] }))}
            refused={refused}
          />
        )}
        <Chosen
          label="Why is it credited?"
          name="cause"
          options={[...(body.cause ? [] : [{ value: '', name: 'Say why' }]), ...causes]}
        />
        <Text label="In a few words" name="text" />
        <Figure kind="day" label="Date" name="day" />
        <Text label="Reference of the return" name="reference" optional />
        {!!body.paper && (
          <Choice
            label="What of it?"
            field="what"
            value={what}
            options={[
              { value: 'all', name: 'All that is left' },
              { value: 'lines', name: 'Some of its lines' },
              { value: 'work', name: 'A part of the work' },
            ]}
            onChange={(v) => change({ what: v as CreditBody['what'] })}
            error={refused('what')}
          />
        )}
        {what === 'all' && of?.lines.some((l) => l.stocked && !isNil(l.out)) && (
          <Check
            className="wide"
            name="goodsBack"
            label="Its goods go back to stock, at the cost at which they left; else they are scrapped, or stay"
          />
        )}
        {of && what === 'work' && (
          <Figure kind="amount" label="Of the work, net" name="work" placeholder={`of ${show(of.work)}`} />
        )}
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        <Text label="Note to the customer" name="note" className="wide" multiline />
      </FormGrid>
      {!body.paper && <PaperCurrency party={customer} day={body.day} />}
      {!body.paper && <CreditOnItsOwn />}
      {of && what === 'lines' && <CreditLines of={of} />}
      {effect?.paper && !isNil(effect.paper.total) && (
        <Typography align="right" sx={{ mt: 1 }}>
          Net {show(effect.paper.net)} · tax {show(effect.paper.tax)} · <b>{show(effect.paper.total)}</b> credited
        </Typography>
      )}
      {of && (
        <FormGrid sx={{ mt: 1 }}>
          {of.ofOrder && (
            <Check
              className="wide"
              name="billAgain"
              label="What it takes of an order may be billed again; else the order and the contract are lowered"
            />
          )}
          {!isNil(of.held) && <Check className="wide" name="fromRetention" label="All of it comes off what is kept back" />}
          <Check className="wide" name="own" label="Set it against what is open of the invoice itself" />
        </FormGrid>
      )}
      {!!customer && <Against customer={customer} />}
      {!!customer && <AtOnce />}
    </>
  );
}

/** What of the invoice is left to credit. */
function useCreditable() {
  const { body } = useEditing<CreditBody>();
  const again = useAgain() || undefined;
  const paper = body.paper ?? 0;
  const { data: of } = useQuery({
    queryKey: ['creditable', paper, body.day, again],
    queryFn: () =>
      data(
        api.GET('/api/v1/papers/{id}/creditable', {
          params: { path: { id: paper }, query: { day: body.day || undefined, again } },
        }),
      ),
    enabled: !!paper,
    placeholderData: keepPreviousData,
  });
  return of?.id === paper ? of : undefined;
}

async function findInvoices(text: string, customer: number) {
  const found = await data(
    api.GET('/api/v1/papers', {
      params: { query: { kind: 'invoice', q: text || undefined, customer: customer || undefined, limit: 8 } },
    }),
  );
  return (found.rows ?? [])
    .filter((p) => p.state !== 'reversed')
    .map((p) => ({ id: p.id, label: `${p.number} ${p.customer}`, detail: `${show(p.total)}, ${showDay(p.day)}` }));
}

/** The invoice that is credited; none for a credit on its own. */
function OfInvoice({ of, customer }: { of?: Creditable; customer: number }) {
  const { body, change, refused } = useEditing<CreditBody>();
  const taxCode = useFirm().data?.taxCode ?? 0;
  // Whose it is stays known while the invoice that was chosen is being read.
  const [whose, setWhose] = useState(customer);
  if ((customer || !body.paper) && whose !== customer) setWhose(customer);
  return (
    <div className="wide">
      <RecordPicker
        label="Of which invoice?"
        field="paper"
        chosen={body.paper ?? 0}
        value={of ? { id: of.id, label: `${of.number} ${of.customer}` } : null}
        onPick={(o) =>
          change({
            paper: o?.id ?? 0,
            customer: o ? 0 : whose,
            what: 'all',
            lines: [],
            written: o ? [] : [freshEntry(taxCode)],
            own: !!o,
            fromRetention: false,
            goodsBack: false,
            setAgainst: [],
          })
        }
        find={(text) => findInvoices(text, whose)}
        findKey={['invoice', whose]}
        error={refused('paper')}
        placeholder="none: a rebate or goodwill on its own"
      />
      {of && (
        <Typography variant="body2" color="textSecondary">
          <Link to={`/papers/${of.id}`}>{of.number}</Link>: {show(of.work)} of its work is left, net
          {!isNil(of.held) && <>; it keeps back {show(of.held)}</>}
          {of.locked && <>; its period is closed through {showDay(of.locked)}, so the credit is dated after it</>}.
        </Typography>
      )}
    </div>
  );
}

/** What is set against nothing goes back to the customer in the same step. */
function AtOnce() {
  const { body, change, effect } = useEditing<CreditBody>();
  const given = useGiven(body.refund, (refund) => change({ refund }));
  const paper = effect?.papers.find((p) => p.kind === 'refund');
  return (
    <End
      title="What is left is refunded at once"
      on={!!body.refund}
      onTurn={(on) => change({ refund: on ? { amount: '', bank: given?.bank ?? 0, method: given?.method ?? '' } : undefined })}
    >
      <Figure
        kind="amount"
        label="Given back"
        name="refund.amount"
        placeholder={paper ? show(paper.total) : 'all that is left'}
      />
      <MoneyFields prefix="refund." next={paper?.number} out nextCheque={paper?.cheque} brief />
    </End>
  );
}

/** What else of the customer's the credit is set against. */
function Against({ customer }: { customer: number }) {
  const { body, change, refused, effect } = useEditing<CreditBody>();
  const [find, setFind] = useState('');
  const bench = useBench(customer, { find, pinned: (body.setAgainst ?? []).map((s) => s.item) });
  const currency = effect?.paper?.currency ?? '';
  const owed = (bench?.owed ?? []).filter((i) => i.paperId !== body.paper && (i.currency ?? '') === currency);
  if (owed.length === 0 && !find) return null;
  return (
    <Shares
      title={body.paper ? 'Set against others first' : 'Set against'}
      verb="Set against"
      side="setAgainst"
      items={owed}
      count={owed.length === bench?.owed.length ? bench.counts[0] : owed.length}
      onFind={setFind}
      shares={body.setAgainst ?? []}
      onChange={(to) => change((now) => ({ setAgainst: to(now.setAgainst ?? []) }))}
      refused={refused}
      nothing="Nothing fits."
    />
  );
}
