import type { AdvanceRow } from '../api/client';
import { Amount } from '../parts/Amount';
import { Empty } from '../parts/Layout';
import { ListTable, type Column } from '../parts/ListTable';
import { isNil, showDay } from '../parts/show';

const figure = (id: keyof AdvanceRow, title: string, sort = false, hidden = false): Column<AdvanceRow> => ({
  id,
  title,
  cell: (r) => (isNil(String(r[id])) ? '' : <Amount value={String(r[id])} />),
  figure: true,
  sort,
  hidden,
});

const columns: Column<AdvanceRow>[] = [
  { id: 'number', title: 'Paper', cell: (r) => r.number },
  { id: 'day', title: 'Date', cell: (r) => showDay(r.day) },
  { id: 'party', title: 'Customer', cell: (r) => r.customer, wide: true },
  { id: 'job', title: 'Job', cell: (r) => r.job },
  figure('net', 'Net', true),
  figure('deducted', 'Deducted'),
  figure('credited', 'Credited', false, true),
  figure('forfeited', 'Kept', false, true),
  figure('left', 'Left', true),
  figure('leftTax', 'Tax of that'),
];

/** What was billed in advance and what became of it; its sum is the account. */
export function AdvanceRegister({ asOf }: { asOf: string }) {
  return (
    <ListTable<AdvanceRow>
      id="advance-register"
      path="/api/v1/advance-register"
      columns={columns}
      fixed={{ asOf, register: undefined }}
      search="Paper, customer, job"
      to={(r) => `/papers/${r.id}`}
      empty={<Empty>Nothing was billed in advance and not deducted at the end of this day.</Empty>}
    />
  );
}
