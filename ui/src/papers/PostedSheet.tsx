import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { OrderLine, Paper } from '../api/client';
import { Amount } from '../parts/Amount';
import { Lines, PaperSheet, Totals, Two } from '../parts/Sheet';
import { show } from '../parts/show';
import { howPassedOn } from '../jobs/passedOn';
import { SheetLine } from './SheetSums';

/** A posted paper as it goes out: total, less each deposit and receipt, left to pay. What stands there, Go said. */
export function PostedSheet({ paper: p }: { paper: Paper }) {
  const s = p.sheet;
  const money = s.columns.length === 0;
  return (
    <PaperSheet>
      <Two>
        <div>
          <Typography variant="h2">{s.firm.name}</Typography>
          <Lines text={s.firm.lines} />
          {s.taxNumber && <Lines text={s.taxNumber} />}
        </div>
        <div style={{ textAlign: 'right' }}>
          <Typography variant="h1" component="h2">
            {s.heading}
          </Typography>
          {s.number}
        </div>
      </Two>
      <Two style={{ marginTop: 18 }}>
        <div>
          <b>{s.to.name}</b>
          <Lines text={s.to.lines} />
        </div>
        <table>
          <tbody>
            {s.facts.map((f) => (
              <tr key={f.name}>
                <td style={{ paddingRight: 16, opacity: 0.8, verticalAlign: 'top' }}>{f.name}</td>
                <td>{f.value}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Two>
      {s.subject && (
        <p style={{ margin: '18px 0 0' }}>
          <b>{s.subject}</b>
        </p>
      )}
      {s.says && <p style={{ margin: '22px 0 0' }}>{s.says}</p>}
      {!money && <SheetTable paper={p} />}
      {s.sums.length > 0 && <SheetTotals sums={s.sums} money={money} />}
      {(p.kind === 'order' || p.kind === 'purchase order') && <Became lines={p.order ?? []} />}
      {s.below.map((text) => (
        <p key={text} style={{ margin: '12px 0 0', textAlign: 'right' }}>
          {text}
        </p>
      ))}
      {s.sign.length > 0 && (
        <Two style={{ marginTop: 44, alignItems: 'flex-end' }}>
          {[s.inWords, ...s.sign].filter(Boolean).map((text) => (
            <span key={text}>{text}</span>
          ))}
        </Two>
      )}
      {s.pay && <p style={{ margin: '18px 0 0' }}>{s.pay.text}</p>}
      {s.note && <p style={{ margin: '20px 0 0', whiteSpace: 'pre-wrap' }}>{s.note}</p>}
      {s.sentences.map((text) => (
        <p key={text}>{text}</p>
      ))}
    </PaperSheet>
  );
}

const Beside = styled('div')({ fontSize: 13, opacity: 0.8 });

function SheetTable({ paper: p }: { paper: Paper }) {
  const { columns, rows } = p.sheet;
  return (
    <Table sx={{ mt: 2 }}>
      <TableHead>
        <TableRow>
          {columns.map((c) => (
            <TableCell key={c.name} align={c.figure ? 'right' : undefined}>
              {c.name}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((r, i) => (
          <SheetLine key={i}>
            {r.cells.map((cell, n) => (
              <td
                key={n}
                className={columns[n]?.figure ? 'figure' : undefined}
                style={n ? undefined : { whiteSpace: 'pre-wrap' }}
              >
                {cell}
                {n === 0 && r.beside && <Beside>{r.beside}</Beside>}
                {n === 0 && bought.includes(p.kind) && <Whither line={p.lines[i]!} ordered={p.kind === 'purchase order'} />}
              </td>
            ))}
          </SheetLine>
        ))}
      </TableBody>
    </Table>
  );
}

function SheetTotals({ sums, money }: { sums: Paper['sheet']['sums']; money: boolean }) {
  return (
    <Totals style={money ? { marginTop: 28 } : undefined}>
      <tbody>
        {sums.map((x, i) => {
          const final = x.look === 'left' ? !money : x.look === 'total' && money;
          return (
            <tr key={i} className={x.look}>
              <td>{x.name}</td>
              <td>
                {final ? (
                  <Typography variant="figure">
                    <Amount value={x.amount} final />
                  </Typography>
                ) : (
                  <Amount value={x.amount} />
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </Totals>
  );
}

const bought = ['purchase order', 'supplier bill', 'expense', 'supplier credit'];

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
