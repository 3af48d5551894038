import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { Empty } from '../parts/Layout';
import { kindName, showDay } from '../parts/show';

/** What of a customer is open: all that somebody sees who takes money alone. */
export function OpenPapers({ customer }: { customer: number }) {
  const open = useQuery({
    queryKey: ['papers', 'open of', customer],
    queryFn: () => data(api.GET('/api/v1/papers', { params: { query: { customer, state: 'open', limit: 200 } } })),
  });
  const rows = open.data?.rows;
  if (!rows) return null;
  if (rows.length === 0) return <Empty>Nothing of this customer is open.</Empty>;
  return (
    <Table aria-label="Open papers">
      <TableHead>
        <TableRow>
          <TableCell>Paper</TableCell>
          <TableCell>Day</TableCell>
          <TableCell>Due</TableCell>
          <TableCell>State</TableCell>
          <TableCell align="right">Total</TableCell>
          <TableCell align="right">Open</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((p) => (
          <TableRow key={p.id}>
            <TableCell>
              <Link to={`/papers/${p.id}`}>
                {kindName(p.kind)} {p.number}
              </Link>
            </TableCell>
            <TableCell>{showDay(p.day)}</TableCell>
            <TableCell>{p.due && showDay(p.due)}</TableCell>
            <TableCell>{p.overdue ? 'overdue' : p.state}</TableCell>
            <TableCell align="right">
              <Amount value={p.currency ? p.ownTotal : p.total} code={p.currency} />
            </TableCell>
            <TableCell align="right">
              <Amount value={p.currency ? p.ownOpen : p.open} code={p.currency} />
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
