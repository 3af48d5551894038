import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { api, data, type BillBody } from '../api/client';
import { useAlike } from '../parts/currencies';
import { showIn } from '../parts/show';
import { useEditing } from './editing/Editing';

const Row = styled('div')(({ theme }) => ({
  display: 'flex',
  flexWrap: 'wrap',
  gap: '0 14px',
  alignItems: 'baseline',
  marginTop: 8,
  fontSize: 13.5,
  color: theme.vars!.palette.text.secondary,
}));

/** What we ordered of a supplier and is not billed: each order is taken with one key. */
export function FromPurchaseOrders() {
  const { body, change } = useEditing<BillBody>();
  const supplier = body.supplier ?? 0;
  const alike = useAlike();
  const orders =
    useQuery({
      queryKey: ['supplier', supplier],
      queryFn: () => data(api.GET('/api/v1/suppliers/{id}', { params: { path: { id: supplier } } })),
      enabled: supplier > 0,
    }).data?.orders ?? [];
  const free = orders.filter(
    (o) => o.supplierId === supplier && o.bill.length > 0 && !(body.lines ?? []).some((l) => l.order === o.id),
  );
  if (!supplier || free.length === 0) return null;
  return (
    <Row>
      Ordered and not billed:
      {free.slice(0, 4).map((o) => (
        <Button
          key={o.id}
          onClick={() =>
            change((now) => ({
              ...alike(o),
              lines: [...(now.lines ?? []).filter((l) => l.text || l.net || l.unitPrice), ...o.bill],
            }))
          }
        >
          {o.number} {o.title}, {showIn(o.currency, o.net)}
        </Button>
      ))}
    </Row>
  );
}
