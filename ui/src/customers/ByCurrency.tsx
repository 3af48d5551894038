import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { Customer } from '../api/client';
import { Amount } from '../parts/Amount';
import { useFirm } from '../parts/records';

/** Where a customer stands in each currency, and what that stands at in the firm's. */
export function ByCurrency({ rows }: { rows: NonNullable<Customer['byCurrency']> }) {
  const own = useFirm().data?.currency;
  return (
    <Table aria-label="By currency">
      <TableHead>
        <TableRow>
          <TableCell>Currency</TableCell>
          <TableCell align="right">Owes now</TableCell>
          <TableCell align="right">Not yet due</TableCell>
          <TableCell align="right">Keeps back</TableCell>
          <TableCell align="right">We hold</TableCell>
          <TableCell align="right">Credits not used</TableCell>
          <TableCell align="right">Balance</TableCell>
          <TableCell align="right">In {own}</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((r) => (
          <TableRow key={r.currency}>
            <TableCell>{r.currency || own}</TableCell>
            {[r.owesNow, r.notYetDue, r.keepsBack].map((v, n) => (
              <TableCell key={n} align="right">
                <Amount value={v} quietNil />
              </TableCell>
            ))}
            <TableCell align="right">
              <Amount value={r.held} tone="held" quietNil />
            </TableCell>
            <TableCell align="right">
              <Amount value={r.unplaced} quietNil />
            </TableCell>
            <TableCell align="right">
              <Amount value={r.net} strong />
            </TableCell>
            <TableCell align="right">
              <Amount value={r.base} />
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
