import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { isDay, useLookingBack } from '../parts/asOf';
import { Choice } from '../papers/editing/fields';
import { useCurrencyOptions } from '../parts/currencies';
import { useToday } from '../parts/records';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useAddress } from '../parts/useAddress';

/** The bar of a report, with what it is of. */
export const Bar = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });

/** The day that a report is of: its own, in the address, or the one that everything is looked back from. */
export function useAsOf(): [string, (day: string) => void] {
  const today = useToday();
  const past = useLookingBack();
  const [params, setAddress] = useAddress();
  const set = (day: string) => {
    if (isDay(day)) setAddress('asOf', day === (past || today) ? '' : day);
  };
  return [params.get('asOf') || past || today, set];
}

export function AsOfBar({ asOf, onChange, children }: { asOf: string; onChange: (day: string) => void; children?: ReactNode }) {
  return (
    <Bar className="no-print">
      <UnderstoodField kind="day" label="As of the end of" field="asOf" value={asOf} onChange={onChange} width={150} />
      {children}
    </Bar>
  );
}

/** Narrows a report to one currency, where the firm uses several; the address says which. */
export function InCurrency() {
  const [params, set] = useAddress();
  const all = useCurrencyOptions();
  if (all.length < 2) return null;
  return (
    <Choice
      label="In"
      field="currency"
      width={150}
      value={params.get('currency') ?? ''}
      onChange={(v) => set('currency', v)}
      options={[{ value: '', name: `all, in ${all[0]!.name}` }, ...all.map((c) => ({ ...c, name: `${c.name} alone` }))]}
    />
  );
}
