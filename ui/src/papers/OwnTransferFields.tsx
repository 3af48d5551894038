import type { OwnTransferBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { bankNamed, useBankCurrency, useNamed } from '../parts/currencies';
import { useBanks } from '../parts/records';
import { useEditing } from './editing/Editing';
import { Chosen, Figure, Text } from './editing/fields';

/** From where, to where, how much. Card takings leave by their payout. */
export default function OwnTransferFields() {
  const { body, effect } = useEditing<OwnTransferBody>();
  const banks = useBanks().data?.rows ?? [];
  const goes = useBankCurrency(body.from);
  const comes = useBankCurrency(body.to);
  const named = useNamed(goes);
  const options = (own?: number) => [
    { value: 0, name: '–' },
    ...banks.filter((b) => !b.takings && (!b.inactive || b.id === own)).map((b) => ({ value: b.id ?? 0, name: bankNamed(b) })),
  ];
  return (
    <FormGrid>
      <Chosen name="from" label="From" options={options(body.from)} />
      <Chosen name="to" label="To" options={options(body.to)} />
      <Figure kind="amount" label={named('Amount')} name="amount" />
      {!!body.to && goes !== comes && <Figure kind="amount" label={`What arrives, ${comes}`} name="arrived" />}
      <Figure kind="amount" label="Of it, what the bank kept" name="fee" />
      <Figure kind="day" label="Date" name="day" />
      <Text name="reference" label="Reference" optional />
      <Text name="number" label="Number (empty: the next)" placeholder={effect?.paper?.number} optional />
      <Text name="note" label="Note" className="wide" multiline optional />
    </FormGrid>
  );
}
