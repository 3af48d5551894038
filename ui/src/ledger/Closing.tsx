import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { api, data, type Notice } from '../api/client';
import type { components } from '../api/schema';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { TieOutTable } from '../desk/Desk';
import { showMoment } from '../outgoing/moment';
import { Form } from '../papers/editing/form';
import { usePosted } from '../papers/editing/posted';
import { Told } from '../papers/editing/Told';
import { useCommand } from '../papers/editing/useForm';
import { Amount } from '../parts/Amount';
import { isDay } from '../parts/asOf';
import { usePrimary } from '../parts/keys';
import { Failure, Key } from '../parts/Layout';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { useMay } from '../parts/may';
import { Notices, toNotices } from '../parts/Notices';
import { useFirm } from '../parts/records';
import { showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useAddress } from '../parts/useAddress';
import { Bar } from './AsOf';

type Period = components['schemas']['Closing'];
type Step = Period['steps'][number];

/** What each step is called, and where it is done. */
const steps: Record<Step['id'], { name: string; to: (through: string) => string }> = {
  drafts: { name: 'Drafts', to: () => '/papers?state=draft' },
  'bank line': { name: 'Lines of the bank', to: () => '/bank' },
  'not identified': { name: 'Money not identified', to: (d) => `/ledger/registers?register=unidentified&asOf=${d}` },
  'on account': { name: 'Credits', to: () => '/papers?kind=receipt&state=open' },
  deposit: { name: 'Deposits', to: (d) => `/ledger/deposits?asOf=${d}` },
  cost: { name: 'Costs to pass on', to: () => '/jobs/costs' },
  retention: { name: 'Retention', to: (d) => `/ledger/registers?register=retention&asOf=${d}` },
  recurring: { name: 'Invoices that recur', to: () => '/papers/recurring' },
  accruals: { name: 'Work done', to: (d) => `/ledger/accruals?day=${d}` },
  revaluation: { name: 'Other currencies', to: (d) => `/ledger/exchange?day=${d}` },
  allowance: { name: 'Allowance', to: (d) => `/ledger/allowance?asOf=${d}` },
  reconciled: { name: 'Bank accounts', to: () => '/bank' },
  'tie-out': { name: 'Tie-out', to: (d) => `/ledger/tie-out?asOf=${d}` },
  tax: { name: 'Tax', to: (d) => `/ledger/tax?through=${d}` },
  year: { name: 'Year end', to: () => '' },
};

