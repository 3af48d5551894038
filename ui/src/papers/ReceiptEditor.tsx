import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useSearchParams } from 'react-router';
import type { ReceiptBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { isNil, show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { Field } from './Field';
import { MoneyFields } from './MoneyFields';
import { PaperEditor } from './PaperEditor';
import { PartyFields } from './PartyFields';
import { Places, withOffered } from './Places';

const Foot = styled('div')({
  display: 'flex',
  justifyContent: 'space-between',
  alignItems: 'center',
  marginTop: 8,
  minHeight: 40,
});

/** They paid what we billed: a receipt, placed on invoices. */
export function ReceiptEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  return (
    <PaperEditor<ReceiptBody>
      kind="receipt"
      path="/api/v1/receipts"
      id={id}
      title="Receipt"
      lead="Money for what is owed. What is not placed stays on account only when you say so."
      hint="Say who paid and how much, and place it: what that does is shown here before anything is written."
      initial={{
        customer: Number(params.get('customer') ?? 0),
        job: 0,
        day: today,
        arrived: '',
        charges: '',
        withheld: '',
        bank: 1,
        method: 'transfer',
        reference: '',
        placements: [],
        onAccount: params.get('onAccount') === '1',
      }}
      begun={(b) => !!(b.arrived || (b.customer && b.reference))}
      quiet={(b) => (b.arrived ? [] : ['arrived'])}
      exact={(b, effect) => ({ ...b, placements: withOffered(b.placements, effect) })}
      then={(b) => () => `/customers/${b.customer}`}
    >
      {({ body, change, effect, refused }) => {
        const left = effect?.paper?.unplaced;
        const figure = (field: 'arrived' | 'charges' | 'withheld', label: string, autoFocus?: boolean) => (
          <UnderstoodField
            kind="amount"
            label={label}
            field={field}
            value={body[field] ?? ''}
            onChange={(v) => change({ [field]: v })}
            error={refused(field)}
            autoFocus={autoFocus}
          />
        );
        return (
          <>
            <FormGrid>
              <PartyFields
                customer={body.customer ?? 0}
                job={body.job ?? 0}
                onChange={(customer, job) =>
                  change((now) => ({ customer, job, placements: customer === now.customer ? now.placements : [] }))
                }
                refused={refused}
                autoFocus
              >
                {(customer) => <div className="wide">{customer}</div>}
              </PartyFields>
              {figure('arrived', 'Arrived', params.has('customer'))}
              {figure('charges', 'Bank charges taken off')}
              <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
              {figure('withheld', 'Tax that they withheld')}
              <MoneyFields value={body} onChange={change} refused={refused} next={effect?.paper?.number ?? ''} />
            </FormGrid>
            {!!body.customer && (
              <Places
                customer={body.customer}
                amount={effect?.paper?.total ?? ''}
                reference={body.reference ?? ''}
                job={body.job}
                day={body.day ?? ''}
                placements={body.placements ?? []}
                onChange={(to) => change((now) => ({ placements: to(now.placements ?? []) }))}
                effect={effect}
                refused={refused}
              />
            )}
            <Foot>
              <FormControlLabel
                data-field="onAccount"
                control={
                  <Checkbox size="small" checked={!!body.onAccount} onChange={(e) => change({ onAccount: e.target.checked })} />
                }
                label="What is not placed stays on account"
              />
              {left !== undefined && !isNil(effect?.paper?.total) && (
                <Typography>
                  {isNil(left)
                    ? 'All of it is placed'
                    : body.onAccount
                      ? `${show(left)} on account`
                      : `${show(left)} not placed yet`}
                </Typography>
              )}
            </Foot>
          </>
        );
      }}
    </PaperEditor>
  );
}
