import { useQuery } from '@tanstack/react-query';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import { useEffect, type ReactNode } from 'react';
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

interface Out {
  bank?: number;
  method?: string;
}

/** Where money goes out by, when nothing else is said. An end that was turned on before that was known is filled in then. */
export function useGiven<E extends Out>(end: E | undefined, fill: (end: E) => void) {
  const given = useQuery({ queryKey: ['blank'], queryFn: () => data(api.GET('/api/v1/blank')) }).data;
  useEffect(() => {
    if (given?.bank && end && !end.bank && !end.method) fill({ ...end, bank: given.bank, method: given.method });
  });
  return given;
}
