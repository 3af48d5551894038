import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { DepositBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { paperQuery } from '../parts/records';
import { useBankCurrency, useCurrencyOptions, useNamed } from '../parts/currencies';
import { show } from '../parts/show';
import { AtBank } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Choice, Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { PartyFields } from './PartyFields';
import { TaxCodeField } from './TaxCodeField';

export default function DepositFields() {
  const { body, change, effect, refused } = useEditing<DepositBody>();
  const code = useBankCurrency(body.bank);
  const held = body.currency || code;
  const named = useNamed(held);
  return (
    <FormGrid>
      <PartyFields
        customer={body.customer ?? 0}
        job={body.job ?? 0}
        onChange={(customer, job) => change({ customer, job })}
        refused={refused}
      />
      {!!body.request && <ForRequest id={body.request} onNone={() => change({ request: 0 })} refused={refused('request')} />}
      <Figure kind="amount" label={named('Amount')} name="amount" />
      <Figure kind="day" label="Date" name="day" />
      <HeldIn bank={code} />
      <AtBank of={held} day={body.day} rated />
      <MoneyFields next={effect?.paper?.number}>
        <TaxCodeField label="Taxed on receipt" none="no, taxed by its invoice" name="taxCode" value={body.taxCode ?? 0} />
      </MoneyFields>
    </FormGrid>
  );
}

/** In which currency the deposit is held; nothing where the firm has but its own. */
function HeldIn({ bank }: { bank: string }) {
  const { body, change, refused } = useEditing<DepositBody>();
  const options = useCurrencyOptions();
  if (options.length < 2) return null;
  return (
    <Choice
      label="Held in"
      field="currency"
      value={body.currency || bank}
      options={options}
      onChange={(v) => change({ currency: v === bank ? '' : v, atBank: '' })}
      error={refused('currency')}
    />
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
