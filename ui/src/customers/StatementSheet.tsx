import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Statement } from '../api/client';
import { Amount } from '../parts/Amount';
import { Lines, PaperSheet, Two } from '../parts/Sheet';
import { isNil, showDay } from '../parts/show';

/** A statement as it is handed over: of a span, or of open items. */
export function StatementSheet({ statement: s }: { statement: Statement }) {
  return (
    <PaperSheet>
      <Two>
        <div>
          <Typography variant="h2">{s.firm}</Typography>
          <Lines text={s.address} />
        </div>
        <div style={{ textAlign: 'right' }}>
          <Typography variant="h1">Statement</Typography>
          {s.currency && <div>All amounts in {s.currency}</div>}
          {s.open ? `Open items on ${showDay(s.through)}` : `${showDay(s.from)} to ${showDay(s.through)}`}
        </div>
      </Two>
      <div style={{ margin: '14px 0' }}>
        <b>{s.customer}</b>
        <Lines text={s.customerAddress} />
      </div>
      {s.open ? <OpenItems s={s} /> : <Movements s={s} />}
      <Two style={{ marginTop: 18 }}>
        <table>
          <tbody>
            {(s.ageing.buckets ?? []).map((name, i) => (
              <tr key={name}>
                <td style={{ paddingRight: 24 }}>{name === 'not due' ? 'Not due' : `${name} days overdue`}</td>
                <td align="right">
                  <Amount value={s.ageing.total.buckets?.[i]} />
                </td>
              </tr>
            ))}
            <tr>
              <td style={{ paddingRight: 24 }}>Credits not used</td>
              <td align="right">
                <Amount value={s.ageing.total.unplaced} />
              </td>
            </tr>
            {!isNil(s.ageing.total.disputed) && (
              <tr>
                <td style={{ paddingRight: 24 }}>Of it disputed</td>
                <td align="right">
                  <Amount value={s.ageing.total.disputed} />
                </td>
              </tr>
            )}
          </tbody>
        </table>
        <table style={{ marginLeft: 'auto' }}>
          <tbody>
            <tr>
              <td style={{ paddingRight: 24 }}>Held for you</td>
              <td align="right">
                <Amount value={s.held} tone="held" />
              </td>
            </tr>
            {!isNil(s.keptBack) && (
              <tr>
                <td style={{ paddingRight: 24 }}>Kept back</td>
                <td align="right">
                  <Amount value={s.keptBack} />
                </td>
              </tr>
            )}
            <tr>
              <td style={{ paddingRight: 24 }}>Balance with these</td>
              <td align="right">
                <Amount value={s.net} strong />
              </td>
            </tr>
          </tbody>
        </table>
      </Two>
    </PaperSheet>
  );
}

/** What the last line is called: customers read a minus as a mistake. */
function closingName(s: Statement): string {
  return s.closing.startsWith('-') ? 'Balance in your favour' : 'Balance';
}

function OpenItems({ s }: { s: Statement }) {
  return (
    <Table aria-label="Open items">
      <TableHead>
        <TableRow>
          <TableCell>Date</TableCell>
          <TableCell>Paper</TableCell>
          <TableCell>What</TableCell>
          <TableCell>Due date</TableCell>
          <TableCell align="right">Amount</TableCell>
          <TableCell align="right">Open</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {(s.items ?? []).map((i) => (
          <TableRow key={i.id}>
            <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(i.day, s.through)}</TableCell>
            <TableCell sx={{ whiteSpace: 'nowrap' }}>{i.number}</TableCell>
            <TableCell>
              {i.title}
              {i.instalment > 0 && `, part ${i.instalment}`}
              {i.disputed && ' (disputed)'}
            </TableCell>
            <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(i.due, s.through)}</TableCell>
            <TableCell align="right">
              <Amount value={i.signed} />
            </TableCell>
            <TableCell align="right">
              <Amount value={i.signedOpen} />
            </TableCell>
          </TableRow>
        ))}
        <TableRow>
          <TableCell colSpan={5}>
            <b>{closingName(s)}</b>
          </TableCell>
          <TableCell align="right">
            <Amount value={s.closing} final strong />
          </TableCell>
        </TableRow>
      </TableBody>
    </Table>
  );
}

function Movements({ s }: { s: Statement }) {
  return (
    <Table>
      <TableHead>
        <TableRow>
          <TableCell>Date</TableCell>
          <TableCell>Paper</TableCell>
          <TableCell>What happened</TableCell>
          <TableCell align="right">Amount</TableCell>
          <TableCell align="right">Balance</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        <TableRow>
          <TableCell>{showDay(s.from, s.through)}</TableCell>
          <TableCell />
          <TableCell>Balance brought forward</TableCell>
          <TableCell />
          <TableCell align="right">
            <Amount value={s.opening} />
          </TableCell>
        </TableRow>
        {(s.rows ?? [])
          .filter((r) => !isNil(r.amount))
          .map((r, i) => (
            <TableRow key={i}>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(r.day, s.through)}</TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{r.number}</TableCell>
              <TableCell>{r.text}</TableCell>
              <TableCell align="right">
                <Amount value={r.amount} />
              </TableCell>
              <TableCell align="right">
                <Amount value={r.balance} />
              </TableCell>
            </TableRow>
          ))}
        <TableRow>
          <TableCell>{showDay(s.through, s.through)}</TableCell>
          <TableCell />
          <TableCell>
            <b>{closingName(s)}</b>
          </TableCell>
          <TableCell />
          <TableCell align="right">
            <Amount value={s.closing} final strong />
          </TableCell>
        </TableRow>
      </TableBody>
    </Table>
  );
}
