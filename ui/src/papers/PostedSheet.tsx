import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Allocation, Paper } from '../api/client';
import { Amount } from '../parts/Amount';
import { useFirm } from '../parts/records';
import { Lines, PaperSheet, Totals, Two } from '../parts/Sheet';
import { isNil, kindName, show, showDay } from '../parts/show';

/** A posted paper as it is printed: total, less each deposit and receipt, left to pay. */
export function PostedSheet({ paper: p }: { paper: Paper }) {
  const firm = useFirm().data;
  return (
    <PaperSheet>
      <Two>
        <div>
          <Typography variant="h2">{firm?.name}</Typography>
          <Lines text={firm?.address} />
          {firm?.taxNumber && <Lines text={`Tax number ${firm.taxNumber}`} />}
        </div>
        <div style={{ textAlign: 'right' }}>
          <Typography variant="h1">{headings[p.kind] ?? kindName(p.kind)}</Typography>
          {p.number}
        </div>
      </Two>
      <Two style={{ marginTop: 18 }}>
        <div>
          <b>{p.customer}</b>
          <Lines text={p.address} />
        </div>
        <table>
          <tbody>
            <Fact name="Day" value={showDay(p.day)} />
            {p.kind === 'invoice' && (p.parts ?? []).length === 1 && <Fact name="Due" value={showDay(p.parts?.[0]?.due)} />}
            {p.job && <Fact name="Job" value={`${p.job} ${p.jobName}`} />}
            {p.reference && <Fact name="Reference" value={p.reference} />}
            {p.method && p.kind !== 'reversal' && <Fact name="Method" value={`${p.method}, ${p.bank}`} />}
            {p.cheque && <Fact name="Cheque" value={p.cheque} />}
            {p.earlyUntil && (
              <Fact name="Early payment" value={`${p.earlyPercent} %, ${show(p.early)}, by ${showDay(p.earlyUntil)}`} />
            )}
            {p.reason && <Fact name="Why" value={p.reason} />}
            {p.disputed && <Fact name="Disputed" value={p.disputed} />}
          </tbody>
        </table>
      </Two>
      {p.kind === 'invoice' ? (
        <InvoiceBody paper={p} />
      ) : p.kind === 'supplier bill' ? (
        <BillBody paper={p} />
      ) : (
        <MoneyBody paper={p} />
      )}
      {p.note && (
        <p style={{ margin: '20px 0 0', whiteSpace: 'pre-wrap' }}>{p.kind === 'reversal' ? `Why: ${p.note}` : p.note}</p>
      )}
      {(p.sentences ?? []).map((s) => (
        <p key={s}>{s}</p>
      ))}
    </PaperSheet>
  );
}

function Fact({ name, value }: { name: string; value: string }) {
  return (
    <tr>
      <td style={{ paddingRight: 16, opacity: 0.8, verticalAlign: 'top' }}>{name}</td>
      <td>{value}</td>
    </tr>
  );
}

