import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { OrderLine, Paper } from '../api/client';
import { Amount } from '../parts/Amount';
import { useBanks, useFirm } from '../parts/records';
import { Lines, PaperSheet, Totals, Two } from '../parts/Sheet';
import { isNil, kindName, show, showDay } from '../parts/show';
import { formNames } from './formNames';
import { howPassedOn } from '../jobs/passedOn';
import { MoneyBody, usedFor } from './PostedMoney';
import { Rest, SheetLine, Sum } from './SheetSums';

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
          <Typography variant="h1" component="h2">
            {formNames[p.form] ?? headings[p.kind] ?? kindName(p.kind)}
          </Typography>
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
            {p.kind === 'purchase order' && p.due && <Fact name="Expected" value={showDay(p.due)} />}
            {p.kind === 'supplier bill' && p.due && owedParts(p).length < 2 && <Fact name="Due date" value={showDay(p.due)} />}
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
      {withLines.includes(p.kind) ? (
        <InvoiceBody paper={p} />
      ) : ['delivery', 'cancellation', 'return', 'goods received', 'stock use', 'stock count'].includes(p.kind) ? (
        <HandedOver paper={p} />
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

// The kinds that are drawn line by line, with their sums.
const withLines = [
  'invoice',
  'deposit invoice',
  'order',
  'quote',
  'credit note',
  'purchase order',
  'supplier bill',
  'expense',
  'supplier credit',
];

/** What of it is to be paid, without what is kept back. */
const owedParts = (p: Paper) => (p.parts ?? []).filter((x) => x.register === 'receivables' || x.register === 'payables');

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
            <SheetLine key={i}>
              <td style={{ whiteSpace: 'pre-wrap' }}>
                {l.text}
                {bought(p.kind) ? (
                  <Whither line={l} ordered={p.kind === 'purchase order'} />
                ) : (
                  l.passOn === 'behalf' && <Beside>paid on your behalf</Beside>
                )}
              </td>
              {priced && <td className="figure">{[show(l.quantity), l.unit].filter(Boolean).join(' ')}</td>}
              {priced && <td className="figure">{show(l.unitPrice)}</td>}
              {discounted && <td className="figure">{l.discountPercent ? `${l.discountPercent} %` : show(l.discount)}</td>}
              <td className="figure">{l.passOn === 'behalf' && !bought(p.kind) ? 'none' : `${l.taxPercent} %`}</td>
              <td className="figure">{show(l.amount)}</td>
            </SheetLine>
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
                  {p.kind === 'credit note' || p.kind === 'supplier credit' ? (
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
          {(bills(p) || p.kind === 'supplier bill') && <Left paper={p} />}
          {p.kind === 'credit note' && <Rest name={isNil(p.open) ? 'Used up' : 'Left to you'} value={p.open} />}
          {p.kind === 'supplier credit' && <Rest name={isNil(p.open) ? 'Used up' : 'Left to us'} value={p.open} />}
        </tbody>
      </Totals>
      {(p.kind === 'order' || p.kind === 'purchase order') && <Became lines={p.order ?? []} />}
    </>
  );
}

const bought = (kind: string) => ['purchase order', 'supplier bill', 'expense', 'supplier credit'].includes(kind);

/** Where a bought line goes: its account or job, and how it is passed on; not for whom it is ordered from. */
function Whither({ line: l, ordered }: { line: Paper['lines'][number]; ordered: boolean }) {
  const parts = [
    l.account,
    l.job && `job ${l.job}`,
    l.passOn && `passed on ${howPassedOn(l.passOn, l.markup)}`,
    l.joined && 'with its tax',
  ].filter(Boolean);
  return parts.length ? <Beside className={ordered ? 'no-print' : undefined}>{parts.join(' · ')}</Beside> : null;
}

/** What was handed over, without prices, and a place to sign; or what was cancelled. */
function HandedOver({ paper: p }: { paper: Paper }) {
  const ours = ['goods received', 'stock use', 'stock count'].includes(p.kind);
  const signed = (p.events ?? []).find((e) => e.event === 'signed for');
  return (
    <>
      <Table sx={{ mt: 2 }}>
        <TableHead>
          <TableRow>
            <TableCell>What</TableCell>
            <TableCell align="right">{p.kind === 'stock count' ? 'Difference' : 'Quantity'}</TableCell>
            {ours && <TableCell align="right">Worth</TableCell>}
          </TableRow>
        </TableHead>
        <TableBody>
          {(p.lines ?? []).map((l, i) => (
            <SheetLine key={i}>
              <td>{l.text}</td>
              <td className="figure">{[show(l.quantity), l.unit].filter(Boolean).join(' ')}</td>
              {ours && <td className="figure">{show(l.amount)}</td>}
            </SheetLine>
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
          <SheetLine key={l.position}>
            <td>{l.text}</td>
            {[l.ordered, l.delivered, l.billed, l.cancelled, l.leftToBill].map((q, i) => (
              <td key={i} className="figure">
                {show(q)}
              </td>
            ))}
            <td className="figure">{show(l.left)}</td>
          </SheetLine>
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

// What a paper is called on its sheet, where that is not its kind.
const headings: Record<string, string> = {
  release: 'Release of retention',
  'unidentified receipt': 'Money not identified',
  journal: 'Journal entry',
  'stock use': 'Used from stock',
  'supplier release': 'Release to a supplier',
  'cost not passed on': 'Costs not to be billed',
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
  'supplier credit': 'Credited by',
  'supplier prepayment': 'Prepaid',
};
