import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { AdvanceCreditBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { paperQuery } from '../parts/records';
import { show } from '../parts/show';
import { useEditing } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';

export default function AdvanceCreditFields() {
  const { body, effect } = useEditing<AdvanceCreditBody>();
  const { data: p } = useQuery({ ...paperQuery(body.paper ?? 0), enabled: !!body.paper });
  return (
    <FormGrid>
      <Typography className="wide" component="div" data-field="paper">
        {p ? (
          <>
            Of <Link to={`/papers/${p.id}`}>{p.number}</Link>, {p.customer}, {show(p.advanceLeft)} with tax is not deducted.
          </>
        ) : (
          'Begin with the deposit invoice that is credited: its page has the step.'
        )}
      </Typography>
      <Text label="Why is it credited?" name="reason" />
      <Figure kind="day" label="Date" name="day" />
      <Figure kind="amount" label="Kept of it, net" name="keep" placeholder="nothing" />
      <Text label="Number (empty: the next)" name="number" placeholder={effect?.papers[0]?.number} optional />
      <Check className="wide" name="outsideTax" label="What is kept bears no tax" />
      <Check className="wide" name="against" label="Set it against what is open of the deposit invoice itself" />
    </FormGrid>
  );
}
