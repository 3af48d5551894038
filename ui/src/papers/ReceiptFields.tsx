import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import type { ReceiptBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { isNil, show } from '../parts/show';
import { useEditing } from './editing/Editing';
import { Check, Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { PartyFields } from './PartyFields';
import { Places } from './Places';

const Foot = styled('div')({
  display: 'flex',
  justifyContent: 'space-between',
  alignItems: 'center',
  marginTop: 8,
  minHeight: 40,
});

export default function ReceiptFields() {
  const { body, change, effect, refused } = useEditing<ReceiptBody>();
  const left = effect?.paper?.unplaced;
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
        >
          {(customer) => <div className="wide">{customer}</div>}
        </PartyFields>
        <Figure kind="amount" label="Amount received" name="arrived" />
        <Figure kind="amount" label="Bank charges taken off" name="charges" />
        <Figure kind="day" label="Date" name="day" />
        <Figure kind="amount" label="Tax that they withheld" name="withheld" />
        <MoneyFields next={effect?.paper?.number} />
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
        <Check name="onAccount" label="What is set against nothing stays on account" />
        {left !== undefined && !isNil(effect?.paper?.total) && (
          <Typography>
            {isNil(left)
              ? 'All of it is set against something'
              : body.onAccount
                ? `${show(left)} on account`
                : `${show(left)} set against nothing yet`}
          </Typography>
        )}
      </Foot>
    </>
  );
}
