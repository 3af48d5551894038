import { useContext } from 'react';
import type { PayableReleaseBody, SupplierRefundBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { AtBank, useOf } from './CurrencyFields';
import { EditingPlace, useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { Shares } from './Shares';
import { SupplierField } from './SupplierField';
import { useBench } from './useBench';

type Body = SupplierRefundBody & PayableReleaseBody;

/** What comes back of what stands with a supplier, or what is released of what we keep back. */
export default function SupplierSharesFields() {
  const { body, change, effect, refused } = useEditing<Body>();
  const releases = useContext(EditingPlace)!.kind === 'supplier release';
  const side = releases ? 'items' : 'sources';
  const shares = body[side] ?? [];
  const supplier = body.supplier ?? 0;
  const bench = useBench(supplier, { payable: true, pinned: shares.map((s) => s.item) });
  const of = useOf(bench?.credits, shares);
  return (
    <>
      <FormGrid>
        <SupplierField
          value={supplier}
          onPick={(supplier) => change((now) => ({ supplier, [side]: supplier === now.supplier ? now[side] : [] }))}
          error={refused('party')}
          known
          placeholder="Which supplier?"
        />
        <Figure kind="day" label="Date" name="day" />
        {releases ? (
          <>
            <Figure kind="due" label="Due date" name="due" paper={body.day} placeholder="on its own date" />
            <Text label="Reference" name="reference" />
            <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
            <Text label="Note" name="note" className="wide" multiline />
          </>
        ) : (
          <>
            <AtBank of={of} day={body.day} rated />
            <MoneyFields next={effect?.paper?.number} />
          </>
        )}
      </FormGrid>
      {!!supplier && (
        <Shares
          title={releases ? 'Released' : 'Comes back'}
          verb={releases ? 'Release' : 'Take'}
          side={side}
          items={(releases ? bench?.keptBack : bench?.credits) ?? []}
          shares={shares}
          onChange={(to) => change((now) => ({ [side]: to(now[side] ?? []) }))}
          refused={refused}
          nothing={releases ? 'We keep nothing back of this supplier.' : 'Nothing stands open with this supplier.'}
        />
      )}
    </>
  );
}
