import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import type { InvoiceBody, Order } from '../api/client';
import { useAlike } from '../parts/currencies';
import { showIn } from '../parts/show';
import { usePaperForm } from './editing/Editing';
import { useValue } from './editing/useForm';
import { isBlank } from './invoiceLines';
import { linesOf } from './orderLines';
import { useBillable } from './useBillable';

const Row = styled('div')(({ theme }) => ({
  display: 'flex',
  flexWrap: 'wrap',
  gap: '0 14px',
  alignItems: 'baseline',
  fontSize: 13.5,
  color: theme.vars!.palette.text.secondary,
}));

/** Orders of the customer with something left to bill: each is taken with one key. */
export function FromOrders() {
  const form = usePaperForm<InvoiceBody>();
  const customer = useValue(form, (b) => b.customer ?? 0);
  const job = useValue(form, (b) => b.job ?? 0);
  const taken = useValue(form, (b) => (b.lines ?? []).map((l) => l.order ?? 0).join());
  const alike = useAlike();
  const orders = (useBillable(customer)?.orders ?? []).filter(
    (o) => !taken.split(',').includes(String(o.id)) && (!job || o.jobId === job),
  );
  if (orders.length === 0) return null;
  const take = (o: Order) =>
    form.change((now) => ({
      ...alike(o),
      job: now.job || o.jobId,
      reference: now.reference || o.reference,
      lines: [...(now.lines ?? []).filter((l) => !isBlank(l)), ...linesOf(o)],
    }));
  return (
    <Row>
      Ordered and not billed:
      {orders.slice(0, 4).map((o) => (
        <Button key={o.id} onClick={() => take(o)}>
          {o.number} {o.title}, {showIn(o.currency, o.left)}
        </Button>
      ))}
    </Row>
  );
}
