import { useSearchParams } from 'react-router';
import type { DepositBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { Field } from './Field';
import { MoneyFields } from './MoneyFields';
import { PaperEditor } from './PaperEditor';
import { PartyFields } from './PartyFields';
import { TaxCodeField } from './TaxCodeField';

/** They paid before we billed: a deposit, held for them. */
export function DepositEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  return (
    <PaperEditor<DepositBody>
      kind="deposit"
      path="/api/v1/deposits"
      id={id}
      title="Deposit"
      lead="Money received before the invoice that it is for, held for the customer."
      hint="Say who paid and how much: where the money goes is shown here before anything is written."
      initial={{
        customer: Number(params.get('customer') ?? 0),
        job: Number(params.get('job') ?? 0),
        day: today,
        amount: '',
        bank: 1,
        method: 'transfer',
        reference: '',
      }}
      begun={(b) => !!(b.amount || (b.customer && b.reference))}
      quiet={(b) => (b.amount ? [] : ['amount'])}
    >
      {({ body, change, effect, refused }) => (
        <FormGrid>
          <PartyFields
            customer={body.customer ?? 0}
            job={body.job ?? 0}
            onChange={(customer, job) => change({ customer, job })}
            refused={refused}
            autoFocus
          >
            {(customer, job) => (
              <>
                <div>{customer}</div>
                <div>{job}</div>
              </>
            )}
          </PartyFields>
          <Field on={{ body, change, refused }} kind="amount" label="Amount" name="amount" autoFocus={params.has('customer')} />
          <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
          <MoneyFields value={body} onChange={change} refused={refused} next={effect?.paper?.number ?? ''}>
            <TaxCodeField
              label="Taxed on receipt"
              none="no, taxed by its invoice"
              value={body.taxCode ?? 0}
              onChange={(taxCode) => change({ taxCode })}
              error={refused('taxCode')}
            />
          </MoneyFields>
        </FormGrid>
      )}
    </PaperEditor>
  );
}
