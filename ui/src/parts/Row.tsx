import { styled } from '@mui/material/styles';
import TableRow from '@mui/material/TableRow';

/** A row that opens by a click or by Enter; mark it data-row for the arrow keys. */
export const Row = styled(TableRow)(({ theme }) => ({
  cursor: 'pointer',
  '&:hover, &[data-open]': { backgroundColor: theme.vars!.palette.tally.second },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: -2 },
}));
