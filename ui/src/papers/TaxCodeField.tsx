import { useTaxCodes } from '../parts/records';
import type { TaxCode } from '../api/client';
import { Chosen } from './editing/fields';

/** What a tax code is called: its name and rate. */
export function taxName(c: TaxCode | undefined): string {
  if (!c) return '';
  const rate = c.kind === 'charged' ? `${c.rates?.[0]?.percent ?? ''} %` : '';
  return [c.name || c.code, rate].filter(Boolean).join(' ');
}

/** What a tax code is called where there is little room: its rate. */
export function taxShort(c: TaxCode | undefined): string {
  return c?.kind === 'charged' ? `${c.rates?.[0]?.percent ?? ''} %` : (c?.name ?? '');
}

interface Props {
  label: string;
  name: string;
  /** What no code at all is called; left out, one must be chosen. */
  none?: string;
  onSheet?: boolean;
  value: number;
}

/** A tax code out of those in use. */
export function TaxCodeField({ label, name, none, onSheet, value }: Props) {
  const codes = (useTaxCodes().data?.rows ?? []).filter((c) => !c.inactive || c.id === value);
  const options = codes.map((c) => ({ value: c.id ?? 0, name: taxName(c) }));
  return (
    <Chosen
      name={name}
      label={label}
      options={none === undefined ? options : [{ value: 0, name: none }, ...options]}
      onSheet={onSheet}
    />
  );
}
