import type { OrderRow } from '../api/client';
import { Amount } from '../parts/Amount';
import { useAbroad } from '../parts/currencies';
import { Empty } from '../parts/Layout';
import { ListTable, type Column } from '../parts/ListTable';
import { showDay } from '../parts/show';

const columns: Column<OrderRow>[] = [
  { id: 'number', title: 'Order', cell: (o) => o.number },
  { id: 'day', title: 'Date', cell: (o) => showDay(o.day) },
  { id: 'party', title: 'Customer', cell: (o) => o.customer, wide: true },
  { id: 'job', title: 'Job', cell: (o) => o.job },
  { id: 'title', title: 'What', cell: (o) => o.title, wide: true },
  { id: 'net', title: 'Net', cell: (o) => <Amount value={o.net} />, figure: true },
  { id: 'left', title: 'Left to bill', cell: (o) => <Amount value={o.left} />, figure: true },
];

const inItsCurrency: Column<OrderRow> = {
  id: 'own',
  title: 'Left, in its currency',
  cell: (o) => o.ownLeft && <Amount value={o.ownLeft} code={o.currency} />,
  sort: false,
  figure: true,
  hidden: true,
  text: (o) => o.ownLeft ?? '',
};

// The same list each time, so that rows that did not change are left alone.
const columnsAbroad = [...columns.slice(0, -1), inItsCurrency, ...columns.slice(-1)];

/** What is ordered and not billed, as of a day, with its sum. */
export function OrderRegister({ asOf }: { asOf: string }) {
  const abroad = useAbroad();
  return (
    <ListTable<OrderRow>
      id="order-register"
      path="/api/v1/order-register"
      columns={abroad ? columnsAbroad : columns}
      fixed={{ asOf, register: undefined }}
      search="Order, customer, job, what"
      to={(o) => `/papers/${o.id}`}
      empty={<Empty>All that was ordered was billed or cancelled by the end of this day.</Empty>}
    />
  );
}
