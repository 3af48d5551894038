import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import type { ComponentProps, ReactNode } from 'react';
import { LessField } from './LessField';

const Beside = styled('div')({ display: 'flex', alignItems: 'center', gap: 8 });

/** A share or an amount of something, with its label beside it. */
export function ShareField({ children, ...p }: ComponentProps<typeof LessField> & { children?: ReactNode }) {
  return (
    <Beside>
      <Typography component="span">{p.label}</Typography>
      <LessField {...p} />
      {children}
    </Beside>
  );
}
