import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';

/** The work in the middle of the page, beside the margin. */
export const Page = styled('div')({ padding: '18px 24px 24px', display: 'flex', flexDirection: 'column', gap: 14, minWidth: 0 });

const Head = styled('header')({ display: 'flex', alignItems: 'flex-end', gap: 12, flexWrap: 'wrap' });
const Titles = styled('div')({ flex: '1 1 320px', minWidth: 0, '& h1': { overflowWrap: 'anywhere' } });
const Actions = styled('div')({ display: 'flex', gap: 8, alignItems: 'center', flexWrap: 'wrap' });

interface HeadProps {
  title: ReactNode;
  under?: ReactNode;
  children?: ReactNode;
}

/** The title of a page with what it is in a line, and its actions. */
export function PageHead({ title, under, children }: HeadProps) {
  return (
    <Head>
      {typeof title === 'string' && <title>{`${title} – Clean Tally`}</title>}
      <Titles>
        <Typography variant="h1">{title}</Typography>
        {under && (
          <Typography variant="body2" color="textSecondary" component="div">
            {under}
          </Typography>
        )}
      </Titles>
      <Actions className="no-print">{children}</Actions>
    </Head>
  );
}

const Blank = styled('div')(({ theme }) => ({
  padding: '28px 0',
  borderBlock: `1px solid ${theme.vars!.palette.tally.rule}`,
  color: theme.vars!.palette.text.secondary,
  display: 'flex',
  flexDirection: 'column',
  alignItems: 'flex-start',
  gap: 10,
}));

/** What will be there, and the first step. */
export function Empty({ children, action, onAction }: { children: ReactNode; action?: string; onAction?: () => void }) {
  return (
    <Blank>
      <span>{children}</span>
      {action && (
        <Button variant="outlined" onClick={onAction}>
          {action}
        </Button>
      )}
    </Blank>
  );
}

const Cap = styled('kbd')({
  font: 'inherit',
  fontSize: 11,
  fontWeight: 600,
  border: '1px solid currentColor',
  borderRadius: 3,
  padding: '0 5px',
  marginLeft: 8,
  opacity: 0.9,
  lineHeight: '16px',
});

/** A key, told beside what it does. */
export function Key({ children }: { children: ReactNode }) {
  return <Cap aria-hidden>{children}</Cap>;
}

/** A failure that has no field to stand beside. */
export function Failure({ error }: { error: unknown }) {
  return (
    <Typography color="error" role="alert">
      {error instanceof Error ? error.message : 'Something went wrong. Load the page again.'}
    </Typography>
  );
}
