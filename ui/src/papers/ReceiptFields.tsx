import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import type { ReceiptBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useBankCurrency, useNamed } from '../parts/currencies';
import { isNil, show } from '../parts/show';
import { AtBank } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { AccountField, EntryLines } from './Lines';
import { Check, Figure, Text } from './editing/fields';
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
  const money = useBankCurrency(body.bank);
  const named = useNamed(money);
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
        <Figure kind="amount" label={named('Amount received')} name="arrived" />
        <Figure kind="amount" label={named('Bank charges taken off')} name="charges" />
        <Figure kind="day" label="Date" name="day" />
        <Figure kind="amount" label="Tax that they withheld" name="withheld" />
        <AtBank day={body.day} rated />
        <MoneyFields next={effect?.paper?.number} />
      </FormGrid>
      <Differences />
      {!!body.customer && (
        <Places
          customer={body.customer}
          money={money}
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

type Difference = NonNullable<ReceiptBody['differences']>[number];

/** What somebody took off on the way, or added: asked for when it is wanted. */
function Differences() {
  const { body, change, refused } = useEditing<ReceiptBody>();
  const differences = body.differences ?? [];
  const add = () => change((now) => ({ differences: [...(now.differences ?? []), { text: '', account: 0, amount: '' }] }));
  if (differences.length === 0)
    return (
      <Button size="small" sx={{ mt: 1 }} onClick={add}>
        + something else was taken off or added
      </Button>
    );
  return (
    <EntryLines<Difference>
      label="Other differences"
      heads={[
        { title: 'What was taken off, or added' },
        { title: 'Account', width: 170 },
        { title: 'Taken off', figure: true, width: 120 },
      ]}
      lines={differences}
      fresh={() => ({ text: '', account: 0, amount: '' })}
      pasted={{
        kinds: ['text', 'account', 'amount'],
        line: ([text, account, amount]) => ({ text, account: Number(account || 0), amount }),
      }}
      onChange={(to) => change((now) => ({ differences: to(now.differences ?? []) }))}
    >
      {(d, n, set) => [
        <Text key="text" variant="standard" fullWidth name={`differences[${n}].text`} label={`What, difference ${n + 1}`} />,
        <AccountField
          key="account"
          label={`Account, difference ${n + 1}`}
          field={`differences[${n}].account`}
          value={d.account ?? 0}
          onPick={(account) => set({ account })}
          error={refused(`differences[${n}].account`)}
        />,
        <Figure key="amount" kind="amount" label={`Taken off, difference ${n + 1}`} name={`differences[${n}].amount`} onSheet />,
      ]}
    </EntryLines>
  );
}