/** The closing of a month: what is looked at first, each ticked by itself, and the lock. */
export function Closing() {
  const [params, put] = useAddress();
  const chosen = params.get('through') ?? '';
  // What is looked at quickly stands there at once; the rest comes into its places.
  const part = (part: 'first' | 'rest') => ({
    queryKey: ['closing', chosen, part],
    queryFn: () => data(api.GET('/api/v1/closing', { params: { query: { through: chosen || undefined, part } } })),
  });
  const period = useQuery({ ...part('first'), placeholderData: keepPreviousData });
  const rest = useQuery(part('rest'));
  const firm = useFirm().data;
  if (period.isError && !period.data) return <Failure error={period.error} />;
  const p = period.data;
  if (!p) return null;
  const looked = rest.data?.through === p.through ? rest.data.steps : [];
  const all = p.steps.map((s) => (s.state === 'waits' ? (looked.find((l) => l.id === s.id) ?? s) : s));
  const waits = all.some((s) => s.state === 'waits');
  const open = all.filter((s) => s.state !== 'done' && s.state !== 'waits').length;
  return (
    <>
      <Bar className="no-print">
        <UnderstoodField
          kind="day"
          label="Close through"
          field="through"
          value={p.through}
          onChange={(d) => isDay(d) && put('through', d)}
          width={150}
        />
        <span style={{ flex: 1 }} />
        <Button variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
      </Bar>
      <Typography variant="h2">
        {firm?.name}, {showDay(p.through)}
      </Typography>
      <Typography>
        {p.locked
          ? `The books are locked through ${showDay(p.locked)}: nothing posts on or before it.`
          : 'Nothing is locked yet: any day can be posted to.'}{' '}
        {!waits && (open === 0 ? 'Nothing is left to do.' : open === 1 ? '1 thing to look at.' : `${open} things to look at.`)}
      </Typography>
      {rest.isError && <Failure error={rest.error} />}
      <Table aria-label="Before the period is closed">
        <TableBody>
          {all.map((s) => (
            <StepRow key={s.id} step={s} through={p.through} />
          ))}
        </TableBody>
      </Table>
      {p.steps.some((s) => s.id === 'year' && s.state !== 'done') && <YearEnd key={p.through} last={p.through} />}
      <Lock key={`${p.through} ${p.locked}`} period={p} />
      {p.locks.length > 0 && (
        <section aria-label="Locked and unlocked">
          <Typography variant="h2">Locked and unlocked</Typography>
          <Table>
            <TableBody>
              {p.locks.map((a) => (
                <TableRow key={a.id}>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showMoment(a.at)}</TableCell>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{a.user}</TableCell>
                  <TableCell>{a.summary}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </section>
      )}
      <Printed>
        <TieOutTable tieOut={p.tieOut} />
      </Printed>
    </>
  );
}

// On paper the proof stands with the list; on screen it stands in the margin.
const Printed = styled('div')({ display: 'none', '@media print': { display: 'block' } });
const Line = styled(TableRow)(({ theme }) => ({
  '& .mark': { width: 96 },
  '& .name': { width: 190 },
  '&[data-state="stops"] .says': { color: theme.vars!.palette.error.main, fontWeight: 650 },
}));

function StepRow({ step: s, through }: { step: Step; through: string }) {
  const { name, to } = steps[s.id];
  const at = to(through);
  return (
    <Line data-state={s.state} data-step={s.id}>
      <TableCell className="mark">
        {s.state !== 'waits' && <Mark settled={s.state === 'done' ? 100 : 0} state={s.state === 'done' ? 'done' : 'open'} />}
      </TableCell>
      <TableCell className="name">{at ? <Link to={at}>{name}</Link> : name}</TableCell>
      <TableCell className="says">
        {s.count > 1 && s.state !== 'done' ? `${s.count} ` : ''}
        {s.says}
      </TableCell>
      <TableCell align="right">{s.sum && s.state !== 'done' && <Amount value={s.sum} />}</TableCell>
    </Line>
  );
}

/** Locks through the day, or opens the books again with a reason. */
function Lock({ period: p }: { period: Period }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const may = useMay();
  const [reason, setReason] = useState('');
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const opens = p.locked !== '' && p.through < p.locked;
  const same = p.through === p.locked;
  const allowed = may.has(opens ? 'unlock, set up and say who may do what' : 'lock a period');
  const save = async () => {
    try {
      await api.PUT('/api/v1/lock', { body: { through: p.through, reason } });
      setRefusals([]);
      say(`Locked through ${showDay(p.through)}.`);
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  usePrimary(same || !allowed ? undefined : () => void save());
  return (
    <div className="no-print">
      {allowed && !same && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            void save();
          }}
          style={{ display: 'flex', gap: 12, alignItems: 'flex-start', maxWidth: 640 }}
        >
          {opens && (
            <TextField
              label="Why open it again?"
              data-field="reason"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              fullWidth
            />
          )}
          <Button type="submit" variant="contained" style={{ minHeight: 38, whiteSpace: 'nowrap' }}>
            {opens ? `Unlock back to ${showDay(p.through)}` : `Lock through ${showDay(p.through)}`} <Key>Ctrl ↵</Key>
          </Button>
        </form>
      )}
      <Notices refusals={refusals} />
      <Margin>
        <TieOutTable tieOut={p.tieOut} />
      </Margin>
    </div>
  );
}

/** Ends a year: shown, then posted. */
function YearEnd({ last }: { last: string }) {
  const say = useSnackbar();
  const posted = usePosted();
  const [form] = useState(() => new Form({ last }));
  const [shown, setShown] = useState(false);
  useEffect(() => form.set('last', last), [form, last]);
  const command = useCommand({
    form,
    path: '/api/v1/year-ends',
    body: (b) => (shown ? b : null),
    done: (p) => {
      say(`The year through ${showDay(last)} is ended, ${p.number}.`);
      posted();
    },
    refused: () => undefined,
  });
  return (
    <div className="no-print">
      <Button variant="outlined" onClick={() => (shown ? void command.act() : setShown(true))}>
        {!shown ? 'End the year' : command.confirming ? 'End it all the same' : 'Post the year end'}
      </Button>
      <Told text={command.told} />
      {shown && <EffectView command={command} hint="What stands on income and expense goes to retained earnings." />}
    </div>
  );
}
