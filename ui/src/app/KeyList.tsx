import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';

const keys: [string, string][] = [
  ['w', 'What happened? From inside a field: Ctrl Alt w'],
  ['n', 'The next loose end'],
  ['/', 'Find a name, number, amount'],
  ['g then d c j p b l', 'Desk, Customers, Jobs, Papers, Bank, Ledger'],
  ['g then f', 'Another firm’s books'],
  ['Ctrl Enter', 'Post what is on screen'],
  ['y', 'Why? The papers that add up to the figure in focus'],
  ['Esc', 'Back, without loss'],
  ['↑ ↓', 'From row to row'],
  ['Enter', 'Open a row, or do its next step'],
  ['Enter in a field', 'The next field; at the end of a line, the next line'],
  ['Space, Shift ↓, Ctrl A', 'In a list: choose a row, several, all that is shown'],
  ['Ctrl Z, Ctrl Y', 'Undo what was typed, do it again'],
  ['Alt ↑ ↓ c Ins Del', 'Move, copy, insert, take away a line'],
  ['?', 'This list'],
];

/** The list of keys. */
export function KeyList({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="keys">
      <DialogTitle id="keys">Keys</DialogTitle>
      <DialogContent>
        <Table>
          <TableBody>
            {keys.map(([key, does]) => (
              <TableRow key={key}>
                <TableCell sx={{ whiteSpace: 'nowrap', fontWeight: 650 }}>{key}</TableCell>
                <TableCell>{does}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
    </Dialog>
  );
}
