import { useQuery } from '@tanstack/react-query';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { api, data } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';

const Part = styled('section')(({ theme }) => ({
  borderTop: `1px solid ${theme.vars!.palette.tally.rule}`,
  marginTop: 14,
  paddingTop: 6,
}));

/** One end that money can come to in the same step: turned on, it asks what it needs. */
export function End({
  title,
  on,
  onTurn,
  children,
}: {
  title: string;
  on: boolean;
  onTurn: (on: boolean) => void;
  children: ReactNode;
}) {
  return (
    <Part aria-label={title}>
      <FormControlLabel
        control={<Checkbox size="small" checked={on} onChange={(e) => onTurn(e.target.checked)} />}
        label={title}
      />
      {on && <FormGrid>{children}</FormGrid>}
    </Part>
  );
}

/** Where money goes out by, when nothing else is said. */
export function useGiven() {
  return useQuery({ queryKey: ['blank'], queryFn: () => data(api.GET('/api/v1/blank')) }).data;
}
