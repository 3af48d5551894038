import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { Leads } from '../parts/may';
import { api, data, type PaperRow } from '../api/client';
import type { operations } from '../api/schema';
import { Amount } from '../parts/Amount';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import type { Active } from '../parts/ListFilters';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { useAbroad } from '../parts/currencies';
import { useCustomer, useJob, useToday } from '../parts/records';
import { isNil, kindName, showDay } from '../parts/show';
import { OneStop } from '../parts/OneStop';
import { Row } from '../parts/Row';
import { MailMany } from '../outgoing/MailMany';
import { draftName } from './draftName';
import { PaperInEffect } from './PaperInEffect';
import { useAddress } from '../parts/useAddress';

const inItsCurrency: Column<PaperRow> = {
  id: 'own',
  title: 'In its currency',
  cell: (r) => r.currency && <Amount value={r.ownTotal} code={r.currency} />,
  sort: false,
  figure: true,
  text: (r) => (r.currency ? `${r.currency} ${r.ownTotal}` : ''),
};

const columnsOn = (today: string, abroad: boolean): Column<PaperRow>[] => [
  { id: 'day', title: 'Date', share: 9, cell: (r) => showDay(r.day, today) },
  { id: 'number', title: 'Number', share: 11, cell: (r) => r.number },
  { id: 'kind', title: 'Kind', share: 11, cell: (r) => r.kind },
  { id: 'party', title: 'Customer', cell: (r) => r.customer, wide: true },
  { id: 'job', title: 'Job', cell: (r) => r.job, hidden: true },
  { id: 'title', title: 'What', cell: (r) => r.title, hidden: true },
  { id: 'reference', title: 'Reference', cell: (r) => r.reference, hidden: true },
  { id: 'due', title: 'Due date', cell: (r) => showDay(r.due, today), hidden: true },
  {
    id: 'state',
    title: 'State',
    cell: (r) => <Mark settled={r.settled} state={r.sent ? `${r.state}, sent` : r.state} overdue={r.overdue} plain={!r.opens} />,
    sort: false,
    share: 19,
    text: (r) => [r.state, r.sent && 'sent', r.overdue && 'overdue'].filter(Boolean).join(', '),
  },
  ...(abroad ? [inItsCurrency] : []),
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
  quote: true,
  order: true,
  delivery: true,
  return: true,
  cancellation: true,
  'request for a deposit': true,
  'deposit invoice': true,
  invoice: true,
  'credit note': true,
  release: true,
  guarantee: true,
  deposit: true,
  receipt: true,
  'unidentified receipt': true,
  refund: true,
  forfeit: true,
  transfer: true,
  'returned payment': true,
  'card payout': true,
  'own transfer': true,
  opening: true,
  'claimed before': true,
  accrual: true,
  revaluation: true,
  'tax settlement': true,
  'year end': true,
  'write-off': true,
  recovery: true,
  contra: true,
  'purchase order': true,
  'goods received': true,
  'supplier bill': true,
  expense: true,
  'supplier credit': true,
  'supplier payment': true,
  'supplier prepayment': true,
  'supplier refund': true,
  'supplier release': true,
  'cost not passed on': true,
  'stock use': true,
  'stock count': true,
  journal: true,
  reversal: true,
} satisfies Record<PaperKind, true>);

