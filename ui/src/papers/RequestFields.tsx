import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data, type RequestBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { show, showDay } from '../parts/show';
import { PaperCurrency } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Choice, Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';
import { ShareField } from './ShareField';

/** Orders and quotes of a customer, of which a share can be asked for. */
function useOffered(customer: number) {
  const of = (kind: 'order' | 'quote') => ({
    queryKey: ['list', '/api/v1/papers', kind, customer],
    queryFn: () => data(api.GET('/api/v1/papers', { params: { query: { kind, customer, limit: 40 } } })),
    enabled: customer > 0,
    placeholderData: keepPreviousData,
  });
  const [orders, quotes] = [useQuery(of('order')).data?.rows ?? [], useQuery(of('quote')).data?.rows ?? []];
  return customer ? [...orders, ...quotes] : [];
}

export default function RequestFields() {
  const { body, change, effect, refused } = useEditing<RequestBody>();
  const offered = useOffered(body.customer ?? 0);
  return (
    <FormGrid>
      <PartyFields
        customer={body.customer ?? 0}
        job={body.job ?? 0}
        onChange={(customer, job) => change((now) => ({ customer, job, of: customer === now.customer ? now.of : 0 }))}
        refused={refused}
      />
      <Choice
        label="Of the order or quote"
        field="of"
        value={body.of ?? 0}
        error={refused('of')}
        onChange={(v) => {
          const chosen = offered.find((o) => o.id === Number(v));
          change({ of: Number(v), ...(chosen?.jobId ? { job: chosen.jobId } : {}), ...(Number(v) ? {} : { percent: '' }) });
        }}
        options={[
          { value: 0, name: 'none: an amount' },
          ...(body.of && !offered.some((o) => o.id === body.of) ? [{ value: body.of, name: 'the one that was chosen' }] : []),
          ...offered.map((o) => ({ value: o.id, name: `${o.number}, ${showDay(o.day)}, ${show(o.total)} with tax` })),
        ]}
      />
      {body.of ? (
        <ShareField
          label="How much of it"
          field="percent"
          percent={body.percent ?? ''}
          amount={body.amount ?? ''}
          onChange={(percent, amount) => change({ percent, amount })}
          error={refused('percent') || refused('amount')}
        >
          <Typography component="span" color="textSecondary">
            {show(effect?.paper?.total)}
          </Typography>
        </ShareField>
      ) : (
        <Figure kind="amount" label="Amount" name="amount" />
      )}
      <Figure kind="day" label="Date" name="day" />
      <Figure kind="due" label="To be paid by" name="due" paper={body.day} placeholder="14 days" />
      <div className="wide">
        <PaperCurrency party={body.customer ?? 0} day={body.day} follows={!!body.of} />
      </div>
      <Text label="Reference" name="reference" />
      <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
      <Text label="Note to the customer" name="note" className="wide" multiline />
    </FormGrid>
  );
}
