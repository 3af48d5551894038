import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link, useNavigate } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { Empty } from '../parts/Layout';
import { OneStop } from '../parts/OneStop';
import { Row } from '../parts/Row';
import { useToday } from '../parts/records';
import { showDay } from '../parts/show';

/** What is ordered and not billed, as of a day, with its sum. */
export function OrderBook({ asOf }: { asOf: string }) {
  const today = useToday();
  const go = useNavigate();
  const book = useQuery({
    queryKey: ['order-book', 0, asOf],
    queryFn: () => data(api.GET('/api/v1/order-book', { params: { query: { asOf } } })),
    placeholderData: keepPreviousData,
  }).data;
  if (!book) return null;
  if (book.rows.length === 0) return <Empty>All that was ordered was billed or cancelled by the end of this day.</Empty>;
  return (
    <OneStop>
      <Table aria-label="Ordered and not billed">
        <TableHead>
          <TableRow>
            <TableCell>Order</TableCell>
            <TableCell>Date</TableCell>
            <TableCell>Customer</TableCell>
            <TableCell>Job</TableCell>
            <TableCell>What</TableCell>
            <TableCell align="right">Net</TableCell>
            <TableCell align="right">Left to bill</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {book.rows.map((o) => (
            <Row
              key={o.id}
              data-row={o.id}
              tabIndex={-1}
              onKeyDown={(e) => e.key === 'Enter' && void go(`/papers/${o.id}`)}
              onClick={() => void go(`/papers/${o.id}`)}
            >
              <TableCell>
                <Link to={`/papers/${o.id}`} tabIndex={-1}>
                  {o.number}
                </Link>
              </TableCell>
              <TableCell>{showDay(o.day, today)}</TableCell>
              <TableCell>{o.customer}</TableCell>
              <TableCell>{o.job}</TableCell>
              <TableCell>{o.title}</TableCell>
              <TableCell align="right">
                <Amount value={o.net} code={o.currency} />
              </TableCell>
              <TableCell align="right">
                <Amount value={o.left} code={o.currency} />
              </TableCell>
            </Row>
          ))}
        </TableBody>
        <TableFooter>
          <TableRow>
            <TableCell colSpan={6}>{book.rows.length} in all</TableCell>
            <TableCell align="right">
              <Amount value={book.left} strong />
            </TableCell>
          </TableRow>
        </TableFooter>
      </Table>
    </OneStop>
  );
}
