import { useNavigate } from 'react-router';
import { Leads } from '../parts/may';
import type { components } from '../api/schema';
import { Amount } from '../parts/Amount';
import { Empty } from '../parts/Layout';
import { ListTable, type Column } from '../parts/ListTable';
import { show } from '../parts/show';

type Row = components['schemas']['StockRow'];

const quantity = (q: string, unit: string) => (q === '0' ? '' : `${show(q)} ${unit}`);

const columns: Column<Row>[] = [
  { id: 'code', title: 'Article', cell: (r) => r.code },
  { id: 'name', title: 'Name', cell: (r) => r.name, wide: true },
  { id: 'quantity', title: 'In stock', cell: (r) => `${show(r.quantity)} ${r.unit}`, figure: true },
  { id: 'average', title: 'Average cost', cell: (r) => show(r.average), figure: true, sort: false },
  { id: 'toCome', title: 'To come', cell: (r) => quantity(r.toCome, r.unit), figure: true, sort: false },
  { id: 'toGo', title: 'To go', cell: (r) => quantity(r.toGo, r.unit), figure: true, sort: false },
  { id: 'value', title: 'Worth', cell: (r) => <Amount value={r.value} />, figure: true },
];

/** What was in stock at the end of a day; its sum is the account. */
export function StockRegister({ asOf }: { asOf: string }) {
  const go = useNavigate();
  return (
    <ListTable<Row>
      id="stock"
      path="/api/v1/stock"
      columns={columns}
      fixed={{ asOf, register: undefined }}
      search="Article"
      to={(r) => `/ledger/stock/${r.id}`}
      extra={
        <>
          <Leads to={'/papers/new/stock_use'}>Used on a job</Leads>
          <Leads to={'/papers/new/stock_count'}>Count</Leads>
        </>
      }
      empty={
        <Empty action="Articles" onAction={() => go('/setup/articles')}>
          No article is kept in stock. An article says in its setup whether it is.
        </Empty>
      }
    />
  );
}
