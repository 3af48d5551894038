import type { PurchaseOrderBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { BillSum } from './BillFields';
import { BoughtLines } from './BoughtLines';
import { PaperCurrency } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { SupplierField } from './SupplierField';

export default function PurchaseOrderFields() {
  const { body, change, effect, refused } = useEditing<PurchaseOrderBody>();
  return (
    <>
      <FormGrid>
        <SupplierField
          value={body.supplier ?? 0}
          onPick={(supplier) => change({ supplier })}
          error={refused('party')}
          placeholder="From whom?"
        />
        <Text label="Reference" name="reference" optional />
        <Figure kind="day" label="Date" name="day" />
        <Figure kind="day" label="Expected" name="expected" placeholder="not known" />
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        <Text label="Note to the supplier" name="note" className="wide" multiline optional />
      </FormGrid>
      <PaperCurrency party={body.supplier ?? 0} day={body.day} />
      <BoughtLines label="Lines of the order" ordering />
      <BillSum owed="ordered" />
    </>
  );
}
