import { useSearchParams } from 'react-router';
import ToggleButton from '@mui/material/ToggleButton';
import type { OpenItem, PaperRow } from '../api/client';
import { Amount } from '../parts/Amount';
import { useAbroad } from '../parts/currencies';
import { Empty } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Filters } from '../parts/ListFilters';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { showDay } from '../parts/show';
import { AdvanceRegister } from './AdvanceRegister';
import { AsOfBar, useAsOf } from './AsOf';
import { OrderRegister } from './OrderRegister';
import { StockRegister } from './StockRegister';

const registers = [
  { id: 'receivables', name: 'Receivables', open: 'Open' },
  { id: 'retention', name: 'Retention', open: 'Kept back' },
  { id: 'deposits', name: 'Deposits', open: 'Still held' },
  { id: 'unidentified', name: 'Not identified', open: 'Not identified' },
  { id: 'payables', name: 'Payables', open: 'We owe' },
  { id: 'supplier prepayments', name: 'Prepaid', open: 'Prepaid' },
  { id: 'retention payable', name: 'We keep back', open: 'We keep back' },
  { id: 'stock', name: 'Stock', open: '' },
  { id: 'advance', name: 'Billed in advance', open: '' },
  { id: 'ordered', name: 'Ordered', open: '' },
  { id: 'guarantees', name: 'Guarantees', open: '' },
];

const ofBuying = ['payables', 'supplier prepayments', 'retention payable', 'stock'];

const guarantees: Column<PaperRow>[] = [
  { id: 'number', title: 'Paper', cell: (p) => p.number },
  { id: 'party', title: 'Customer', cell: (p) => p.customer, wide: true },
  { id: 'job', title: 'Job', cell: (p) => p.job },
  { id: 'title', title: 'What', cell: (p) => p.title, sort: false },
  { id: 'day', title: 'Date', cell: (p) => showDay(p.day) },
  { id: 'due', title: 'Last date', cell: (p) => showDay(p.due) },
  { id: 'state', title: 'State', cell: (p) => p.state, sort: false },
  { id: 'total', title: 'Amount', cell: (p) => <Amount value={p.total} />, figure: true },
];

const inItsCurrency: Column<OpenItem> = {
  id: 'own',
  title: 'In its currency',
  cell: (i) => i.own,
  sort: false,
  figure: true,
  share: 13,
  text: (i) => i.own ?? '',
};

/** The open items of a register as of a day; their sum is the account. */
export function Registers() {
  const [params, setParams] = useSearchParams();
  const [asOf, setAsOf] = useAsOf();
  const here = registers.find((r) => r.id === params.get('register')) ?? registers[0]!;
  const register = here.id;
  const abroad = useAbroad();
  const columns: Column<OpenItem>[] = [
    { id: 'number', title: 'Paper', cell: (i) => (i.instalment ? `${i.number}, part ${i.instalment}` : i.number) },
    {
      id: 'party',
      title: ofBuying.includes(register) ? 'Supplier' : 'Customer',
      cell: (i) => i.customer || 'nobody yet',
      share: 18,
    },
    { id: 'job', title: 'Job', cell: (i) => i.job, share: 6 },
    { id: 'reference', title: 'Reference', cell: (i) => i.reference, hidden: register !== 'unidentified' },
    { id: 'day', title: 'Date', cell: (i) => showDay(i.day, asOf) },
    {
      id: 'due',
      title: 'Due date',
      cell: (i) => showDay(i.due, asOf),
      hidden: register === 'deposits' || register === 'unidentified',
    },
    {
      id: 'state',
      title: 'State',
      cell: (i) => (i.disputed ? 'disputed' : <Mark settled={i.settled} state={i.state} />),
      sort: false,
      share: 14,
    },
    ...(abroad ? [inItsCurrency] : []),
    { id: 'amount', title: 'Amount', cell: (i) => <Amount value={i.told} />, figure: true },
    {
      id: 'open',
      title: here.open,
      cell: (i) => <Amount value={i.toldOpen} why={{ of: 'item', id: i.id, name: `open · ${i.number}` }} />,
      figure: true,
    },
  ];
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf}>
        {[false, true].map((bought) => (
          <Filters
            key={String(bought)}
            exclusive
            size="small"
            value={register}
            onChange={(_, v) => v && setParams({ register: v, ...(params.get('asOf') ? { asOf } : {}) })}
            aria-label={bought ? 'Register of what we buy' : 'Register'}
          >
            {registers
              .filter((r) => ofBuying.includes(r.id) === bought)
              .map((r) => (
                <ToggleButton key={r.id} value={r.id} sx={{ whiteSpace: 'nowrap' }}>
                  {r.name}
                </ToggleButton>
              ))}
          </Filters>
        ))}
      </AsOfBar>
      {register === 'advance' ? (
        <AdvanceRegister asOf={asOf} />
      ) : register === 'stock' ? (
        <StockRegister asOf={asOf} />
      ) : register === 'ordered' ? (
        <OrderRegister asOf={asOf} />
      ) : register === 'guarantees' ? (
        <ListTable<PaperRow>
          key={register}
          id="register-guarantees"
          path="/api/v1/papers"
          columns={guarantees}
          fixed={{ asOf, register: undefined, kind: 'guarantee' }}
          search="Number, name, reference, amount"
          to={(p) => `/papers/${p.id}`}
          empty={<Empty>No guarantee stood in the place of retention at the end of this day.</Empty>}
        />
      ) : (
        <ListTable<OpenItem>
          key={register}
          id={`register-${register}`}
          path={`/api/v1/registers/${register}`}
          columns={columns}
          fixed={{ asOf, register: undefined }}
          search="Paper, customer, reference"
          to={(i) => `/papers/${i.paperId}`}
          empty={<Empty>Nothing was open in this register at the end of this day.</Empty>}
        />
      )}
      <Margin>
        <ListNote title="Registers">
          What was open at the end of the day that you choose, allocations undone since included. The sum equals the control
          account on that day; a deposit that was taxed on receipt stands in its account without the tax.
        </ListNote>
      </Margin>
    </>
  );
}
