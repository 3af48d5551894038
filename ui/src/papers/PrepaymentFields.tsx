import { useQuery } from '@tanstack/react-query';
import { api, data, type PrepaymentBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { AtBank } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Chosen, Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { SupplierField } from './SupplierField';

export default function PrepaymentFields() {
  const { body, change, effect, refused } = useEditing<PrepaymentBody>();
  const supplier = body.supplier ?? 0;
  const orders =
    useQuery({
      queryKey: ['supplier', supplier],
      queryFn: () => data(api.GET('/api/v1/suppliers/{id}', { params: { path: { id: supplier } } })),
      enabled: supplier > 0,
    }).data?.orders ?? [];
  return (
    <FormGrid>
      <SupplierField
        value={supplier}
        onPick={(supplier) => change({ supplier, order: 0 })}
        error={refused('party')}
        placeholder="Whom did we pay?"
      />
      <Figure kind="amount" label="Amount paid" name="amount" />
      <Figure kind="day" label="Date" name="day" />
      <Chosen
        name="order"
        label="For the order"
        options={[{ value: 0, name: 'none' }, ...orders.map((o) => ({ value: o.id, name: `${o.number} ${o.title}` }))]}
      />
      <AtBank day={body.day} rated />
      <MoneyFields out next={effect?.paper?.number} nextCheque={effect?.papers?.[0]?.cheque} />
    </FormGrid>
  );
}
