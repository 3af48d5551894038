import type { UnidentifiedBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { AtBank } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';

export default function UnidentifiedFields() {
  const { body, effect } = useEditing<UnidentifiedBody>();
  return (
    <FormGrid>
      <Figure kind="amount" label="Amount received" name="amount" />
      <Figure kind="day" label="Value date" name="day" />
      <AtBank day={body.day} rated />
      <MoneyFields next={effect?.paper?.number} />
    </FormGrid>
  );
}
