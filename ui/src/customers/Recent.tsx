import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Allocation } from '../api/client';
import { Amount } from '../parts/Amount';
import { useToday } from '../parts/records';
import { showDay } from '../parts/show';

interface Props {
  rows: Allocation[];
  undoing: number | null;
  onUndo: (id: number) => void;
  moving: number;
  onMove: (id: number) => void;
}

/** What was set against what lately, to be undone or moved from here. */
export function Recent({ rows, undoing, onUndo, moving, onMove }: Props) {
  const [open, setOpen] = useState(moving > 0);
  const today = useToday();
  if (rows.length === 0) return null;
  return (
    <div>
      <Button onClick={() => setOpen(!open)} aria-expanded={open}>
        Set against lately ({rows.length})
      </Button>
      {open && (
        <Table aria-label="Set against lately">
          <TableBody>
            {rows.map((a) => (
              <TableRow key={a.id} selected={undoing === a.id || moving === a.id}>
                <TableCell>{showDay(a.day, today)}</TableCell>
                <TableCell>
                  {a.credit} against {a.debit}
                </TableCell>
                <TableCell align="right">
                  <Amount value={a.amount} code={a.currency} />
                </TableCell>
                <TableCell align="right">
                  <Button onClick={() => onMove(a.id)}>{moving === a.id ? 'take where to' : 'Move'}</Button>
                  <Button onClick={() => onUndo(a.id)}>{undoing === a.id ? 'shown in the Effect' : 'Undo'}</Button>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {moving > 0 && (
        <Typography variant="body2" color="textSecondary">
          Take above what it is to stand against instead: the Effect shows both, and “Move”, or Ctrl Enter, does them in one step.
        </Typography>
      )}
      {open && undoing !== null && (
        <Typography variant="body2" color="textSecondary">
          The Effect shows what undoing does. Press “Undo” above, or Ctrl Enter.
        </Typography>
      )}
    </div>
  );
}
