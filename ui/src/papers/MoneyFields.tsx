import type { ReactNode } from 'react';
import { bankNamed } from '../parts/currencies';
import { useBanks } from '../parts/records';
import { Chosen, Text, useField } from './editing/fields';

const methods = ['transfer', 'card', 'cheque', 'cash', 'direct debit'].map((m) => ({ value: m, name: m }));

interface Props {
  /** Of the fields' paths: 'refund.'. */
  prefix?: string;
  /** The number that the paper would get. */
  next?: string;
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
export function MoneyFields({ prefix = '', next, out, nextCheque, brief, children }: Props) {
  const bank = useField<number | undefined>(`${prefix}bank`).value;
  const method = useField<string>(`${prefix}method`).value;
  const banks = (useBanks().data?.rows ?? []).filter((b) => !b.inactive || b.id === bank);
  const shrink = { inputLabel: { shrink: true } };
  return (
    <>
      <Chosen
        name={`${prefix}bank`}
        label={out ? 'Out of' : 'Into'}
        options={banks.map((b) => ({ value: b.id ?? 0, name: bankNamed(b) }))}
      />
      <Chosen name={`${prefix}method`} label="Method" options={methods} />
      {out && method === 'cheque' && (
        <Text
          name={`${prefix}cheque`}
          label="Cheque number"
          placeholder={nextCheque ? `${nextCheque} is next` : 'the next'}
          slotProps={shrink}
        />
      )}
      <Text name={`${prefix}reference`} label="Reference" />
      {!brief && (
        <Text name="number" label="Number" placeholder={next ? `${next} is next` : 'given on posting'} slotProps={shrink} />
      )}
      {children}
      {!brief && <Text name="note" label="Note" className="wide" multiline />}
    </>
  );
}