/** Every paper of every kind in one list; the one in hand shows itself in the Effect's column. */
export default function PaperList() {
  const [params, set] = useAddress();
  const go = useNavigate();
  const today = useToday();
  const abroad = useAbroad();
  const columns = useMemo(() => columnsOn(today, abroad), [today, abroad]);
  const [looked, setLooked] = useState(0);
  const drafts = params.get('state') === 'draft';
  const kind = params.get('kind') ?? '';
  const active = useActive(params);
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
          <Leads key={k} variant="outlined" to={`/papers/new/${k}`}>
            New {k}
          </Leads>
        ))}
        <Leads variant="outlined" to="/papers/credits">
          Credits and returns
        </Leads>
        <Leads variant="outlined" to="/papers/outbox">
          Outbox
        </Leads>
      </PageHead>
      {drafts ? (
        <Drafts onAll={() => set('state', '')} kindFilter={kindFilter} />
      ) : (
        <ListTable<PaperRow>
          id="papers"
          path="/api/v1/papers"
          columns={columns}
          filters={{ param: 'state', options: states }}
          extra={kindFilter}
          search="Number, name, reference, amount"
          active={active}
          onLook={(r) => setLooked(r.id)}
          addsWithin="kind"
          several={(rows) => <Several rows={rows} />}
          to={(r) => `/papers/${r.id}`}
          empty={
            <Empty action="New deposit" onAction={() => go('/papers/new/deposit')}>
              Here will be every invoice, deposit and receipt. Begin with what happened: key w.
            </Empty>
          }
        />
      )}
      <Looked id={drafts ? 0 : looked} />
    </Page>
  );
}

/** What is done with several papers at once. */
function Several({ rows }: { rows: PaperRow[] }) {
  const of = new URLSearchParams(rows.map((r) => ['ids', String(r.id)]));
  const customer = rows[0]?.customerId ?? 0;
  const open = rows.filter((r) => !isNil(r.open));
  const oneCustomer = customer > 0 && rows.every((r) => r.customerId === customer);
  const against = new URLSearchParams(open.map((r) => ['papers', String(r.id)]));
  return (
    <>
      <Leads variant="outlined" to={`/papers/print?${of}`}>
        Print
      </Leads>
      <MailMany papers={rows.map((r) => r.id)} />
      {open.length > 1 && oneCustomer && (
        <Leads variant="outlined" to={`/customers/${customer}?${against}#bench`}>
          Set against
        </Leads>
      )}
    </>
  );
}

const pause = 120;

/** The paper that one stands on, without opening it. */
function Looked({ id }: { id: number }) {
  const [settled, setSettled] = useState(id);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(id), pause);
    return () => clearTimeout(timer);
  }, [id]);
  return (
    <Margin>
      {settled ? (
        <PaperInEffect id={settled} />
      ) : (
        <ListNote title="Papers">
          Walk up and down by the arrow keys: the paper that you stand on shows its entries and what settled it here. Enter opens
          it. Filters live in the address, and can be kept by a name.
        </ListNote>
      )}
    </Margin>
  );
}

/** The filters of the address, by name. */
function useActive(params: URLSearchParams): Active[] {
  const customer = useCustomer(Number(params.get('customer') ?? 0)).data;
  const job = useJob(Number(params.get('job') ?? 0)).data;
  const all: (Active | false | null)[] = [
    params.has('customer') && { param: 'customer', name: `Customer: ${customer?.name ?? '…'}` },
    params.has('job') && { param: 'job', name: `Job: ${job ? `${job.number} ${job.name}` : '…'}` },
    !!params.get('kind') && { param: 'kind', name: kindName(params.get('kind')!) },
    !!params.get('state') && { param: 'state', name: kindName(params.get('state')!) },
    !!params.get('q') && { param: 'q', name: `“${params.get('q')}”` },
    params.has('from') && { param: 'from', name: `from ${showDay(params.get('from')!)}` },
    params.has('to') && { param: 'to', name: `through ${showDay(params.get('to')!)}` },
  ];
  return all.filter((a) => !!a);
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
        <OneStop>
          <Table aria-label="Drafts">
            <TableBody>
              {rows.map((d) => (
                <Row
                  key={d.id}
                  data-row={d.id}
                  tabIndex={-1}
                  onClick={() => go(`/papers/drafts/${d.id}`)}
                  onKeyDown={(e) => e.key === 'Enter' && go(`/papers/drafts/${d.id}`)}
                >
                  <TableCell>{draftName(d.kind)}</TableCell>
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
        </OneStop>
      )}
    </>
  );
}
