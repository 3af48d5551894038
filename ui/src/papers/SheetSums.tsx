import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { Amount } from '../parts/Amount';

// Plain cells: a long paper is on screen at once.
export const SheetLine = styled('tr')(({ theme }) => ({
  '& td': { padding: '5px 8px', borderBottom: `1px solid ${theme.vars!.palette.tally.rule}` },
  '& td.figure': { textAlign: 'right', whiteSpace: 'nowrap', fontVariantNumeric: 'tabular-nums lining-nums' },
}));

/** What is left in the end, under a double line. */
export function Rest({ name, value }: { name: string; value: string }) {
  return (
    <tr className="left">
      <td>{name}</td>
      <td>
        <Typography variant="figure">
          <Amount value={value} final />
        </Typography>
      </td>
    </tr>
  );
}

export function Sum({ name, value }: { name: string; value: string }) {
  return (
    <tr>
      <td>{name}</td>
      <td>
        <Amount value={value} />
      </td>
    </tr>
  );
}
