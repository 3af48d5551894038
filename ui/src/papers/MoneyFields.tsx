import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useBanks } from '../parts/records';

const methods = ['transfer', 'card', 'cheque', 'cash', 'direct debit'];

interface Money {
  bank?: number;
  method?: string;
  reference?: string;
  note?: string;
  number?: string;
}

interface Props {
  value: Money;
  onChange: (part: Money) => void;
  refused: (field: string) => boolean;
  next: string;
}

/** Where money came in, how, and what it says of itself. */
export function MoneyFields({ value, onChange, refused, next }: Props) {
  const banks = (useBanks().data?.rows ?? []).filter((b) => !b.inactive);
  return (
    <>
      <TextField
        select
        label="Into"
        data-field="bank"
        value={banks.some((b) => b.id === value.bank) ? value.bank : ''}
        onChange={(e) => onChange({ bank: Number(e.target.value) })}
        error={refused('bank')}
      >
        {banks.map((b) => (
          <MenuItem key={b.id} value={b.id}>
            {b.name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="How"
        data-field="method"
        value={value.method ?? ''}
        onChange={(e) => onChange({ method: e.target.value })}
        error={refused('method')}
      >
        {methods.map((m) => (
          <MenuItem key={m} value={m}>
            {m}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Reference"
        data-field="reference"
        value={value.reference ?? ''}
        onChange={(e) => onChange({ reference: e.target.value })}
        error={refused('reference')}
      />
      <TextField
        label="Number"
        data-field="number"
        placeholder={next ? `${next} is next` : 'given on posting'}
        value={value.number ?? ''}
        onChange={(e) => onChange({ number: e.target.value })}
        error={refused('number')}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      <TextField
        label="Note"
        data-field="note"
        value={value.note ?? ''}
        onChange={(e) => onChange({ note: e.target.value })}
        className="wide"
        multiline
      />
    </>
  );
}
