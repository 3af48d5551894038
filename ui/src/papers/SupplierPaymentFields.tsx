import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { PaidBillBody, SupplierPaymentBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { useBankCurrency, useNamed } from '../parts/currencies';
import { useCustomer, useFirm, useToday } from '../parts/records';
import { show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { AtBank } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Check, Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { SupplierField } from './SupplierField';
import { useBench } from './useBench';

const Foot = styled('div')({
  display: 'flex',
  justifyContent: 'space-between',
  alignItems: 'center',
  marginTop: 8,
  minHeight: 40,
});

/** Money to a supplier, set against bills; empty, it is what they come to. */
export default function SupplierPaymentFields() {
  const { body, change, effect, refused } = useEditing<SupplierPaymentBody>();
  const today = useToday();
  const supplier = body.supplier ?? 0;
  const bills = body.bills ?? [];
  const owed = useBench(supplier, { payable: true, pinned: bills.map((b) => b.item) })?.owed ?? [];
  const own = useFirm().data?.currency ?? '';
  const money = useBankCurrency(body.bank);
  const named = useNamed(money);
  const others = bills.some((b) => owed.some((i) => i.id === b.item && (i.currency || own) !== money));
  const withholds = !!useCustomer(supplier).data?.withhold;
  const set = (item: number, part: Partial<PaidBillBody> | null) =>
    change((now) => {
      const of = now.bills ?? [];
      if (part === null) return { bills: of.filter((b) => b.item !== item) };
      return of.some((b) => b.item === item)
        ? { bills: of.map((b) => (b.item === item ? { ...b, ...part } : b)) }
        : { bills: [...of, { item, ...part }] };
    });
  return (
    <>
      <FormGrid>
        <SupplierField
          value={supplier}
          onPick={(supplier) => change((now) => ({ supplier, bills: supplier === now.supplier ? now.bills : [] }))}
          error={refused('party')}
          placeholder="Whom do we pay?"
        />
        <Figure
          kind="amount"
          label={named('Amount paid')}
          name="paid"
          placeholder={bills.length ? `${show(effect?.paper?.total)}, what the bills come to` : ''}
        />
        <Figure kind="day" label="Date" name="day" />
        <Figure kind="amount" label="Bank charges beside it" name="charges" />
        <AtBank day={body.day} rated />
        <MoneyFields out next={effect?.paper?.number} nextCheque={effect?.papers?.[0]?.cheque} />
      </FormGrid>
      {!!supplier && owed.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }} data-field="bills">
          We owe this supplier nothing. What is paid all the same stays on account.
        </Typography>
      )}
      {owed.length > 0 && (
        <Table aria-label="What we owe" sx={{ mt: 2 }} data-field="bills">
          <TableHead>
            <TableRow>
              <TableCell>Bill</TableCell>
              <TableCell>Due date</TableCell>
              <TableCell align="right">Open</TableCell>
              <TableCell>Discount</TableCell>
              {withholds && <TableCell align="right">Withheld</TableCell>}
              {others && <TableCell align="right">Out of the money, {money}</TableCell>}
              <TableCell align="right">Paid</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {owed.map((i) => {
              const at = bills.findIndex((b) => b.item === i.id);
              const placed = effect?.pairs?.find((p) => p.credit === i.id)?.amount ?? '';
              return (
                <TableRow key={i.id}>
                  <TableCell>
                    <b>{i.number}</b> {i.reference || i.title}
                  </TableCell>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(i.due, today)}</TableCell>
                  <TableCell align="right">
                    <Amount value={i.open} code={i.currency} />
                  </TableCell>
                  <TableCell>
                    {i.early && at >= 0 ? (
                      <Check name={`bills[${at}].discount`} label={`${show(i.early)}, through ${showDay(i.earlyDay, today)}`} />
                    ) : i.early ? (
                      `${show(i.early)}, through ${showDay(i.earlyDay, today)}`
                    ) : (
                      ''
                    )}
                  </TableCell>
                  {withholds && (
                    <TableCell align="right" sx={{ width: 100 }}>
                      {at >= 0 && (
                        <Figure kind="amount" label={`Withheld of ${i.number}`} name={`bills[${at}].withheld`} onSheet />
                      )}
                    </TableCell>
                  )}
                  {others && (
                    <TableCell align="right" sx={{ width: 110 }}>
                      {at >= 0 && (i.currency || own) !== money && (
                        <Figure
                          kind="amount"
                          label={`Out of the money for ${i.number}, ${money}`}
                          name={`bills[${at}].takes`}
                          onSheet
                        />
                      )}
                    </TableCell>
                  )}
                  <TableCell align="right" sx={{ width: 120 }}>
                    <UnderstoodField
                      kind="amount"
                      label={`Paid of ${i.number}`}
                      field={at < 0 ? `bills.${i.id}` : `bills[${at}].amount`}
                      value={at < 0 ? '' : bills[at]?.amount || placed}
                      onChange={(amount) => set(i.id, { amount })}
                      onSheet
                      error={at >= 0 ? refused(`bills[${at}].amount`) || refused(`bills[${at}].discount`) : ''}
                    />
                  </TableCell>
                  <TableCell align="right" sx={{ width: 92 }}>
                    {at < 0 ? (
                      <Button onClick={() => set(i.id, { amount: '', discount: !!i.early })} aria-label={`Pay ${i.number}`}>
                        Pay
                      </Button>
                    ) : (
                      <Button onClick={() => set(i.id, null)}>Take off</Button>
                    )}
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      )}
      <Foot>
        <Check name="onAccount" label="What is set against no bill stays on account" />
      </Foot>
    </>
  );
}
