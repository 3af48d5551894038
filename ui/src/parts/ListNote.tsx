import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';

/** What stands in the Effect where there is no effect to show. */
export function ListNote({ title, children }: { title: string; children: ReactNode }) {
  return (
    <>
      <Typography variant="h2">{title}</Typography>
      <Typography variant="body2" color="textSecondary" component="div" sx={{ mt: 1 }}>
        {children}
      </Typography>
    </>
  );
}
