import Typography from '@mui/material/Typography';
import type { TransferBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { CreditField } from './CreditField';
import { useEditing } from './editing/Editing';
import { Choice, Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';
import { useBench } from './useBench';

export default function TransferFields() {
  const { body, change, refused } = useEditing<TransferBody>();
  const owner = body.owner ?? 0;
  const credits = (useBench(owner, { pinned: [body.from ?? 0] })?.credits ?? []).filter((i) => i.money);
  return (
    <>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        From
      </Typography>
      <FormGrid sx={{ mb: 2 }}>
        <PartyFields
          customer={owner}
          job={0}
          onChange={(c) => c !== owner && change({ owner: c, from: 0, amount: '', customer: c, job: 0 })}
          refused={() => ''}
          prefix="owner."
        >
          {(field) => <div>{field}</div>}
        </PartyFields>
        <CreditField
          label="Credit"
          field="from"
          credits={credits}
          value={body.from ?? 0}
          onChange={(from) => {
            const credit = credits.find((c) => c.id === from);
            change({ from, amount: credit?.open ?? '', asDeposit: credit?.register === 'deposits' });
          }}
          error={refused('from')}
          nothing={owner ? 'Nothing of this customer is open.' : ''}
        />
        <Figure kind="amount" label="Amount" name="amount" />
        <Figure kind="day" label="Date" name="day" />
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
        <Choice
          label="As"
          field="asDeposit"
          value={body.asDeposit ? 'deposit' : 'account'}
          onChange={(v) => change({ asDeposit: v === 'deposit' })}
          options={[
            { value: 'deposit', name: 'a deposit, held for them' },
            { value: 'account', name: 'on account, less owed' },
          ]}
        />
        <Text label="Note" name="note" />
      </FormGrid>
    </>
  );
}