function InvoiceBody({ paper: p }: { paper: Paper }) {
  const lines = p.lines ?? [];
  const discounted = lines.some((l) => l.discountPercent || l.discount);
  return (
    <>
      <Table sx={{ mt: 2 }}>
        <TableHead>
          <TableRow>
            <TableCell>What</TableCell>
            <TableCell align="right">Quantity</TableCell>
            <TableCell align="right">Unit price</TableCell>
            {discounted && <TableCell align="right">Less</TableCell>}
            <TableCell align="right">Tax</TableCell>
            <TableCell align="right">{p.includes ? 'With tax' : 'Net'}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {lines.map((l, i) => (
            <TableRow key={i}>
              <TableCell sx={{ whiteSpace: 'pre-wrap' }}>{l.text}</TableCell>
              <TableCell align="right">{l.quantity}</TableCell>
              <TableCell align="right">{show(l.unitPrice)}</TableCell>
              {discounted && (
                <TableCell align="right">{l.discountPercent ? `${l.discountPercent} %` : show(l.discount)}</TableCell>
              )}
              <TableCell align="right">{l.taxPercent} %</TableCell>
              <TableCell align="right">
                <Amount value={l.amount} />
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Totals>
        <tbody>
          {!isNil(p.discount) && <Sum name="Discount" value={`-${p.discount}`} />}
          <Sum name="Net" value={p.net} />
          {(p.taxes ?? []).map((t) => (
            <Sum key={t.code + t.percent} name={`Tax ${t.percent} %`} value={t.tax} />
          ))}
          {!isNil(p.rounding) && <Sum name="Rounding" value={p.rounding} />}
          <tr className="total">
            <td>Total</td>
            <td>
              <Amount value={p.total} />
            </td>
          </tr>
          {(p.allocations ?? [])
            .filter((a) => !a.undoneOn && !a.reversal)
            .map((a) => (
              <tr key={a.id} className={a.kind === 'deposit' ? 'held' : ''}>
                <td>
                  {lessNames[a.bound] ?? lessNames[a.kind] ?? 'Paid'} {a.credit}, {showDay(a.creditDay, p.day)}
                  {a.reference && `, ${a.reference}`}
                </td>
                <td>
                  <Amount value={`-${a.amount}`} />
                </td>
              </tr>
            ))}
          <tr className="left">
            <td>
              {p.state === 'reversed'
                ? 'Reversed, nothing to pay'
                : isNil(p.open)
                  ? 'Nothing left to pay'
                  : (p.parts ?? []).length > 1
                    ? 'Left to pay'
                    : `Left to pay by ${showDay(p.due, p.day)}`}
            </td>
            <td>
              <Typography variant="figure">
                <Amount value={p.open} final />
              </Typography>
            </td>
          </tr>
          {(p.parts ?? []).length > 1 &&
            (p.parts ?? []).map((part) => (
              <tr key={part.itemId}>
                <td>
                  by {showDay(part.due)}: {show(part.amount)}
                </td>
                <td>
                  <Amount value={part.open} />
                </td>
              </tr>
            ))}
        </tbody>
      </Totals>
    </>
  );
}

function Sum({ name, value }: { name: string; value: string }) {
  return (
    <tr>
      <td>{name}</td>
      <td>
        <Amount value={value} />
      </td>
    </tr>
  );
}

// What a paper is called on its sheet, where that is not its kind.
const headings: Record<string, string> = { 'unidentified receipt': 'Money not identified', journal: 'Journal entry' };

// What is taken off an invoice, by what took it off.
const lessNames: Record<string, string> = {
  deposit: 'Deposit',
  discount: 'Discount for early payment',
  difference: 'Difference',
  withheld: 'Tax withheld',
  'kept back': 'Kept back by you',
  'write-off': 'Written off',
  contra: 'Set off',
};

// What the money of a paper is, and what is left of it.
const moneyNames: Record<string, { total: string; left?: string }> = {
  deposit: { total: 'Deposit received', left: 'Still held' },
  receipt: { total: 'Received', left: 'On account' },
  'unidentified receipt': { total: 'Arrived', left: 'Not identified yet' },
  refund: { total: 'Given back' },
  forfeit: { total: 'Kept for good' },
  transfer: { total: 'Moved', left: 'Not used yet' },
  'write-off': { total: 'Given up' },
  recovery: { total: 'Recovered' },
  contra: { total: 'Set off' },
  'returned payment': { total: 'Taken back by the bank' },
  journal: { total: 'Entered' },
};

/** Money as it is confirmed to the customer: how much, how, and what it was used for. */
function MoneyBody({ paper: p }: { paper: Paper }) {
  const names = moneyNames[p.kind] ?? { total: p.reverses ? `Reversal of ${p.reverses}` : p.title };
  const handed = p.kind === 'receipt' || p.kind === 'deposit';
  return (
    <>
      {!handed && <p style={{ margin: '22px 0 0' }}>{p.title}</p>}
      <Totals style={{ marginTop: 28 }}>
        <tbody>
          {(!isNil(p.charges) || !isNil(p.withheld)) && <Sum name="Arrived" value={p.arrived} />}
          {!isNil(p.charges) && <Sum name="Bank charges taken off" value={p.charges} />}
          {!isNil(p.withheld) && <Sum name="Tax withheld" value={p.withheld} />}
          <tr className="total">
            <td>{names.total}</td>
            <td>
              <Typography variant="figure">
                <Amount value={p.total} final />
              </Typography>
            </td>
          </tr>
          {!isNil(p.tax) && <Sum name="Tax inside" value={p.tax} />}
          {(p.allocations ?? [])
            .filter((a) => !a.undoneOn && !a.reversal)
            .map((a) => (
              <Sum
                key={a.id}
                name={`${usedFor(a, p.id)}, ${showDay(a.day, p.day)}`}
                value={a.debitId === p.id ? a.amount : `-${a.amount}`}
              />
            ))}
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
function usedFor(a: Allocation, own: number): string {
  const other = a.creditId === own ? a.debit : a.credit;
  if (a.debitId === own) return `out of ${other}`;
  return a.bound && a.bound !== 'closing' ? `${a.bound} ${other}` : `set against ${other}`;
}

function BillBody({ paper: p }: { paper: Paper }) {
  return (
    <>
      <Table sx={{ mt: 2 }} aria-label="Lines of the bill">
        <TableHead>
          <TableRow>
            <TableCell>What</TableCell>
            <TableCell>Account</TableCell>
            <TableCell align="right">Tax</TableCell>
            <TableCell align="right">Net</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {(p.lines ?? []).map((l, i) => (
            <TableRow key={i}>
              <TableCell>{l.text}</TableCell>
              <TableCell>{l.account}</TableCell>
              <TableCell align="right">{l.taxPercent} %</TableCell>
              <TableCell align="right">
                <Amount value={l.amount} />
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Totals>
        <tbody>
          <Sum name="Net" value={p.net} />
          <Sum name="Tax" value={p.tax} />
          <tr className="total">
            <td>Total</td>
            <td>
              <Amount value={p.total} />
            </td>
          </tr>
          <tr className="left">
            <td>Left to pay by {showDay(p.due, p.day)}</td>
            <td>
              <Typography variant="figure">
                <Amount value={p.open} final />
              </Typography>
            </td>
          </tr>
        </tbody>
      </Totals>
    </>
  );
}
