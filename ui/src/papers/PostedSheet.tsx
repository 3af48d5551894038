import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Allocation, OrderLine, Paper } from '../api/client';
import { Amount } from '../parts/Amount';
import { useBanks, useFirm } from '../parts/records';
import { Lines, PaperSheet, Totals, Two } from '../parts/Sheet';
import { isNil, kindName, show, showDay } from '../parts/show';
import { formNames } from './formNames';
import { howPassedOn } from '../jobs/passedOn';

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
          <Typography variant="h1">{formNames[p.form] ?? headings[p.kind] ?? kindName(p.kind)}</Typography>
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
            <Fact name="Date" value={showDay(p.day)} />
            {p.supplied && <Fact name="Service date" value={showDay(p.supplied)} />}
            {(bills(p) || p.kind === 'request for a deposit' || p.kind === 'release') && p.due && owedParts(p).length < 2 && (
              <Fact name="Due date" value={showDay(p.due)} />
            )}
            {p.job && <Fact name="Job" value={`${p.job} ${p.jobName}`} />}
            {p.orderNumber && <Fact name="Your order" value={p.orderNumber} />}
            {p.reference && <Fact name="Reference" value={p.reference} />}
            {p.salesperson && <Fact name="Your contact" value={p.salesperson} />}
            {p.method && p.kind !== 'reversal' && <Fact name="Method" value={`${p.method}, ${p.bank}`} />}
            {p.cheque && <Fact name="Cheque" value={p.cheque} />}
            {p.kind === 'guarantee' && <Fact name="Last date" value={showDay(p.due)} />}
            {p.holds && <Fact name="Holds through" value={showDay(p.holds)} />}
            {p.version > 1 && <Fact name="Version" value={String(p.version)} />}
            {p.earlyUntil && (
              <Fact name="Early payment" value={`${p.earlyPercent} %, ${show(p.early)}, by ${showDay(p.earlyUntil)}`} />
            )}
            {p.kind === 'credit note' && p.source && <Fact name="Invoice" value={p.source} />}
            {p.reason && <Fact name={p.kind === 'invoice' ? 'Claim' : 'Why'} value={p.reason} />}
            {p.disputed && <Fact name="Disputed" value={p.disputed} />}
          </tbody>
        </table>
      </Two>
      {p.subject && (
        <p style={{ margin: '18px 0 0' }}>
          <b>{p.subject}</b>
        </p>
      )}
      {bills(p) || p.kind === 'order' || p.kind === 'quote' || p.kind === 'credit note' ? (
        <InvoiceBody paper={p} />
      ) : ['delivery', 'cancellation', 'goods received'].includes(p.kind) ? (
        <HandedOver paper={p} />
      ) : p.kind === 'supplier bill' ? (
        <BillBody paper={p} />
      ) : (
        <MoneyBody paper={p} />
      )}
      {((bills(p) || p.kind === 'release') && !isNil(p.open)) || (p.kind === 'request for a deposit' && !isNil(p.left)) ? (
        <WaysToPay number={p.number} />
      ) : null}
      {p.note && (
        <p style={{ margin: '20px 0 0', whiteSpace: 'pre-wrap' }}>{p.kind === 'reversal' ? `Why: ${p.note}` : p.note}</p>
      )}
      {(p.sentences ?? []).map((s) => (
        <p key={s}>{s}</p>
      ))}
    </PaperSheet>
  );
}

/** Whether it bills the customer, line by line. */
const bills = (p: Paper) => p.kind === 'invoice' || p.kind === 'deposit invoice';

/** What of it is to be paid, without what is kept back. */
const owedParts = (p: Paper) => (p.parts ?? []).filter((x) => x.register === 'receivables');

