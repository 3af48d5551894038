import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { Leads } from '../parts/may';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Failure, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { PositionRow } from '../parts/Position';
import { kindName, show, showDay } from '../parts/show';
import { AsOfBar, useAsOf } from './AsOf';

/** An article's register: what came and went, with what was there after it. */
export default function StockPage() {
  const id = Number(useParams().id);
  const [asOf, setAsOf] = useAsOf();
  const stock = useQuery({
    queryKey: ['stock', id, asOf],
    queryFn: () => data(api.GET('/api/v1/stock/{id}', { params: { path: { id }, query: { asOf } } })),
    placeholderData: keepPreviousData,
  });
  useBack(useLeave('/ledger/registers?register=stock'));
  if (stock.isError && !stock.data)
    return (
      <Page>
        <Failure error={stock.error} />
      </Page>
    );
  const s = stock.data;
  if (!s) return null;
  const numbers = s.serials ?? [];
  return (
    <Page>
      <PageHead title={s.name} under={s.code}>
        <Leads variant="outlined" to={'/papers/new/stock_use'}>
          Used on a job
        </Leads>
        <Leads variant="outlined" to={'/papers/new/stock_count'}>
          Count
        </Leads>
      </PageHead>
      <AsOfBar asOf={asOf} onChange={setAsOf} />
      <PositionRow
        figures={[
          { name: `In stock${s.unit && `, ${s.unit}`}`, value: s.quantity },
          { name: 'Average cost', value: s.average || '–' },
          { name: 'Worth', value: s.value, final: true },
          { name: 'To come', value: s.toCome },
          { name: 'To go', value: s.toGo },
        ]}
      />
      {s.serial && (
        <Typography variant="body2">
          {numbers.length ? `In stock today: ${numbers.join(', ')}` : 'None of its numbered pieces is in stock today.'}
        </Typography>
      )}
      {s.moves.length === 0 ? (
        <Typography variant="body2" color="textSecondary">
          Nothing has come or gone yet. What is bought, counted, used, delivered and sold will stand here, in order.
        </Typography>
      ) : (
        <Table aria-label="What came and went">
          <TableHead>
            <TableRow>
              <TableCell>Date</TableCell>
              <TableCell>Paper</TableCell>
              <TableCell>What happened</TableCell>
              <TableCell align="right">Quantity</TableCell>
              <TableCell align="right">Worth</TableCell>
              <TableCell align="right">Then there</TableCell>
              <TableCell align="right">Then worth</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {s.moves.map((m) => (
              <TableRow key={m.id}>
                <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(m.day)}</TableCell>
                <TableCell>
                  <Link to={`/papers/${m.paperId}`}>{m.number}</Link>
                </TableCell>
                <TableCell>{[kindName(m.kind), m.party, m.serials].filter(Boolean).join(' · ')}</TableCell>
                <TableCell align="right">{show(m.quantity)}</TableCell>
                <TableCell align="right">
                  <Amount value={m.value} />
                </TableCell>
                <TableCell align="right">{show(m.there)}</TableCell>
                <TableCell align="right">
                  <Amount value={m.worth} />
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <Margin>
        <ListNote title="Stock">
          Goods come in at what they cost and leave at the average. The sum of all articles is the account of stock, on every day.
        </ListNote>
      </Margin>
    </Page>
  );
}
