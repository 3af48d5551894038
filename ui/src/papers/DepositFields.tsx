import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { DepositBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { paperQuery } from '../parts/records';
import { show } from '../parts/show';
import { useEditing } from './editing/Editing';
import { Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { PartyFields } from './PartyFields';
import { TaxCodeField } from './TaxCodeField';

export default function DepositFields() {
  const { body, change, effect, refused } = useEditing<DepositBody>();
  return (
    <FormGrid>
      <PartyFields
        customer={body.customer ?? 0}
        job={body.job ?? 0}
        onChange={(customer, job) => change({ customer, job })}
        refused={refused}
      />
      {!!body.request && <ForRequest id={body.request} onNone={() => change({ request: 0 })} refused={refused('request')} />}
      <Figure kind="amount" label="Amount" name="amount" />
      <Figure kind="day" label="Date" name="day" />
      <MoneyFields next={effect?.paper?.number}>
        <TaxCodeField label="Taxed on receipt" none="no, taxed by its invoice" name="taxCode" value={body.taxCode ?? 0} />
      </MoneyFields>
    </FormGrid>
  );
}

/** The request that it pays. */
function ForRequest({ id, onNone, refused }: { id: number; onNone: () => void; refused: string }) {
  const { data: r } = useQuery(paperQuery(id));
  if (!r) return null;
  return (
    <Typography className="wide" component="div" data-field="request" color={refused ? 'error' : undefined}>
      For request <Link to={`/papers/${id}`}>{r.number}</Link>, of which {show(r.left)} is still asked.
      <Button onClick={onNone}>Not for it</Button> {refused}
    </Typography>
  );
}