/** How the customer pays: the account at a bank, and what to quote. */
function WaysToPay({ number }: { number: string }) {
  const bank = (useBanks().data?.rows ?? []).find((b) => b.iban && !b.inactive);
  if (!bank) return null;
  return (
    <p style={{ margin: '18px 0 0' }}>
      Please pay to {bank.name}, IBAN {bank.iban}, quoting {number}.
    </p>
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

// Plain cells: a long paper is on screen at once.
const Line = styled('tr')(({ theme }) => ({
  '& td': { padding: '5px 8px', borderBottom: `1px solid ${theme.vars!.palette.tally.rule}` },
  '& td.figure': { textAlign: 'right', whiteSpace: 'nowrap', fontVariantNumeric: 'tabular-nums lining-nums' },
}));

const Beside = styled('div')({ fontSize: 13, opacity: 0.8 });

function InvoiceBody({ paper: p }: { paper: Paper }) {
  const lines = p.lines ?? [];
  const discounted = lines.some((l) => l.discountPercent || l.discount);
  const priced = lines.some((l) => !isNil(l.unitPrice));
  return (
    <>
      <Table sx={{ mt: 2 }}>
        <TableHead>
          <TableRow>
            <TableCell>What</TableCell>
            {priced && <TableCell align="right">Quantity</TableCell>}
            {priced && <TableCell align="right">Unit price</TableCell>}
            {discounted && <TableCell align="right">Discount</TableCell>}
            <TableCell align="right">Tax</TableCell>
            <TableCell align="right">{p.includes ? 'With tax' : 'Net'}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {lines.map((l, i) => (
            <Line key={i}>
              <td style={{ whiteSpace: 'pre-wrap' }}>
                {l.text}
                {bought(p.kind) ? <Whither line={l} /> : l.passOn === 'behalf' && <Beside>paid on your behalf</Beside>}
              </td>
              {priced && <td className="figure">{[show(l.quantity), l.unit].filter(Boolean).join(' ')}</td>}
              {priced && <td className="figure">{show(l.unitPrice)}</td>}
              {discounted && <td className="figure">{l.discountPercent ? `${l.discountPercent} %` : show(l.discount)}</td>}
              <td className="figure">{l.passOn === 'behalf' && !bought(p.kind) ? 'none' : `${l.taxPercent} %`}</td>
              <td className="figure">{show(l.amount)}</td>
            </Line>
          ))}
        </TableBody>
      </Table>
      <Totals>
        <tbody>
          {!isNil(p.discount) && <Sum name="Discount" value={p.off} />}
          <Sum name="Net" value={p.net} />
          {(p.taxes ?? []).map((t) => (
            <Sum key={t.code + t.percent} name={`Tax ${t.percent} %`} value={t.tax} />
          ))}
          {!isNil(p.rounding) && <Sum name="Rounding" value={p.rounding} />}
          <tr className="total">
            <td>Total</td>
            <td>
              <Amount value={p.before} />
            </td>
          </tr>
          {(p.deductions ?? []).map((d) => (
            <tr key={d.text + d.percent}>
              <td>
                {d.text}: {show(d.net)} net, {show(d.tax)} tax at {d.percent} %
              </td>
              <td>
                <Amount value={d.off} />
              </td>
            </tr>
          ))}
          {!isNil(p.retained) && (
            <tr className="kept">
              <td>
                {p.kind === 'credit note'
                  ? 'Off what you keep back'
                  : p.kind === 'supplier bill'
                    ? 'Kept back by us'
                    : 'Kept back by you'}
                {p.retainedWhy && ` (${p.retainedWhy})`}
              </td>
              <td>
                <Amount value={p.keptOff} />
              </td>
            </tr>
          )}
          {(p.allocations ?? [])
            .filter((a) => !a.undoneOn && !a.reversal && a.bound !== 'release' && a.bound !== 'credited')
            .map((a) => (
              <tr key={a.id} className={a.kind === 'deposit' ? 'held' : ''}>
                <td>
                  {p.kind === 'credit note' ? (
                    `${usedFor(a, p.id)}, ${showDay(a.day, p.day)}`
                  ) : (
                    <>
                      {lessNames[a.bound] ?? lessNames[a.kind] ?? 'Paid'} {a.credit}, {showDay(a.creditDay, p.day)}
                      {a.reference && `, ${a.reference}`}
                    </>
                  )}
                </td>
                <td>
                  <Amount value={a.off} />
                </td>
              </tr>
            ))}
          {bills(p) && <Left paper={p} />}
          {p.kind === 'credit note' && <Rest name={isNil(p.open) ? 'Used up' : 'Left to you'} value={p.open} />}
        </tbody>
      </Totals>
      {(p.kind === 'order' || p.kind === 'purchase order') && <Became lines={p.order ?? []} />}
    </>
  );
}

const bought = (kind: string) => ['purchase order', 'supplier bill', 'expense'].includes(kind);

/** Where a bought line goes: its account or job, and how it is passed on. */
function Whither({ line: l }: { line: Paper['lines'][number] }) {
  const parts = [
    l.account,
    l.job && `job ${l.job}`,
    l.passOn && `passed on ${howPassedOn(l.passOn, l.markup)}`,
    l.joined && 'with its tax',
  ].filter(Boolean);
  return parts.length ? <Beside>{parts.join(' · ')}</Beside> : null;
}

/** What was handed over, without prices, and a place to sign; or what was cancelled. */
function HandedOver({ paper: p }: { paper: Paper }) {
  const signed = (p.events ?? []).find((e) => e.event === 'signed for');
  return (
    <>
      <Table sx={{ mt: 2 }}>
        <TableHead>
          <TableRow>
            <TableCell>What</TableCell>
            <TableCell align="right">Quantity</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {(p.lines ?? []).map((l, i) => (
            <Line key={i}>
              <td>{l.text}</td>
              <td className="figure">{[show(l.quantity), l.unit].filter(Boolean).join(' ')}</td>
            </Line>
          ))}
        </TableBody>
      </Table>
      {p.kind === 'delivery' && (
        <Two style={{ marginTop: 44, alignItems: 'flex-end' }}>
          <span>of order {p.source}</span>
          <span>
            {signed
              ? `Received by ${signed.text}, ${showDay(signed.until || signed.day)}`
              : 'Received by ________________________, date ____________'}
          </span>
        </Two>
      )}
    </>
  );
}

/** What became of the lines of an order; not for the customer. */
function Became({ lines }: { lines: OrderLine[] }) {
  return (
    <Table className="no-print" aria-label="What became of its lines" sx={{ mt: 3 }}>
      <TableHead>
        <TableRow>
          <TableCell>Line</TableCell>
          <TableCell align="right">Ordered</TableCell>
          <TableCell align="right">Delivered</TableCell>
          <TableCell align="right">Billed</TableCell>
          <TableCell align="right">Cancelled</TableCell>
          <TableCell align="right">Left to bill</TableCell>
          <TableCell align="right">Net of that</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {lines.map((l) => (
          <Line key={l.position}>
            <td>{l.text}</td>
            {[l.ordered, l.delivered, l.billed, l.cancelled, l.leftToBill].map((q, i) => (
              <td key={i} className="figure">
                {show(q)}
              </td>
            ))}
            <td className="figure">{show(l.left)}</td>
          </Line>
        ))}
      </TableBody>
    </Table>
  );
}

/** What is left to pay, and by when. */
function Left({ paper: p }: { paper: Paper }) {
  const parts = owedParts(p);
  return (
    <>
      <Rest
        name={
          p.state === 'reversed'
            ? 'Reversed, nothing to pay'
            : isNil(p.open)
              ? 'Nothing left to pay'
              : parts.length > 1
                ? 'Left to pay'
                : `Left to pay by ${showDay(p.due, p.day)}`
        }
        value={p.open}
      />
      {parts.length > 1 &&
        parts.map((part) => (
          <tr key={part.itemId}>
            <td>
              by {showDay(part.due)}: {show(part.amount)}
            </td>
            <td>
              <Amount value={part.open} />
            </td>
          </tr>
        ))}
    </>
  );
}

/** What is left in the end, under a double line. */
function Rest({ name, value }: { name: string; value: string }) {
  return (
    <tr className="left">
      <td>{name}</td>
      <td>
        <Typography variant="figure">
          <Amount value={value} final />
        </Typography>
      </td>
    </tr>
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
const headings: Record<string, string> = {
  release: 'Release of retention',
  'unidentified receipt': 'Money not identified',
  journal: 'Journal entry',
};

// What is taken off an invoice, by what took it off.
const lessNames: Record<string, string> = {
  deposit: 'Deposit',
  discount: 'Discount for early payment',
  difference: 'Difference',
  withheld: 'Tax withheld',
  'kept back': 'Kept back by you',
  'write-off': 'Written off',
  contra: 'Set off',
  'credit note': 'Credited by',
};

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
};

/** Money as it is confirmed to the customer: how much, how, and what it was used for. */
function MoneyBody({ paper: p }: { paper: Paper }) {
  const names = moneyNames[p.kind] ?? { total: p.reverses ? `Reversal of ${p.reverses}` : p.title };
  const handed = p.kind === 'receipt' || p.kind === 'deposit';
  const standing = (p.allocations ?? []).filter((a) => !a.undoneOn && !a.reversal);
  // What it came out of adds up to it; what it was used for is taken off it.
  const released = p.kind === 'release';
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
          <Rest name={`Left to pay by ${showDay(p.due, p.day)}`} value={p.open} />
        </tbody>
      </Totals>
    </>
  );
}
