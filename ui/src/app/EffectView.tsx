import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Effect, Entry } from '../api/client';
import { Amount } from '../parts/Amount';
import { Margin } from '../parts/Margin';
import { Notices } from '../parts/Notices';
import { isNil, showDay } from '../parts/show';
import type { WhyOf } from '../parts/why';

const Head = styled('div')({ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', gap: 8 });
const Block = styled('section')({ marginTop: 12 });
const Name = styled(TableCell)({ whiteSpace: 'normal', lineHeight: 1.25, overflowWrap: 'anywhere' });
const Balances = styled('span')(({ theme }) => ({
  color: theme.vars!.palette.tally.settled,
  fontWeight: 650,
  '&[data-off]': { color: theme.vars!.palette.error.main },
}));

/** Journal lines with what they come to. */
export function EntryTable({ entries, debit, credit }: { entries: Entry[]; debit?: string; credit?: string }) {
  const lines = entries.flatMap((e, n) => e.lines.map((l, i) => ({ ...l, key: `${n}.${i}` })));
  return (
    <Table aria-label="Journal entry">
      <TableHead>
        <TableRow>
          <TableCell>Account</TableCell>
          <TableCell align="right">Debit</TableCell>
          <TableCell align="right">Credit</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {lines.map((l) => (
          <TableRow key={l.key}>
            <Name>{l.account}</Name>
            <TableCell align="right">
              <Amount value={l.debit} />
            </TableCell>
            <TableCell align="right">
              <Amount value={l.credit} />
            </TableCell>
          </TableRow>
        ))}
        {debit !== undefined && (
          <TableRow>
            <TableCell>
              <Balances data-off={debit !== credit || undefined}>{debit === credit ? 'balances' : 'does not balance'}</Balances>
            </TableCell>
            <TableCell align="right">
              <Amount value={debit} final />
            </TableCell>
            <TableCell align="right">
              <Amount value={credit} final />
            </TableCell>
          </TableRow>
        )}
      </TableBody>
    </Table>
  );
}

/** What balance of an effect it is; what is new has no papers yet. */
function whyOf(b: Effect['balances'][number]): WhyOf | undefined {
  const name = `${b.name} ${b.what}`;
  if (!b.id || isNil(b.before)) return undefined;
  if (b.kind === 'party') return { of: 'register', register: 'receivables', customer: b.id, name };
  if (b.kind === 'job') return { of: 'billed', job: b.id, name: `billed · ${b.name}` };
  return { of: b.kind, id: b.id, name };
}

function BalanceTable({ effect }: { effect: Effect }) {
  return (
    <Table aria-label="Balances before and after">
      <TableHead>
        <TableRow>
          <TableCell>Balance</TableCell>
          <TableCell align="right">Before</TableCell>
          <TableCell align="right">After</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {effect.balances.map((b, i) => (
          <TableRow key={i}>
            <Name>
              {b.name} {b.what}
            </Name>
            <TableCell align="right">
              <Amount value={b.before} why={whyOf(b)} />
            </TableCell>
            <TableCell align="right">
              <Amount value={b.after} strong={b.before !== b.after} />
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

interface Props {
  effect: Effect | undefined;
  /** What stands there before anything is known. */
  hint?: string;
  /** Whether fields that are still empty are told as refusals. */
  strict?: boolean;
  /** Fields that are still empty: what is said of them waits. */
  quiet?: string[];
  note?: string;
}

/** The Effect: what a command will do, in the margin, before it is posted. */
export function EffectView({ effect, hint, strict, quiet = [], note = 'nothing written yet' }: Props) {
  const refusals = effect?.refusals.filter((n) => strict || (n.rule !== 'missing' && !quiet.includes(n.field))) ?? [];
  const days = [...new Set(effect?.entries.map((e) => showDay(e.day)))].join(', ');
  return (
    <Margin>
      <Head>
        <Typography variant="h2">Effect</Typography>
        <Typography variant="body2" color="textSecondary">
          {note}
        </Typography>
      </Head>
      {effect && effect.entries.length > 0 && (
        <Block>
          <Typography variant="body2" color="textSecondary">
            Entry, {days}
          </Typography>
          <EntryTable entries={effect.entries} debit={effect.debit} credit={effect.credit} />
        </Block>
      )}
      {effect && effect.entries.length === 0 && !isNil(effect.placed) && (
        <Block>
          <Typography variant="body2" color="textSecondary">
            Both are in receivables already: no entry.
          </Typography>
        </Block>
      )}
      {effect && effect.balances.length > 0 && (
        <Block>
          <BalanceTable effect={effect} />
        </Block>
      )}
      <Notices refusals={refusals} warnings={effect?.warnings} />
      {(!effect || (effect.entries.length === 0 && effect.balances.length === 0 && refusals.length === 0)) && hint && (
        <Block>
          <Typography variant="body2" color="textSecondary">
            {hint}
          </Typography>
        </Block>
      )}
    </Margin>
  );
}
