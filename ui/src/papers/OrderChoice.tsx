import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data, type Order } from '../api/client';
import { RecordPicker } from '../parts/RecordPicker';
import { showDay } from '../parts/show';
import { useEditing } from './editing/Editing';

/** An order with what became of its lines; none while it is read. */
export function useOrder(id: number): Order | undefined {
  const { data: book } = useQuery({
    queryKey: ['order-book', 'order', id],
    queryFn: () => data(api.GET('/api/v1/order-book', { params: { query: { order: id } } })),
    enabled: !!id,
    placeholderData: keepPreviousData,
  });
  return book?.rows.find((o) => o.id === id);
}

async function findOrders(text: string) {
  const found = await data(api.GET('/api/v1/papers', { params: { query: { kind: 'order', q: text || undefined, limit: 8 } } }));
  return found.rows
    .filter((p) => p.state !== 'reversed' && p.state !== 'cancelled')
    .map((p) => ({ id: p.id, label: named(p), detail: `${showDay(p.day)}, ${p.state}` }));
}

const named = (o: { number: string; customer: string }) => `${o.number} ${o.customer}`;

/** The order that it is of; its lines go with it. */
export function OrderChoice({ order }: { order?: Order }) {
  const { body, change, refused } = useEditing<{ order?: number; lines?: unknown[] }>();
  return (
    <RecordPicker
      label="Order"
      field="order"
      chosen={body.order ?? 0}
      value={order ? { id: order.id, label: named(order) } : null}
      onPick={(o) => change({ order: o?.id ?? 0, lines: [] })}
      find={findOrders}
      findKey={['order']}
      error={refused('order')}
      placeholder="which order?"
    />
  );
}
