import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useNavigate, useSearchParams } from 'react-router';
import { api, data, type PaperRow } from '../api/client';
import type { operations } from '../api/schema';
import { Amount } from '../parts/Amount';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { useToday } from '../parts/records';
import { isNil, kindName, showDay } from '../parts/show';
import { Row } from '../parts/Row';

const columnsOn = (today: string): Column<PaperRow>[] => [
  { id: 'day', title: 'Day', cell: (r) => showDay(r.day, today) },
  { id: 'number', title: 'Number', cell: (r) => r.number },
  { id: 'kind', title: 'Kind', cell: (r) => r.kind },
  { id: 'party', title: 'Customer', cell: (r) => r.customer },
  { id: 'job', title: 'Job', cell: (r) => r.job, hidden: true },
  { id: 'title', title: 'What', cell: (r) => r.title, hidden: true },
  { id: 'reference', title: 'Reference', cell: (r) => r.reference, hidden: true },
  { id: 'due', title: 'Due', cell: (r) => showDay(r.due, today), hidden: true },
  { id: 'state', title: 'State', cell: (r) => <Mark settled={r.settled} state={r.state} overdue={r.overdue} />, sort: false },
  { id: 'total', title: 'Total', cell: (r) => <Amount value={r.total} />, figure: true },
  { id: 'open', title: 'Open', cell: (r) => (isNil(r.open) ? '' : <Amount value={r.open} />), figure: true },
];

const states = [
  { value: '', name: 'All' },
  { value: 'draft', name: 'Drafts' },
  { value: 'open', name: 'Open' },
  { value: 'overdue', name: 'Overdue' },
  { value: 'settled', name: 'Settled' },
  { value: 'reversed', name: 'Reversed' },
];

type PaperKind = NonNullable<NonNullable<operations['papers']['parameters']['query']>['kind']>;

// In the order in which a person would tell them; the API's description says which there are.
const kinds = Object.keys({
  invoice: true,
  deposit: true,
  receipt: true,
  'unidentified receipt': true,
  refund: true,
  forfeit: true,
  transfer: true,
  'returned payment': true,
  'write-off': true,
  recovery: true,
  contra: true,
  'supplier bill': true,
  journal: true,
  reversal: true,
} satisfies Record<PaperKind, true>);

/** Every paper of every kind in one list. */
export default function PaperList() {
  const [params, setParams] = useSearchParams();
  const go = useNavigate();
  const today = useToday();
  const drafts = params.get('state') === 'draft';
  const kind = params.get('kind') ?? '';
  const set = (name: string, v: string) =>
    setParams(
      (old) => {
        const now = new URLSearchParams(old);
        if (v) now.set(name, v);
        else now.delete(name);
        return now;
      },
      { replace: true },
    );
  const kindFilter = (
    <TextField
      select
      label="Kind"
      value={kind}
      onChange={(e) => set('kind', e.target.value)}
      sx={{ width: 190 }}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">every kind</MenuItem>
      {kinds.map((k) => (
        <MenuItem key={k} value={k}>
          {kindName(k)}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <Page>
      <PageHead title="Papers">
        {['invoice', 'deposit', 'receipt'].map((k) => (
          <Button key={k} variant="outlined" onClick={() => go(`/papers/new/${k}`)}>
            New {k}
          </Button>
        ))}
      </PageHead>
      {drafts ? (
        <Drafts onAll={() => set('state', '')} kindFilter={kindFilter} />
      ) : (
        <ListTable<PaperRow>
          id="papers"
          path="/api/v1/papers"
          columns={columnsOn(today)}
          filters={{ param: 'state', options: states }}
          extra={kindFilter}
          search="Number, name, reference, amount"
          to={(r) => `/papers/${r.id}`}
          empty={
            <Empty action="New deposit" onAction={() => go('/papers/new/deposit')}>
              Here will be every invoice, deposit and receipt. Begin with what happened: key w.
            </Empty>
          }
        />
      )}
      <Margin>
        <ListNote title="Papers">
          Filters live in the address: keep a bookmark of the ones that you use often. Choose a paper to see its entries and what
          settled it.
        </ListNote>
      </Margin>
    </Page>
  );
}

function Drafts({ onAll, kindFilter }: { onAll: () => void; kindFilter: React.ReactNode }) {
  const list = useQuery({ queryKey: ['drafts'], queryFn: () => data(api.GET('/api/v1/drafts')) });
  const go = useNavigate();
  const kind = useSearchParams()[0].get('kind');
  const rows = (list.data?.rows ?? []).filter((d) => !kind || d.kind === kind);
  return (
    <>
      <div style={{ display: 'flex', gap: 10 }}>
        <Button onClick={onAll}>All papers</Button>
        {kindFilter}
      </div>
      {list.isSuccess && rows.length === 0 && (
        <Empty>No drafts. A paper that is begun saves itself and waits here until it is posted or thrown away.</Empty>
      )}
      {rows.length > 0 && (
        <Table aria-label="Drafts">
          <TableBody>
            {rows.map((d) => (
              <Row
                key={d.id}
                data-row
                tabIndex={0}
                onClick={() => go(`/papers/drafts/${d.id}`)}
                onKeyDown={(e) => e.key === 'Enter' && go(`/papers/drafts/${d.id}`)}
              >
                <TableCell>{d.kind}</TableCell>
                <TableCell>{d.customer || 'no customer yet'}</TableCell>
                <TableCell>{d.job && `job ${d.job}`}</TableCell>
                <TableCell>{d.title}</TableCell>
                <TableCell align="right">
                  <Amount value={d.total} />
                </TableCell>
              </Row>
            ))}
          </TableBody>
        </Table>
      )}
    </>
  );
}
