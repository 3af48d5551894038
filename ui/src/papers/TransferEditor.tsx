import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { TransferBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { CreditField } from './CreditField';
import { Field } from './Field';
import { PaperEditor, type Editing } from './PaperEditor';
import { PartyFields } from './PartyFields';
import { usePreset } from './RefundEditor';
import { useBench } from './useBench';

/** The money belongs elsewhere: another customer, another job, deposit or on account. */
export function TransferEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  const customer = Number(params.get('customer') ?? 0);
  return (
    <PaperEditor<TransferBody>
      kind="transfer"
      path="/api/v1/transfers"
      id={id}
      title="Transfer"
      lead="An open credit goes to another customer or job, or from on account to deposit and back."
      hint="Choose the credit and where it goes: what that does is shown here before anything is written."
      initial={{ day: today, from: 0, amount: '', customer, job: 0, asDeposit: false }}
      begun={(b) => !!b.from}
      quiet={(b) => (b.from ? [] : ['amount', 'party'])}
    >
      {(e) => <Fields {...e} start={customer} credit={Number(params.get('credit') ?? 0)} />}
    </PaperEditor>
  );
}

function Fields({ body, change, refused, start, credit }: Editing<TransferBody> & { start: number; credit: number }) {
  const [owner, setOwner] = useState(start);
  const credits = (useBench(owner, { pinned: [credit, body.from ?? 0] })?.credits ?? []).filter((i) => i.money);
  usePreset(credits, credit, (i) =>
    change({ from: i.id, amount: i.open, customer: owner, job: i.jobId, asDeposit: i.register !== 'deposits' }),
  );
  return (
    <>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        From
      </Typography>
      <FormGrid sx={{ mb: 2 }}>
        <PartyFields
          customer={owner}
          job={0}
          onChange={(c) => {
            setOwner(c);
            if (c !== owner) change({ from: 0, amount: '', customer: c, job: 0 });
          }}
          refused={() => false}
          autoFocus
        >
          {(field) => <div>{field}</div>}
        </PartyFields>
        <CreditField
          label="Credit"
          field="from"
          credits={credits}
          value={body.from ?? 0}
          onChange={(from) => change({ from, amount: credits.find((c) => c.id === from)?.open ?? '' })}
          error={refused('from')}
          nothing={owner ? 'Nothing of this customer is open.' : ''}
        />
        <Field on={{ body, change, refused }} kind="amount" label="Amount" name="amount" />
        <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
      </FormGrid>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        To
      </Typography>
      <FormGrid>
        <PartyFields
          customer={body.customer ?? 0}
          job={body.job ?? 0}
          onChange={(c, j) => change({ customer: c, job: j })}
          refused={refused}
        >
          {(c, j) => (
            <>
              <div>{c}</div>
              <div>{j}</div>
            </>
          )}
        </PartyFields>
        <TextField
          select
          label="As"
          data-field="asDeposit"
          value={body.asDeposit ? 'deposit' : 'account'}
          onChange={(x) => change({ asDeposit: x.target.value === 'deposit' })}
        >
          <MenuItem value="deposit">a deposit, held for them</MenuItem>
          <MenuItem value="account">on account, less owed</MenuItem>
        </TextField>
        <TextField label="Note" data-field="note" value={body.note ?? ''} onChange={(x) => change({ note: x.target.value })} />
      </FormGrid>
    </>
  );
}
