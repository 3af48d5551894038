import Typography from '@mui/material/Typography';
import { useSearchParams } from 'react-router';
import type { DepositBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { usePreview } from '../parts/preview';
import { useToday } from '../parts/records';
import { PaperSheet } from '../parts/Sheet';
import { UnderstoodField } from '../parts/UnderstoodField';
import { EditorFrame } from './EditorFrame';
import { MoneyFields } from './MoneyFields';
import { PartyFields } from './PartyFields';
import { useDraft } from './useDraft';
import { walk } from './walk';

/** They paid before we billed: a deposit, held for them. */
export function DepositEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  const draft = useDraft<DepositBody>(
    'deposit',
    id,
    {
      customer: Number(params.get('customer') ?? 0),
      job: Number(params.get('job') ?? 0),
      day: today,
      amount: '',
      bank: 1,
      method: 'transfer',
      reference: '',
    },
    (b) => !!(b.amount || (b.customer && b.reference)),
  );
  const body = draft.body ?? {};
  const effect = usePreview('/api/v1/deposits', draft.body ?? null);
  if (!draft.body) return null;
  return (
    <EditorFrame
      title="Deposit"
      path="/api/v1/deposits"
      draft={draft}
      effect={effect}
      body={body}
      posted="Deposit"
      quiet={body.amount ? [] : ['amount']}
      hint="Say who paid and how much: where the money goes is shown here before anything is written."
    >
      {(refused) => (
        <PaperSheet>
          <Typography variant="h1">Deposit</Typography>
          <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
            Money received before the invoice that it is for, held for the customer.
          </Typography>
          <FormGrid onKeyDown={walk}>
            <PartyFields
              customer={body.customer ?? 0}
              job={body.job ?? 0}
              onChange={(customer, job) => draft.change({ customer, job })}
              refused={refused}
              autoFocus
            >
              {(customer, job) => (
                <>
                  <div>{customer}</div>
                  <div>{job}</div>
                </>
              )}
            </PartyFields>
            <UnderstoodField
              kind="amount"
              label="Amount"
              field="amount"
              value={body.amount ?? ''}
              onChange={(amount) => draft.change({ amount })}
              error={refused('amount')}
              autoFocus={params.has('customer')}
            />
            <UnderstoodField
              kind="day"
              label="Day"
              field="day"
              value={body.day ?? ''}
              onChange={(day) => draft.change({ day })}
              error={refused('day')}
            />
            <MoneyFields value={body} onChange={draft.change} refused={refused} next={effect?.paper?.number ?? ''} />
          </FormGrid>
        </PaperSheet>
      )}
    </EditorFrame>
  );
}
