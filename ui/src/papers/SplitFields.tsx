import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { SplitBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useFirm } from '../parts/records';
import { isNil, show } from '../parts/show';
import { CreditField } from './CreditField';
import { AtBank } from './CurrencyFields';
import { useEditing, type Editing } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { End, useGiven } from './OneEnd';
import { PartyFields } from './PartyFields';
import { Shares } from './Shares';
import { TaxCodeField } from './TaxCodeField';
import { useBench } from './useBench';

type Ends = Editing<SplitBody>;

export default function SplitFields() {
  const e = useEditing<SplitBody>();
  const { body, change, effect, refused } = e;
  const customer = body.customer ?? 0;
  const own = useFirm().data?.currency ?? '';
  const [find, setFind] = useState('');
  const bench = useBench(customer, { find, pinned: [body.deposit ?? 0, ...(body.against ?? []).map((s) => s.item)] });
  const deposits = (bench?.credits ?? []).filter((i) => i.register === 'deposits');
  const deposit = deposits.find((d) => d.id === body.deposit);
  const left = effect?.balances.find((b) => b.kind === 'item' && b.id === body.deposit);
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={customer}
          job={0}
          onChange={(c) => c !== customer && change({ customer: c, deposit: 0, against: [] })}
          refused={() => ''}
        >
          {(field) => <div>{field}</div>}
        </PartyFields>
        <CreditField
          label="Deposit"
          field="deposit"
          credits={deposits}
          value={body.deposit ?? 0}
          onChange={(id) => change({ deposit: id })}
          nothing={customer ? 'No deposit of this customer is held.' : ''}
        />
        <Figure kind="day" label="Date" name="day" />
        <Typography sx={{ alignSelf: 'center' }} aria-live="polite">
          {deposit && (left ? `${show(left.after)} stays held of ${show(left.before)}` : `${show(deposit.open)} is held`)}
        </Typography>
      </FormGrid>
      {deposit && (
        <>
          <Refund {...e} of={deposit.currency || own} />
          <Forfeit {...e} taxed={deposit.taxInside} />
          <Move {...e} customer={customer} />
          <Shares
            title="Set against"
            verb="Set"
            side="against"
            items={bench?.owed ?? []}
            count={bench?.counts?.[0]}
            onFind={setFind}
            shares={body.against ?? []}
            onChange={(to) => change((now) => ({ against: to(now.against ?? []) }))}
            refused={refused}
            nothing="The customer owes nothing that it could be set against."
          />
        </>
      )}
    </>
  );
}

function Refund({ body, change, effect, of }: Ends & { of: string }) {
  const given = useGiven(body.refund, (refund) => change({ refund }));
  const paper = effect?.papers.find((p) => p.kind === 'refund');
  return (
    <End
      title="A part is given back"
      on={!!body.refund}
      onTurn={(on) => change({ refund: on ? { amount: '', bank: given?.bank ?? 0, method: given?.method ?? '' } : undefined })}
    >
      <Figure kind="amount" label="Given back" name="refund.amount" said="refund" />
      <AtBank prefix="refund." of={of} out />
      <MoneyFields prefix="refund." next={paper?.number} out nextCheque={paper?.cheque} brief />
    </End>
  );
}

function Forfeit({ body, change, taxed }: Ends & { taxed: string }) {
  return (
    <End title="A part is kept" on={!!body.forfeit} onTurn={(on) => change({ forfeit: on ? { amount: '' } : undefined })}>
      <Figure kind="amount" label="Kept" name="forfeit.amount" said="forfeit" />
      {isNil(taxed) ? (
        <TaxCodeField label="Tax in it" none="no tax" name="forfeit.taxCode" value={body.forfeit?.taxCode ?? 0} />
      ) : (
        <Check name="forfeit.outsideTax" label="Outside tax: what was taxed on receipt comes back" />
      )}
      <Text className="wide" label="Why" name="forfeit.reason" />
    </End>
  );
}

function Move({ body, change, refused, customer }: Ends & { customer: number }) {
  const set = (part: object) => change((now) => ({ move: { ...now.move, ...part } }));
  return (
    <End
      title="A part is moved to another job or customer"
      on={!!body.move}
      onTurn={(on) => change({ move: on ? { amount: '', customer, job: 0, asDeposit: true } : undefined })}
    >
      <Figure kind="amount" label="Moved" name="move.amount" said="move" />
      <Check name="move.asDeposit" label="stays a deposit there" />
      <PartyFields
        customer={body.move?.customer ?? 0}
        job={body.move?.job ?? 0}
        onChange={(c, j) => set({ customer: c, job: j })}
        refused={(f) => refused(f.slice('move.'.length))}
        prefix="move."
      >
        {(c, j) => (
          <>
            <div>{c}</div>
            <div>{j}</div>
          </>
        )}
      </PartyFields>
    </End>
  );
}
