import GlobalStyles from '@mui/material/GlobalStyles';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';

const Leaf = styled('article')(({ theme }) => ({
  backgroundColor: theme.vars!.palette.tally.sheet,
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  padding: '24px 30px 28px',
  maxWidth: 800,
  width: '100%',
  margin: '0 auto',
  minHeight: 480,
  '@media print': { border: 0, padding: 0, maxWidth: 'none', minHeight: 0, backgroundColor: '#fff', color: '#000' },
}));

/** What goes onto paper: everything else stays on the screen. */
const onPaper = (
  <GlobalStyles
    styles={{
      '@page': { size: 'A4', margin: '18mm 16mm' },
      '@media print': {
        '.no-print, main header, nav, aside': { display: 'none !important' },
        'html, body': { background: '#fff !important', color: '#000 !important' },
        '#root > div': { display: 'block !important', height: 'auto !important' },
        '*': { overflow: 'visible !important' },
        tr: { breakInside: 'avoid' },
      },
    }}
  />
);

/** A sheet of paper on the page; it alone is printed. */
export function PaperSheet({ children }: { children: ReactNode }) {
  return (
    <>
      {onPaper}
      <Leaf>{children}</Leaf>
    </>
  );
}

export const Two = styled('div')({ display: 'flex', justifyContent: 'space-between', gap: 24, alignItems: 'flex-start' });

const Soft = styled('span')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: 14 }));

/** A text of several lines as it was written. */
export function Lines({ text }: { text: string | undefined }) {
  return (
    <>
      {(text ?? '').split('\n').map((line, i) => (
        <div key={i}>
          <Soft>{line}</Soft>
        </div>
      ))}
    </>
  );
}

export const Totals = styled('table')(({ theme }) => ({
  marginLeft: 'auto',
  marginTop: 10,
  borderSpacing: 0,
  minWidth: 320,
  '& td': { padding: '3px 5px' },
  '& td:last-child': { textAlign: 'right', width: 130 },
  '& .held': { color: theme.vars!.palette.tally.held },
  '& .total td': { fontWeight: 650 },
  '& .left td': { fontWeight: 650, paddingTop: 6 },
}));

/** Sheets one under another, each on a page of its own. */
export const Sheets = styled('div')({ display: 'grid', gap: 18, '& article': { breakAfter: 'page' } });
