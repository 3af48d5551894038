import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import type { SplitBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { CreditField } from './CreditField';
import { Field } from './Field';
import { MoneyFields } from './MoneyFields';
import { PaperEditor, type Editing } from './PaperEditor';
import { PartyFields } from './PartyFields';
import { usePreset } from './RefundEditor';
import { Shares } from './Shares';
import { TaxCodeField } from './TaxCodeField';
import { useBench } from './useBench';

const Part = styled('section')(({ theme }) => ({
  borderTop: `1px solid ${theme.vars!.palette.tally.rule}`,
  marginTop: 14,
  paddingTop: 6,
}));

/** What becomes of a deposit, in one step: set against, refunded, forfeited, moved. */
export function SplitEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  return (
    <PaperEditor<SplitBody>
      kind="deposit split"
      path="/api/v1/deposits/split"
      id={id}
      title="What becomes of a deposit"
      lead="All of it in one step: set against what is owed, given back, kept for good, moved. What nobody speaks of stays held."
      hint="Choose the deposit and its ends: what each does, and what stays held, is shown here before anything is written."
      initial={{ deposit: 0, day: today, against: [] }}
      begun={(b) => !!b.deposit && !!(b.refund || b.forfeit || b.move || b.against?.length)}
      quiet={(b) => (b.refund || b.forfeit || b.move || b.against?.length ? [] : ['refund'])}
      posted="What becomes of the deposit"
    >
      {(e) => <Fields {...e} start={Number(params.get('customer') ?? 0)} credit={Number(params.get('credit') ?? 0)} />}
    </PaperEditor>
  );
}

type Ends = Editing<SplitBody>;

function Fields(e: Ends & { start: number; credit: number }) {
  const { body, change, effect, refused, start, credit } = e;
  const [customer, setCustomer] = useState(start);
  const [find, setFind] = useState('');
  const bench = useBench(customer, { find, pinned: [credit, body.deposit ?? 0, ...(body.against ?? []).map((s) => s.item)] });
  const deposits = (bench?.credits ?? []).filter((i) => i.register === 'deposits');
  usePreset(deposits, credit, (i) => change({ deposit: i.id }));
  const deposit = deposits.find((d) => d.id === body.deposit);
  const left = effect?.balances.find((b) => b.kind === 'item' && b.id === body.deposit);
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={customer}
          job={0}
          onChange={(c) => {
            setCustomer(c);
            if (c !== customer) change({ deposit: 0, against: [] });
          }}
          refused={() => false}
          autoFocus
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
        <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
        <Typography sx={{ alignSelf: 'center' }} aria-live="polite">
          {deposit && (left ? `${show(left.after)} stays held of ${show(left.before)}` : `${show(deposit.open)} is held`)}
        </Typography>
      </FormGrid>
      {deposit && (
        <>
          <Refund {...e} />
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

function End({
  title,
  on,
  onTurn,
  children,
}: {
  title: string;
  on: boolean;
  onTurn: (on: boolean) => void;
  children: ReactNode;
}) {
  return (
    <Part aria-label={title}>
      <FormControlLabel
        control={<Checkbox size="small" checked={on} onChange={(e) => onTurn(e.target.checked)} />}
        label={title}
      />
      {on && <FormGrid>{children}</FormGrid>}
    </Part>
  );
}

function Refund({ body, change, effect, refused }: Ends) {
  const set = (part: object) => change((now) => ({ refund: { ...now.refund, ...part } }));
  return (
    <End
      title="A part is given back"
      on={!!body.refund}
      onTurn={(on) => change({ refund: on ? { amount: '', bank: 1, method: 'transfer' } : undefined })}
    >
      <UnderstoodField
        kind="amount"
        label="Given back"
        field="refund"
        value={body.refund?.amount ?? ''}
        onChange={(amount) => set({ amount })}
        error={refused('refund')}
      />
      <MoneyFields
        value={body.refund ?? {}}
        onChange={set}
        refused={refused}
        next={effect?.papers.find((p) => p.kind === 'refund')?.number ?? ''}
        out
        nextCheque={effect?.papers.find((p) => p.kind === 'refund')?.cheque}
        brief
      />
    </End>
  );
}

function Forfeit({ body, change, refused, taxed }: Ends & { taxed: string }) {
  const set = (part: object) => change((now) => ({ forfeit: { ...now.forfeit, ...part } }));
  const wasTaxed = !/^0*\.?0*$/.test(taxed);
  return (
    <End
      title="A part is kept for good"
      on={!!body.forfeit}
      onTurn={(on) => change({ forfeit: on ? { amount: '' } : undefined })}
    >
      <UnderstoodField
        kind="amount"
        label="Kept"
        field="forfeit"
        value={body.forfeit?.amount ?? ''}
        onChange={(amount) => set({ amount })}
        error={refused('forfeit')}
      />
      {wasTaxed ? (
        <FormControlLabel
          control={
            <Checkbox size="small" checked={!!body.forfeit?.outsideTax} onChange={(e) => set({ outsideTax: e.target.checked })} />
          }
          label="Outside tax: what was taxed on receipt comes back"
        />
      ) : (
        <TaxCodeField
          label="Tax in it"
          none="no tax"
          value={body.forfeit?.taxCode ?? 0}
          onChange={(taxCode) => set({ taxCode })}
          error={refused('taxCode')}
        />
      )}
      <TextField
        className="wide"
        label="Why"
        value={body.forfeit?.reason ?? ''}
        onChange={(e) => set({ reason: e.target.value })}
      />
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
      <UnderstoodField
        kind="amount"
        label="Moved"
        field="move"
        value={body.move?.amount ?? ''}
        onChange={(amount) => set({ amount })}
        error={refused('move')}
      />
      <FormControlLabel
        control={
          <Checkbox size="small" checked={!!body.move?.asDeposit} onChange={(e) => set({ asDeposit: e.target.checked })} />
        }
        label="stays a deposit there"
      />
      <PartyFields
        customer={body.move?.customer ?? 0}
        job={body.move?.job ?? 0}
        onChange={(c, j) => set({ customer: c, job: j })}
        refused={refused}
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
