import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import ToggleButton from '@mui/material/ToggleButton';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { Leads } from '../parts/may';
import { api, data } from '../api/client';
import type { MailRow } from '../api/client';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Empty, Page, PageHead } from '../parts/Layout';
import { Filters, SearchField } from '../parts/ListFilters';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { OneStop } from '../parts/OneStop';
import { Row } from '../parts/Row';
import { useAddress } from '../parts/useAddress';
import { mailSeen, mailState } from './mailState';
import { MailAsItWent } from './MailAsItWent';
import { showMoment } from './moment';

const states = [
  { value: '', name: 'All' },
  { value: 'open', name: 'Not gone' },
  { value: 'failed', name: 'Failed' },
  { value: 'sent', name: 'Sent' },
];

/** What goes out by mail and what went; the one in hand shows itself in the margin. */
export default function Outbox() {
  const [params, set] = useAddress();
  const go = useNavigate();
  const id = Number(useParams().id) || 0;
  const state = (params.get('state') ?? '') as MailRow['state'] | 'open' | '';
  const q = params.get('q') ?? '';
  const customer = Number(params.get('customer')) || undefined;
  const list = useInfiniteQuery({
    queryKey: ['mails', state, q, customer],
    queryFn: ({ pageParam }) =>
      data(
        api.GET('/api/v1/mails', {
          params: { query: { state: state || undefined, q: q || undefined, customer, after: pageParam || undefined } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => last.next,
    placeholderData: keepPreviousData,
    refetchInterval: (x) => (x.state.data?.pages[0]?.rows.some((m) => m.state === 'waiting') ? 2000 : false),
  });
  const rows = list.data?.pages.flatMap((p) => p.rows) ?? [];
  const search = params.toString();
  const open = (m: MailRow) => void go(`/papers/outbox/${m.id}${search ? `?${search}` : ''}`, { replace: id > 0 });
  useBack(useLeave('/papers'));
  return (
    <Page>
      <PageHead title="Outbox" under="What goes out by mail, and what went">
        <Leads variant="outlined" to="/setup/mail">
          From where it goes
        </Leads>
      </PageHead>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <Filters
          exclusive
          size="small"
          value={state}
          onChange={(_, v) => v !== null && set('state', v as string)}
          aria-label="Mails that are"
        >
          {states.map((s) => (
            <ToggleButton key={s.value} value={s.value}>
              {s.name}
            </ToggleButton>
          ))}
        </Filters>
        <SearchField label="Subject, address, customer" value={q} onChange={(v) => set('q', v)} />
      </div>
      {list.isSuccess && rows.length === 0 && (
        <Empty>
          {state || q
            ? 'No mail is like that.'
            : 'Here will be every mail. Open a paper and choose Mail, or choose several in the list of papers.'}
        </Empty>
      )}
      {rows.length > 0 && (
        <OneStop>
          <Table aria-label="Mails">
            <TableHead>
              <TableRow>
                <TableCell>Written</TableCell>
                <TableCell>Customer</TableCell>
                <TableCell>Papers</TableCell>
                <TableCell>To</TableCell>
                <TableCell>State</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((m) => (
                <Row
                  key={m.id}
                  data-row={m.id}
                  tabIndex={-1}
                  selected={m.id === id}
                  onClick={() => open(m)}
                  onKeyDown={(e) => e.key === 'Enter' && open(m)}
                >
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showMoment(m.made)}</TableCell>
                  <TableCell>{m.customer}</TableCell>
                  <TableCell>{m.numbers || m.kind}</TableCell>
                  <TableCell sx={{ overflowWrap: 'anywhere' }}>{m.to.join(', ')}</TableCell>
                  <TableCell>
                    {mailState(m)}
                    {mailSeen(m) && `, ${mailSeen(m)}`}
                  </TableCell>
                </Row>
              ))}
            </TableBody>
          </Table>
        </OneStop>
      )}
      {list.hasNextPage && (
        <Button sx={{ alignSelf: 'flex-start' }} onClick={() => void list.fetchNextPage()}>
          Older ones
        </Button>
      )}
      <Margin>
        {id ? (
          <MailAsItWent key={id} id={id} />
        ) : (
          <ListNote title="Outbox">
            What does not get away is tried again, at growing pauses, for a day; then it is given up and stands on the{' '}
            <Link to="/desk">Desk</Link>. Choose a mail to read it as it went, with what went along.
          </ListNote>
        )}
      </Margin>
    </Page>
  );
}
