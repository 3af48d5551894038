import { styled } from '@mui/material/styles';
import { useEffect, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import { lookBackFrom, useLookingBack } from '../parts/asOf';
import { useToday } from '../parts/records';
import { UnderstoodField } from '../parts/UnderstoodField';

const Bar = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });

/** The day that a report looks back from; it lives in the address. */
export function useAsOf(): [string, (day: string) => void] {
  const today = useToday();
  const past = useLookingBack();
  const [params, setParams] = useSearchParams();
  const given = params.get('asOf') ?? '';
  // An address that names a day looks back from it.
  useEffect(() => {
    if (given) lookBackFrom(given);
  }, [given]);
  const set = (day: string) => {
    if (!/^\d{4}-\d{2}-\d{2}$/.test(day)) return;
    lookBackFrom(day < today ? day : '');
    setParams(
      (old) => {
        const now = new URLSearchParams(old);
        if (day < today) now.set('asOf', day);
        else now.delete('asOf');
        return now;
      },
      { replace: true },
    );
  };
  return [past || given || today, set];
}

export function AsOfBar({ asOf, onChange, children }: { asOf: string; onChange: (day: string) => void; children?: ReactNode }) {
  return (
    <Bar className="no-print">
      <UnderstoodField kind="day" label="As of the end of" field="asOf" value={asOf} onChange={onChange} width={150} />
      {children}
    </Bar>
  );
}
