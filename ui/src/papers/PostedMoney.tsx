import Typography from '@mui/material/Typography';
import type { Allocation, Paper } from '../api/client';
import { Amount } from '../parts/Amount';
import { Totals, Two } from '../parts/Sheet';
import { isNil, showDay } from '../parts/show';
import { Sum } from './SheetSums';

// What the money of a paper is, and what is left of it.
const moneyNames: Record<string, { total: string; left?: string }> = {
  deposit: { total: 'Deposit received', left: 'Still held' },
  receipt: { total: 'Received', left: 'On account' },
  'unidentified receipt': { total: 'Arrived', left: 'Not identified yet' },
  refund: { total: 'Given back' },
  forfeit: { total: 'Kept' },
  transfer: { total: 'Moved', left: 'Not used yet' },
  'write-off': { total: 'Given up' },
  recovery: { total: 'Recovered' },
  'request for a deposit': { total: 'Deposit asked for' },
  release: { total: 'Released, to be paid', left: 'Left to pay' },
  guarantee: { total: 'Guaranteed' },
  contra: { total: 'Set off' },
  'returned payment': { total: 'Taken back by the bank' },
  journal: { total: 'Entered' },
  'supplier payment': { total: 'Paid', left: 'On account' },
  'supplier prepayment': { total: 'Prepaid', left: 'Not used yet' },
  'supplier refund': { total: 'Came back' },
  'supplier release': { total: 'Released, to be paid', left: 'Left to pay' },
  'cost not passed on': { total: 'Not to be billed' },
};

/** Money as it is confirmed to the customer: how much, how, and what it was used for. */
export function MoneyBody({ paper: p }: { paper: Paper }) {
  const names = moneyNames[p.kind] ?? { total: p.reverses ? `Reversal of ${p.reverses}` : p.title };
  const handed = p.kind === 'receipt' || p.kind === 'deposit';
  const standing = (p.allocations ?? []).filter((a) => !a.undoneOn && !a.reversal);
  // What it came out of adds up to it; what it was used for is taken off it.
  const released = p.kind === 'release' || p.kind === 'supplier release';
  const isSource = (a: Allocation) => (released ? a.bound === 'release' : a.debitId === p.id);
  const says = (a: Allocation) =>
    released ? `${isSource(a) ? 'kept back of' : 'Paid'} ${isSource(a) ? a.debit : a.credit}` : usedFor(a, p.id);
  return (
    <>
      {!handed && <p style={{ margin: '22px 0 0' }}>{p.title}</p>}
      <Totals style={{ marginTop: 28 }}>
        <tbody>
          {(!isNil(p.charges) || !isNil(p.withheld)) && <Sum name="Arrived" value={p.arrived} />}
          {!isNil(p.charges) && <Sum name="Bank charges taken off" value={p.charges} />}
          {!isNil(p.withheld) && <Sum name="Tax withheld" value={p.withheld} />}
          {standing.filter(isSource).map((a) => (
            <Sum key={a.id} name={`${says(a)}, ${showDay(a.day, p.day)}`} value={a.amount} />
          ))}
          <tr className="total">
            <td>{names.total}</td>
            <td>
              <Typography variant="figure">
                <Amount value={p.total} final />
              </Typography>
            </td>
          </tr>
          {!isNil(p.tax) && <Sum name="Tax inside" value={p.tax} />}
          {standing
            .filter((a) => !isSource(a))
            .map((a) => (
              <Sum key={a.id} name={`${says(a)}, ${showDay(a.day, p.day)}`} value={a.off} />
            ))}
          {!names.left &&
            p.parts
              .filter((x) => !x.credit && !isNil(x.open))
              .map((x) => <Sum key={x.itemId} name={`Owed to us, due ${showDay(x.due, p.day)}`} value={x.open} />)}
          {p.kind === 'request for a deposit' && (
            <tr className="left">
              <td>{isNil(p.left) ? 'Paid' : `Left to pay by ${showDay(p.due, p.day)}`}</td>
              <td>
                <Amount value={p.left} />
              </td>
            </tr>
          )}
          {names.left && (
            <tr className="left">
              <td>{names.left}</td>
              <td>
                <Amount value={p.open} />
              </td>
            </tr>
          )}
        </tbody>
      </Totals>
      {handed && (
        <Two style={{ marginTop: 44, alignItems: 'flex-end' }}>
          <span>{p.inWords}</span>
          <span>Received by ________________________</span>
        </Two>
      )}
    </>
  );
}

/** What a part of the money was used for. */
export function usedFor(a: Allocation, own: number): string {
  const other = a.creditId === own ? a.debit : a.credit;
  if (a.debitId === own) return `out of ${other}`;
  return a.bound && a.bound !== 'closing' ? `${a.bound} ${other}` : `set against ${other}`;
}
