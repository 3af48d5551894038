import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import { useToday } from '../parts/records';
import { UnderstoodField } from '../parts/UnderstoodField';

const Bar = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });

/** The day that a report looks back from; it lives in the address. */
export function useAsOf(): [string, (day: string) => void] {
  const today = useToday();
  const [params, setParams] = useSearchParams();
  const set = (day: string) => {
    if (!/^\d{4}-\d{2}-\d{2}$/.test(day)) return;
    setParams(
      (old) => {
        const now = new URLSearchParams(old);
        if (day === today) now.delete('asOf');
        else now.set('asOf', day);
        return now;
      },
      { replace: true },
    );
  };
  return [params.get('asOf') ?? today, set];
}

export function AsOfBar({ asOf, onChange, children }: { asOf: string; onChange: (day: string) => void; children?: ReactNode }) {
  return (
    <Bar className="no-print">
      <UnderstoodField kind="day" label="As of the end of" field="asOf" value={asOf} onChange={onChange} width={150} />
      {children}
    </Bar>
  );
}
