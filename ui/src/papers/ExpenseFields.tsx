import type { ExpenseBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { BillSum, TheirFigures } from './BillFields';
import { BoughtLines } from './BoughtLines';
import { AtBank } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Figure } from './editing/fields';
import { FromPurchaseOrders } from './FromPurchaseOrders';
import { MoneyFields } from './MoneyFields';
import { SupplierField } from './SupplierField';

export default function ExpenseFields() {
  const { body, change, effect, refused } = useEditing<ExpenseBody>();
  return (
    <>
      <FormGrid>
        <SupplierField
          value={body.supplier ?? 0}
          onPick={(supplier) => change({ supplier })}
          error={refused('party')}
          placeholder="Whom did we pay?"
        />
        <Figure kind="day" label="Date" name="day" />
        <TheirFigures />
        <AtBank day={body.day} rated />
        <MoneyFields out next={effect?.paper?.number} />
      </FormGrid>
      <FromPurchaseOrders />
      <BoughtLines label="Lines of the expense" />
      <BillSum owed="paid" />
    </>
  );
}
