import type { Order } from '../api/client';
import { showDay } from '../parts/show';
import { useEditing } from './editing/Editing';
import { Choice } from './editing/fields';

/** The order that it is of; its lines go with it. */
export function OrderChoice({ orders }: { orders: Order[] }) {
  const { body, change, refused } = useEditing<{ order?: number; lines?: unknown[] }>();
  return (
    <Choice
      label="Order"
      field="order"
      value={body.order ?? 0}
      error={refused('order')}
      onChange={(v) => change({ order: Number(v), lines: [] })}
      options={[
        ...(body.order ? [] : [{ value: 0, name: 'Which order?' }]),
        ...orders.map((o) => ({ value: o.id, name: `${o.number}, ${o.customer}, ${showDay(o.day)}` })),
      ]}
    />
  );
}
