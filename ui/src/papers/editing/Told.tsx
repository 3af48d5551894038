import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';

/** A line over what is written: what stands in the way, and the way out. */
export const Trouble = styled('div')(({ theme }) => ({
  maxWidth: 800,
  margin: '0 auto 12px',
  padding: '8px 12px',
  display: 'flex',
  gap: 12,
  alignItems: 'center',
  backgroundColor: theme.vars!.palette.tally.paper,
  borderLeft: `3px solid ${theme.vars!.palette.error.main}`,
  '& > span': { flex: 1 },
  '&[data-word]': { borderLeftColor: theme.vars!.palette.tally.kept },
  '& .MuiTextField-root': { width: 250 },
}));

/** What is said of a post that was tried: seen where the Effect is folded away too, and announced once. */
export function Told({ text, children }: { text: string; children?: ReactNode }) {
  if (!text) return null;
  return (
    <Trouble role="alert" data-told className="no-print">
      <span>{text}</span>
      {children}
    </Trouble>
  );
}
