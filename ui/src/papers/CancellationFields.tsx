import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { CancellationBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { paperQuery } from '../parts/records';
import { show } from '../parts/show';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import OrderShareFields from './OrderShareFields';

/** What is called off: what is left of an order, or what nobody paid of a request for a deposit. */
export default function CancellationFields() {
  const { body } = useEditing<CancellationBody>();
  return body.request ? <OfRequest id={body.request} /> : <OrderShareFields />;
}

function OfRequest({ id }: { id: number }) {
  const { effect, refused } = useEditing<CancellationBody>();
  const { data: r } = useQuery(paperQuery(id));
  return (
    <FormGrid>
      <Typography className="wide" component="div" data-field="request" color={refused('request') ? 'error' : undefined}>
        {r && (
          <>
            Of request <Link to={`/papers/${id}`}>{r.number}</Link> of {r.customer}, {show(r.left)} is still asked.
          </>
        )}
        {refused('request') && <div>{refused('request')}</div>}
      </Typography>
      <Figure kind="day" label="Date" name="day" />
      <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
      <Text label="Why is it called off?" name="reason" className="wide" />
    </FormGrid>
  );
}
