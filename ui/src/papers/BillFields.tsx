import Typography from '@mui/material/Typography';
import type { BillBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useCustomer } from '../parts/records';
import { isNil, show } from '../parts/show';
import { BoughtLines } from './BoughtLines';
import { PaperCurrency } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { FromPurchaseOrders } from './FromPurchaseOrders';
import { SupplierField } from './SupplierField';

/** What the lines come to, beside what the supplier says. */
export function BillSum({ owed }: { owed: string }) {
  const { effect } = useEditing<BillBody>();
  if (!effect?.paper) return null;
  return (
    <Typography align="right" sx={{ mt: 1 }}>
      Net {show(effect.paper.net)} · tax {show(effect.paper.tax)} · <b>{show(effect.paper.total)}</b> {owed}
      {!isNil(effect.paper.retained) && ` · we keep back ${show(effect.paper.retained)}`}
    </Typography>
  );
}

/** What the supplier says it comes to, and its own tax where it was rounded otherwise. */
export function TheirFigures() {
  return (
    <>
      <Figure kind="amount" label="Total on their paper" name="total" placeholder="to be compared" />
      <Figure kind="amount" label="Their own tax" name="tax" placeholder="as computed" />
    </>
  );
}

export default function BillFields() {
  const { body, change, effect, refused } = useEditing<BillBody>();
  const supplier = useCustomer(body.supplier ?? 0).data;
  const own = supplier?.id === body.supplier ? supplier : undefined;
  return (
    <>
      <FormGrid>
        <SupplierField
          value={body.supplier ?? 0}
          onPick={(supplier) => change({ supplier })}
          error={refused('party')}
          placeholder="Who billed us?"
        />
        <Text label="Their number" name="reference" />
        <Figure kind="day" label="Invoice date" name="day" />
        <Figure
          kind="due"
          label="Due date"
          name="due"
          paper={body.day}
          offered={effect?.paper?.due}
          placeholder="by their terms"
        />
        <TheirFigures />
      </FormGrid>
      <PaperCurrency party={body.supplier ?? 0} day={body.day} />
      <FromPurchaseOrders />
      <BoughtLines label="Lines of the bill" />
      <BillSum owed="to pay" />
      <FormGrid sx={{ mt: 2 }}>
        <Figure kind="percent" label="We keep back, % of the net" name="retention" placeholder={own?.keepBack || 'nothing'} />
        <Figure kind="day" label="Released by" name="expected" placeholder="not known" />
        <Figure kind="percent" label="Discount if paid early, %" name="earlyPercent" placeholder="by their terms" />
        <Figure kind="day" label="Through" name="earlyUntil" placeholder="by their terms" />
        <Text label="Note" name="note" className="wide" multiline />
      </FormGrid>
    </>
  );
}
