import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { Fragment, useEffect, useState } from 'react';
import type { Effect, Entry, Notice } from '../api/client';
import type { Command } from '../papers/editing/command';
import { Amount } from '../parts/Amount';
import { Margin } from '../parts/Margin';
import { Notices } from '../parts/Notices';
import { isNil, show, showDay } from '../parts/show';
import type { WhyOf } from '../parts/why';

const Head = styled('div')({ display: 'flex', justifyContent: 'space-between', alignItems: 'baseline', gap: 8 });
const Block = styled('section')({ marginTop: 12 });
const Name = styled(TableCell)({ whiteSpace: 'normal', lineHeight: 1.25, overflowWrap: 'anywhere' });
const EntryHead = styled(TableCell)(({ theme }) => ({
  whiteSpace: 'normal',
  paddingTop: 8,
  fontSize: 12.5,
  color: theme.vars!.palette.text.secondary,
}));
const Balances = styled('span')(({ theme }) => ({
  color: theme.vars!.palette.tally.settled,
  fontWeight: 650,
  '&[data-off]': { color: theme.vars!.palette.error.main },
}));

// What a line is in another currency, under what it is in the firm's.
const Own = styled('div')(({ theme }) => ({
  color: theme.vars!.palette.text.secondary,
  fontSize: 12.5,
  lineHeight: 1.2,
  whiteSpace: 'nowrap',
  fontVariantNumeric: 'tabular-nums lining-nums',
  '&[data-long]': { fontSize: 10.5, letterSpacing: '-0.02em' },
}));

const headOf = (e: Entry) => [e.text, showDay(e.day)].filter(Boolean).join(', ');

/** Journal lines with what they come to. */
export function EntryTable({ entries, debit, credit }: { entries: Entry[]; debit?: string; credit?: string }) {
  // Several entries of one day and text read as one; others each have a head.
  const heads = new Set(entries.map(headOf)).size > 1;
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
        {entries.map((e, n) => (
          <Fragment key={n}>
            {heads && (n === 0 || headOf(e) !== headOf(entries[n - 1]!)) && (
              <TableRow>
                <EntryHead colSpan={3}>{headOf(e)}</EntryHead>
              </TableRow>
            )}
            {e.lines.map((l, i) => (
              <TableRow key={i}>
                <Name>{l.account}</Name>
                <TableCell align="right">
                  <Amount value={l.debit} />
                  {l.own && l.debit && <Own data-long={l.own.length > 15 || undefined}>{l.own}</Own>}
                </TableCell>
                <TableCell align="right">
                  <Amount value={l.credit} />
                  {l.own && l.credit && <Own data-long={l.own.length > 15 || undefined}>{l.own}</Own>}
                </TableCell>
              </TableRow>
            ))}
          </Fragment>
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

export function BalanceTable({ effect }: { effect: Effect }) {
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
              <Amount value={b.before} why={whyOf(b)} code={b.currency} />
            </TableCell>
            <TableCell align="right">
              <Amount value={b.after} strong={b.before !== b.after} code={b.currency} />
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

const Shown = styled('div')({
  transition: 'opacity 120ms',
  // What is a moment behind the typing does not flicker.
  '&[data-behind]': { opacity: 0.5, transitionDelay: '250ms' },
  '@media (prefers-reduced-motion: reduce)': { transition: 'none' },
});
const Hidden = styled('div')({ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' });

interface Props {
  command: Pick<Command<object>, 'effect' | 'fresh' | 'error' | 'strict' | 'refusals'>;
  /** What stands there before anything is known. */
  hint?: string;
  /** Whether fields that are still empty are told as refusals. */
  strict?: boolean;
  /** Fields that are still empty: what is said of them waits. */
  quiet?: string[];
  /** Whether what is written posts nothing. */
  nothing?: boolean;
}

/** The Effect: what a command will do, in its column, before it is posted. */
export function EffectView({ command, hint, strict = command.strict, quiet = [], nothing }: Props) {
  const { effect, fresh, error } = command;
  const live = effect?.refusals.filter((n) => strict || (n.rule !== 'missing' && !quiet.includes(n.field))) ?? [];
  const refusals = [...command.refusals.filter((r) => !live.some((n) => n.text === r.text)), ...live];
  const days = [...new Set(effect?.entries.map((e) => showDay(e.day)))].join(', ');
  const blank =
    !effect ||
    (effect.entries.length === 0 && effect.balances.length === 0 && effect.papers.length === 0 && refusals.length === 0);
  const said = !fresh || error ? '' : summary(effect, refusals);
  return (
    <Margin>
      <Head>
        <Typography variant="h2">Effect</Typography>
        <Typography variant="body2" color="textSecondary">
          {fresh || !effect ? 'nothing written yet' : 'of what stood there before'}
        </Typography>
      </Head>
      {error && !fresh && <Notices refusals={[{ field: '', rule: 'error', limit: '', text: error }]} said={false} />}
      <Shown data-behind={(effect && !fresh) || undefined}>
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
        {effect && nothing && effect.entries.length === 0 && (
          <Block>
            <Typography variant="body2" color="textSecondary">
              It posts nothing.
            </Typography>
          </Block>
        )}
        {effect && effect.balances.length > 0 && (
          <Block>
            <BalanceTable effect={effect} />
          </Block>
        )}
        <Notices refusals={refusals} warnings={effect?.warnings} said={false} />
      </Shown>
      {blank && hint && (
        <Block>
          <Typography variant="body2" color="textSecondary">
            {hint}
          </Typography>
        </Block>
      )}
      <Said text={said} />
    </Margin>
  );
}

/** What the Effect comes to, in a sentence. */
function summary(effect: Effect | undefined, refusals: Notice[]): string {
  if (!effect) return '';
  const what = effect.entries.length > 0 ? `Entry of ${show(effect.debit)}.` : '';
  const stands = refusals.length === 1 ? refusals[0]!.text : refusals.length ? `${refusals.length} things stand in the way.` : '';
  const warned = effect.warnings.map((w) => w.text).join(' ');
  return [what, stands, warned].filter(Boolean).join(' ');
}

const untilSaid = 700;

/** Says a text to whoever listens, once the typing pauses. */
function Said({ text }: { text: string }) {
  const [said, setSaid] = useState('');
  useEffect(() => {
    const timer = setTimeout(() => setSaid(text), untilSaid);
    return () => clearTimeout(timer);
  }, [text]);
  return <Hidden role="status">{said}</Hidden>;
}
