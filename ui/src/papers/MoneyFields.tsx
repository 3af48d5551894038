import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import type { ReactNode } from 'react';
import { useBanks } from '../parts/records';

const methods = ['transfer', 'card', 'cheque', 'cash', 'direct debit'];

interface Money {
  bank?: number;
  method?: string;
  reference?: string;
  note?: string;
  number?: string;
  cheque?: string;
}

interface Props {
  value: Money;
  onChange: (part: Money) => void;
  refused: (field: string) => boolean;
  next: string;
  /** Money that goes out: a cheque has a number then. */
  out?: boolean;
  /** The number that a cheque would get. */
  nextCheque?: string;
  /** Without number and note, which stand elsewhere. */
  brief?: boolean;
  /** Fields between the number and the note. */
  children?: ReactNode;
}

/** Where money moves, how, and what it says of itself. */
export function MoneyFields({ value, onChange, refused, next, out, nextCheque, brief, children }: Props) {
  const banks = (useBanks().data?.rows ?? []).filter((b) => !b.inactive);
  return (
    <>
      <TextField
        select
        label={out ? 'Out of' : 'Into'}
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
      {out && value.method === 'cheque' && (
        <TextField
          label="Cheque number"
          data-field="cheque"
          placeholder={nextCheque ? `${nextCheque} is next` : 'the next'}
          value={value.cheque ?? ''}
          onChange={(e) => onChange({ cheque: e.target.value })}
          error={refused('cheque')}
          slotProps={{ inputLabel: { shrink: true } }}
        />
      )}
      <TextField
        label="Reference"
        data-field="reference"
        value={value.reference ?? ''}
        onChange={(e) => onChange({ reference: e.target.value })}
        error={refused('reference')}
      />
      {!brief && (
        <TextField
          label="Number"
          data-field="number"
          placeholder={next ? `${next} is next` : 'given on posting'}
          value={value.number ?? ''}
          onChange={(e) => onChange({ number: e.target.value })}
          error={refused('number')}
          slotProps={{ inputLabel: { shrink: true } }}
        />
      )}
      {children}
      {!brief && (
        <TextField
          label="Note"
          data-field="note"
          value={value.note ?? ''}
          onChange={(e) => onChange({ note: e.target.value })}
          className="wide"
          multiline
        />
      )}
    </>
  );
}
