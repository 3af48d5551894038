import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import type { LateChargeBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';

/** What is charged for what was overdue, and through which day. */
export default function LateChargeFields() {
  const { body, change, effect, refused } = useEditing<LateChargeBody>();
  const p = effect?.paper;
  return (
    <>
      <FormGrid>
        <PartyFields customer={body.customer ?? 0} job={0} onChange={(customer) => change({ customer })} refused={refused}>
          {(customer) => <div className="wide">{customer}</div>}
        </PartyFields>
        <Figure kind="percent" label="Interest, % a year" name="percent" />
        <Figure kind="day" label="Charged through" name="through" />
        <Figure kind="quantity" label="Days of grace" name="grace" />
        <Figure kind="amount" label="Fee" name="fee" />
        <Figure kind="day" label="Invoice date" name="day" />
        <Figure kind="due" label="Due date" name="due" offered={p?.due} paper={body.day} />
        <Text label="Reference" name="reference" optional />
        <Text label="Number (empty: the next)" name="number" placeholder={p?.number} optional />
        <Text label="Note to the customer" name="note" className="wide" multiline />
      </FormGrid>
      {p && p.lines.length > 0 && (
        <Table aria-label="What is charged" sx={{ mt: 2 }}>
          <TableBody>
            {p.lines.map((l, n) => (
              <TableRow key={n}>
                <TableCell>{l.text}</TableCell>
                <TableCell align="right">
                  <Amount value={l.amount} />
                </TableCell>
              </TableRow>
            ))}
            <TableRow>
              <TableCell>
                <b>In all</b>
              </TableCell>
              <TableCell align="right">
                <Amount value={p.total} final />
              </TableCell>
            </TableRow>
          </TableBody>
        </Table>
      )}
    </>
  );
}
