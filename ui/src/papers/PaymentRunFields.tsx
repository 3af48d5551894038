import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data, type PayableBill, type PaymentRunBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { bankNamed, useAbroad } from '../parts/currencies';
import { useBanks, useToday } from '../parts/records';
import { showDay, showIn } from '../parts/show';
import { useEditing } from './editing/Editing';
import { Choice, Chosen, Figure } from './editing/fields';

/** Bills that are due, by supplier: those that are ticked are paid, each supplier by one payment. */
export default function PaymentRunFields() {
  const { body, change, effect, refused } = useEditing<PaymentRunBody>();
  const today = useToday();
  const abroad = useAbroad();
  const banks = (useBanks().data?.rows ?? []).filter((b) => !b.inactive);
  const through = body.through || '';
  const found = useQuery({
    queryKey: ['payables', through, body.bank],
    queryFn: () =>
      data(api.GET('/api/v1/payables', { params: { query: { through: through || undefined, bank: body.bank || undefined } } })),
    placeholderData: keepPreviousData,
  }).data;
  const rows = found?.rows ?? [];
  const payments = body.payments ?? [];
  const taken = (i: PayableBill) => payments.some((p) => p.bills?.some((b) => b.item === i.id));
  const take = (items: PayableBill[], on: boolean) =>
    change((now) => {
      let all = now.payments ?? [];
      for (const i of items) {
        all = all
          .map((p) => ({ ...p, bills: (p.bills ?? []).filter((b) => b.item !== i.id) }))
          .filter((p) => p.bills.length > 0 || (on && p.supplier === i.customerId));
        if (!on) continue;
        const bill = { item: i.id, discount: !!i.early };
        all = all.some((p) => p.supplier === i.customerId)
          ? all.map((p) => (p.supplier === i.customerId ? { ...p, bills: [...(p.bills ?? []), bill] } : p))
          : [...all, { supplier: i.customerId, bills: [bill] }];
      }
      return { payments: all };
    });
  const currency = banks.find((b) => b.id === body.bank)?.currency;
  const chosen = rows.filter(taken).length;
  return (
    <>
      <FormGrid>
        <Figure kind="day" label="Due through" name="through" placeholder="within a week" />
        <Figure kind="day" label="Date of payment" name="day" />
        <Choice
          label="Out of"
          field="bank"
          value={body.bank ?? 0}
          options={banks.map((b) => ({ value: b.id ?? 0, name: bankNamed(b) }))}
          onChange={(bank) => change({ bank: Number(bank), payments: [] })}
          error={refused('bank')}
        />
        <Chosen name="method" label="Method" options={['transfer', 'card', 'direct debit'].map((m) => ({ value: m, name: m }))} />
      </FormGrid>
      {abroad && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
          Here are bills in the currency of the account; others are paid out of one in theirs, or by a payment of their own.
        </Typography>
      )}
      {found && rows.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }} data-field="payments">
          Nothing that we owe is due by then, and no discount ends by then.
        </Typography>
      )}
      {rows.length > 0 && (
        <>
          <Button sx={{ mt: 1 }} onClick={() => take(rows, chosen < rows.length)}>
            {chosen < rows.length ? `Take all ${rows.length}, ${showIn(currency, found?.paying)}` : 'Take none'}
          </Button>
          <Table aria-label="What could be paid" data-field="payments">
            <TableHead>
              <TableRow>
                <TableCell padding="checkbox" />
                <TableCell>Supplier</TableCell>
                <TableCell>Bill</TableCell>
                <TableCell>Due date</TableCell>
                <TableCell align="right">Open</TableCell>
                <TableCell align="right">Discount</TableCell>
                <TableCell align="right">Paid</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((i) => (
                <TableRow key={i.id}>
                  <TableCell padding="checkbox">
                    <Checkbox
                      size="small"
                      checked={taken(i)}
                      onChange={(e) => take([i], e.target.checked)}
                      slotProps={{ input: { 'aria-label': `Pay ${i.number}` } }}
                    />
                  </TableCell>
                  <TableCell>
                    {i.customer}
                    {!i.hasIban && body.method === 'transfer' && ' · no IBAN'}
                  </TableCell>
                  <TableCell>
                    <b>{i.number}</b> {i.reference}
                  </TableCell>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(i.due, today)}</TableCell>
                  <TableCell align="right">
                    <Amount value={i.open} code={i.currency} />
                  </TableCell>
                  <TableCell align="right" title={i.early && `through ${showDay(i.earlyDay, today)}`}>
                    {i.early && <Amount value={i.early} />}
                  </TableCell>
                  <TableCell align="right">{taken(i) && <Amount value={i.paying} />}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          <Typography align="right" sx={{ mt: 1 }}>
            {chosen} of {rows.length} · {payments.length} {payments.length === 1 ? 'payment' : 'payments'}
            {effect && payments.length > 0 && (
              <>
                {' '}
                · <b>{showIn(currency, effect.placed)}</b> set against bills
              </>
            )}
          </Typography>
          {refused('payments')}
        </>
      )}
    </>
  );
}
