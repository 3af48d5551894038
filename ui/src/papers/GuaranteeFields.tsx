import type { GuaranteeBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useEditing } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';

/** Who promises how much to whom, until when. */
export default function GuaranteeFields() {
  const { body, change, effect, refused } = useEditing<GuaranteeBody>();
  return (
    <FormGrid>
      <PartyFields
        customer={body.customer ?? 0}
        job={body.job ?? 0}
        onChange={(customer, job) => change({ customer, job })}
        refused={refused}
      />
      <Figure kind="amount" label="Amount" name="amount" />
      <Text label="Who promises it?" name="issuer" />
      <Figure kind="day" label="Date" name="day" />
      <Figure kind="due" label="Last date" name="lastDay" paper={body.day} />
      <Text label="Their number" name="reference" optional />
      <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
      <Check className="wide" name="release" label="Release what is kept back, up to the amount" />
      <Text label="Note to the customer" name="note" className="wide" multiline />
    </FormGrid>
  );
}
