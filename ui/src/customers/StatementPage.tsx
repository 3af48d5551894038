import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { useBack } from '../parts/keys';
import { Failure, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { useToday } from '../parts/records';
import { Lines, PaperSheet, Two } from '../parts/Sheet';
import { showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';

const Span = styled('div')({ display: 'flex', gap: 10, alignItems: 'center' });

/** What a customer is told of a span: opening, every movement, closing. */
export default function StatementPage() {
  const id = Number(useParams().id);
  const today = useToday();
  const [params, setParams] = useSearchParams();
  const from = params.get('from') ?? `${today.slice(0, 4)}-01-01`;
  const through = params.get('through') ?? today;
  const go = useNavigate();
  useBack(() => go(-1));
  const statement = useQuery({
    queryKey: ['statement', id, from, through],
    queryFn: () => data(api.GET('/api/v1/customers/{id}/statement', { params: { path: { id }, query: { from, through } } })),
    placeholderData: keepPreviousData,
  });
  const set = (name: string, v: string) =>
    /^\d{4}-\d{2}-\d{2}$/.test(v) && setParams({ from, through, [name]: v }, { replace: true });
  const s = statement.data;
  return (
    <Page>
      <PageHead title={s ? `Statement for ${s.customer}` : 'Statement'}>
        <Span>
          <UnderstoodField kind="day" label="From" field="from" value={from} onChange={(v) => set('from', v)} width={130} />
          <UnderstoodField
            kind="day"
            label="Through"
            field="through"
            value={through}
            onChange={(v) => set('through', v)}
            width={130}
          />
          <Button variant="contained" onClick={() => window.print()}>
            Print
          </Button>
        </Span>
      </PageHead>
      {statement.isError && <Failure error={statement.error} />}
      {s && (
        <PaperSheet>
          <Two>
            <div>
              <Typography variant="h2">{s.firm}</Typography>
              <Lines text={s.address} />
            </div>
            <div style={{ textAlign: 'right' }}>
              <Typography variant="h1">Statement</Typography>
              {showDay(s.from)} to {showDay(s.through)}
            </div>
          </Two>
          <div style={{ margin: '14px 0' }}>
            <b>{s.customer}</b>
            <Lines text={s.customerAddress} />
          </div>
          <Table>
            <TableHead>
              <TableRow>
                <TableCell>Day</TableCell>
                <TableCell>Paper</TableCell>
                <TableCell>What happened</TableCell>
                <TableCell align="right">Amount</TableCell>
                <TableCell align="right">Balance</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              <TableRow>
                <TableCell>{showDay(s.from, through)}</TableCell>
                <TableCell />
                <TableCell>Balance brought forward</TableCell>
                <TableCell />
                <TableCell align="right">
                  <Amount value={s.opening} />
                </TableCell>
              </TableRow>
              {(s.rows ?? [])
                .filter((r) => r.kind !== 'deposit')
                .map((r, i) => (
                  <TableRow key={i}>
                    <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(r.day, through)}</TableCell>
                    <TableCell sx={{ whiteSpace: 'nowrap' }}>{r.number}</TableCell>
                    <TableCell>{r.text}</TableCell>
                    <TableCell align="right">
                      <Amount value={r.amount} />
                    </TableCell>
                    <TableCell align="right">
                      <Amount value={r.balance} />
                    </TableCell>
                  </TableRow>
                ))}
              <TableRow>
                <TableCell>{showDay(s.through, through)}</TableCell>
                <TableCell />
                <TableCell>
                  <b>Balance</b>
                </TableCell>
                <TableCell />
                <TableCell align="right">
                  <Amount value={s.closing} final strong />
                </TableCell>
              </TableRow>
            </TableBody>
          </Table>
          <Two style={{ marginTop: 18 }}>
            <table>
              <tbody>
                {(s.ageing.buckets ?? []).map((name, i) => (
                  <tr key={name}>
                    <td style={{ paddingRight: 24 }}>{name === 'not due' ? 'Not due' : `${name} days overdue`}</td>
                    <td align="right">
                      <Amount value={s.ageing.total.buckets?.[i]} />
                    </td>
                  </tr>
                ))}
                <tr>
                  <td style={{ paddingRight: 24 }}>Credits not placed</td>
                  <td align="right">
                    <Amount value={s.ageing.total.unplaced} />
                  </td>
                </tr>
              </tbody>
            </table>
            <table style={{ marginLeft: 'auto' }}>
              <tbody>
                <tr>
                  <td style={{ paddingRight: 24 }}>Held for you</td>
                  <td align="right">
                    <Amount value={s.held} tone="held" />
                  </td>
                </tr>
                <tr>
                  <td style={{ paddingRight: 24 }}>Net</td>
                  <td align="right">
                    <Amount value={s.net} strong />
                  </td>
                </tr>
              </tbody>
            </table>
          </Two>
        </PaperSheet>
      )}
      <Margin>
        <ListNote title="Statement">
          Opening balance, every movement, closing balance: the closing balance is what the ledger says of this customer on that
          day. Deposits are told below, never inside.
        </ListNote>
      </Margin>
    </Page>
  );
}
