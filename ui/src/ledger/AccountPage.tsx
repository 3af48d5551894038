import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useNavigate, useParams } from 'react-router';
import { api, data } from '../api/client';
import { isDay, useLookingBack } from '../parts/asOf';
import { Amount } from '../parts/Amount';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Empty, Failure, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ExportAs } from '../parts/ExportAs';
import { More } from '../parts/More';
import { Margin } from '../parts/Margin';
import { show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { OneStop } from '../parts/OneStop';
import { Row } from '../parts/Row';
import { useAddress } from '../parts/useAddress';

/** An account's register: its lines with the running balance. */
export default function AccountPage() {
  const id = Number(useParams().id);
  const [params, setAddress] = useAddress();
  const from = params.get('from') ?? '';
  const past = useLookingBack();
  const to = params.get('to') ?? past;
  const go = useNavigate();
  useBack(useLeave('/ledger/accounts'));
  const list = useInfiniteQuery({
    queryKey: ['account', id, from, to],
    queryFn: ({ pageParam }) =>
      data(
        api.GET('/api/v1/accounts/{id}/lines', {
          params: { path: { id }, query: { from: from || undefined, to: to || undefined, after: pageParam || undefined } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (p) => p.next || undefined,
  });
  const set = (name: string, v: string) => {
    if (v === '' || isDay(v)) setAddress(name, v);
  };
  const first = list.data?.pages[0];
  const rows = list.data?.pages.flatMap((p) => p.rows) ?? [];
  const query = new URLSearchParams();
  if (from) query.set('from', from);
  if (to) query.set('to', to);
  return (
    <Page>
      <PageHead
        title={first?.account ?? 'Account'}
        under={first && `${first.type} · ${show(first.balance)}${to ? ` at the end of ${showDay(to)}` : ''}`}
      >
        <UnderstoodField
          kind="day"
          label="From"
          field="from"
          value={from || first?.from || ''}
          onChange={(v) => set('from', v)}
          width={130}
        />
        <UnderstoodField kind="day" label="Through" field="to" value={to} onChange={(v) => set('to', v)} width={130} />
        <ExportAs path={`/api/v1/accounts/${id}/lines`} query={query} />
      </PageHead>
      {list.isError && !list.data && <Failure error={list.error} />}
      {first && rows.length === 0 && <Empty>Nothing is posted to this account in this span.</Empty>}
      {rows.length > 0 && (
        <OneStop>
          <Table>
            <TableHead>
              <TableRow>
                <TableCell>Date</TableCell>
                <TableCell>Paper</TableCell>
                <TableCell>Text</TableCell>
                <TableCell>Customer</TableCell>
                <TableCell>Job</TableCell>
                <TableCell align="right">Debit</TableCell>
                <TableCell align="right">Credit</TableCell>
                <TableCell align="right">Balance</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {first && (
                <TableRow>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(first.from)}</TableCell>
                  <TableCell />
                  <TableCell colSpan={5}>Opening balance</TableCell>
                  <TableCell align="right">
                    <Amount value={first.opening} />
                  </TableCell>
                </TableRow>
              )}
              {rows.map((l) => (
                <Row
                  key={l.id}
                  data-row={l.id}
                  tabIndex={-1}
                  onClick={() => go(`/papers/${l.paperId}`)}
                  onKeyDown={(e) => e.key === 'Enter' && go(`/papers/${l.paperId}`)}
                >
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(l.day)}</TableCell>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{l.paper}</TableCell>
                  <TableCell>{l.text}</TableCell>
                  <TableCell>{l.party}</TableCell>
                  <TableCell>{l.job}</TableCell>
                  <TableCell align="right">
                    <Amount value={l.debit} />
                  </TableCell>
                  <TableCell align="right">
                    <Amount value={l.credit} />
                  </TableCell>
                  <TableCell align="right">
                    <Amount value={l.balance} />
                  </TableCell>
                </Row>
              ))}
            </TableBody>
          </Table>
        </OneStop>
      )}
      {list.hasNextPage && <More busy={list.isFetchingNextPage} onMore={() => void list.fetchNextPage()} />}
      <Margin>
        <ListNote title="Account">
          From the opening balance on, the oldest first, with the balance after each line. A line opens its paper.
        </ListNote>
      </Margin>
    </Page>
  );
}
