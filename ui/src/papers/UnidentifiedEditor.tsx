import { useSearchParams } from 'react-router';
import type { UnidentifiedBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { Field } from './Field';
import { MoneyFields } from './MoneyFields';
import { PaperEditor } from './PaperEditor';

/** Money came, and nobody knows whose it is. */
export function UnidentifiedEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  return (
    <PaperEditor<UnidentifiedBody>
      kind="unidentified receipt"
      path="/api/v1/unidentified"
      id={id}
      title="Money not identified"
      lead="It is in the bank, and waits until someone says whose it is. It stands on the Desk until then."
      hint="Say how much came and what the bank told: where it waits is shown here before anything is written."
      initial={{ day: today, amount: params.get('amount') ?? '', bank: 1, method: 'transfer', reference: '' }}
      begun={(b) => !!(b.amount || b.reference)}
      quiet={(b) => (b.amount ? [] : ['amount'])}
      then={() => () => '/desk'}
    >
      {({ body, change, effect, refused }) => (
        <FormGrid>
          <Field on={{ body, change, refused }} kind="amount" label="Arrived" name="amount" autoFocus />
          <Field on={{ body, change, refused }} kind="day" label="The bank’s day" name="day" />
          <MoneyFields value={body} onChange={change} refused={refused} next={effect?.paper?.number ?? ''} />
        </FormGrid>
      )}
    </PaperEditor>
  );
}
