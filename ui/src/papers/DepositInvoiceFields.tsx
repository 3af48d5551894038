import type { DepositInvoiceBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useTerms } from '../parts/records';
import { showDay, showIn } from '../parts/show';
import { PaperCurrency } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Choice, Figure, Text } from './editing/fields';
import { EntryLines } from './Lines';
import { PartyFields } from './PartyFields';
import { ShareField } from './ShareField';
import { TaxCodeField } from './TaxCodeField';
import { useBillable } from './useBillable';

type AdvanceLine = NonNullable<DepositInvoiceBody['lines']>[number];

export default function DepositInvoiceFields() {
  const { body, change, effect, refused } = useEditing<DepositInvoiceBody>();
  const orders = useBillable(body.customer ?? 0)?.orders ?? [];
  const terms = (useTerms().data?.rows ?? []).filter((t) => !t.inactive);
  const known = orders.some((o) => o.id === body.order);
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={body.customer ?? 0}
          job={body.job ?? 0}
          onChange={(customer, job) => change((now) => ({ customer, job, order: customer === now.customer ? now.order : 0 }))}
          refused={refused}
        />
        <Choice
          label="Of the order"
          field="order"
          value={body.order ?? 0}
          error={refused('order')}
          onChange={(v) => {
            const chosen = orders.find((o) => o.id === Number(v));
            change({ order: Number(v), ...(chosen ? { job: chosen.jobId } : {}) });
          }}
          options={[
            { value: 0, name: 'none: what its lines say' },
            ...(body.order && !known ? [{ value: body.order, name: 'the order that was chosen' }] : []),
            ...orders.map((o) => ({ value: o.id, name: `${o.number}, ${showDay(o.day)}, ${showIn(o.currency, o.net)} net` })),
          ]}
        />
        {body.order ? (
          <ShareField
            label="How much of it"
            field="percent"
            percent={body.percent ?? ''}
            amount={body.amount ?? ''}
            onChange={(percent, amount) => change({ percent, amount })}
            error={refused('percent') || refused('amount')}
          />
        ) : (
          <div />
        )}
        <Figure kind="day" label="Invoice date" name="day" />
        <Figure kind="due" label="Due date" name="due" offered={effect?.paper?.due} paper={body.day} />
        <Choice
          label="Terms"
          field="terms"
          value={body.due ? -1 : (body.terms ?? 0)}
          error={refused('terms')}
          onChange={(v) => change({ terms: Number(v), due: '' })}
          options={[
            ...(body.due ? [{ value: -1, name: 'as named' }] : []),
            { value: 0, name: 'the customer’s own' },
            ...terms.map((t) => ({ value: t.id ?? 0, name: t.name ?? '' })),
          ]}
        />
        <div className="wide">
          <PaperCurrency party={body.customer ?? 0} day={body.day} follows={!!body.order} />
        </div>
        <Text label="Reference" name="reference" />
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        <Text label="Note to the customer" name="note" multiline />
      </FormGrid>
      {!body.order && <AdvanceLines />}
    </>
  );
}

/** What is billed in advance without an order: an amount for each tax code. */
function AdvanceLines() {
  const { body, change } = useEditing<DepositInvoiceBody>();
  return (
    <EntryLines<AdvanceLine>
      label="Lines"
      heads={[{ title: 'What' }, { title: 'Tax', width: 170 }, { title: 'Net', figure: true, width: 120 }]}
      lines={body.lines ?? []}
      fresh={() => ({ text: 'Billed in advance', net: '', taxCode: 0 })}
      onChange={(to) => change((now) => ({ lines: to(now.lines ?? []) }))}
      pasted={{ kinds: ['text', 'amount'], line: ([text, net]) => ({ text, net, taxCode: body.lines?.[0]?.taxCode ?? 0 }) }}
    >
      {(_, n) => [
        <Text key="text" variant="standard" label={`What, line ${n + 1}`} name={`lines[${n}].text`} fullWidth />,
        <TaxCodeField
          key="tax"
          label={`Tax, line ${n + 1}`}
          name={`lines[${n}].taxCode`}
          value={body.lines?.[n]?.taxCode ?? 0}
          onSheet
        />,
        <Figure key="net" kind="amount" label={`Net, line ${n + 1}`} name={`lines[${n}].net`} onSheet />,
      ]}
    </EntryLines>
  );
}
