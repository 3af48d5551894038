import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useState } from 'react';
import { useLocation, useNavigate, useSearchParams } from 'react-router';
import type { OpenItem } from '../api/client';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { Empty, Key } from '../parts/Layout';
import { useBack, usePrimary } from '../parts/keys';
import { usePost, usePreview } from '../parts/preview';
import { useToday } from '../parts/records';
import { isNil, show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useBench } from '../papers/useBench';
import { useLookingBack } from '../parts/asOf';
import { BenchCard } from './BenchCard';
import { Leftovers } from './Leftovers';
import { BenchLinks, type Pair } from './BenchLinks';
import { Recent } from './Recent';

const Bar = styled('div')({ display: 'flex', alignItems: 'center', gap: 10, flexWrap: 'wrap' });
const Sides = styled('div')({
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 338px) minmax(120px, 1fr) minmax(0, 338px)',
  position: 'relative',
  alignItems: 'start',
});
const Side = styled('div')({ display: 'flex', flexDirection: 'column', gap: 8 });
const Told = styled('span')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: 14 }));

/**
 * The matching bench: what is owed on one side, what can settle it on the
 * other. Take one from each side; Go offers the amount.
 */
export function Bench({ customer }: { customer: number }) {
  const today = useToday();
  const past = useLookingBack();
  const [params, setParams] = useSearchParams();
  const { hash } = useLocation();
  const [pairs, setPairs] = useState<Pair[]>([]);
  const [debit, setDebit] = useState(Number(params.get('debit') ?? 0));
  const [credit, setCredit] = useState(Number(params.get('credit') ?? 0));
  const [job, setJob] = useState(0);
  const [find, setFind] = useState('');
  const [day, setDay] = useState(today);
  const [undoing, setUndoing] = useState<number | null>(null);
  const b = useBench(customer, {
    find,
    job,
    pinned: [debit, credit, ...pairs.flatMap((p) => [p.debit, p.credit])].filter(Boolean),
  });
  const say = useSnackbar();
  const go = useNavigate();

  const clear = () => {
    setPairs([]);
    setDebit(0);
    setCredit(0);
    setUndoing(null);
    post.changed();
    if (params.get('credit') || params.get('debit')) setParams({}, { replace: true });
  };
  const undoPreview = usePreview('/api/v1/allocations/undo', undoing === null ? null : { day, allocations: [undoing] });
  const effectOfPairs = usePreview('/api/v1/allocations', pairs.length ? { day, pairs } : null);
  const effect = undoing === null ? effectOfPairs : undoPreview;
  const post = usePost('/api/v1/allocations', () => {
    clear();
    say('Set against. It stands under “Set against lately”, to be undone.');
  });
  const undo = usePost('/api/v1/allocations/undo', () => {
    clear();
    say('Undone. What was true on the days between stays told.');
  });
  const offered = (p: Pair) => effectOfPairs?.pairs?.find((o) => o.debit === p.debit && o.credit === p.credit)?.amount ?? '';
  const act = () => {
    if (undoing !== null) undo.post({ day, allocations: [undoing] });
    else if (pairs.length) post.post({ day, pairs: pairs.map((p) => ({ ...p, amount: p.amount || offered(p) })) });
  };
  const busy = pairs.length > 0 || undoing !== null;
  usePrimary(busy ? act : undefined);
  useBack(busy || debit || credit ? clear : undefined);

  const there = b !== undefined;
  useEffect(() => {
    if (hash === '#bench') document.querySelector<HTMLElement>('[data-bench] [data-card]')?.focus();
  }, [hash, there]);

  const take = (item: OpenItem) => {
    if (past) return;
    post.changed();
    setUndoing(null);
    const [d, c] = item.credit ? [debit, item.id] : [item.id, credit];
    if ((item.credit && credit === item.id) || (!item.credit && debit === item.id)) {
      setDebit(item.credit ? debit : 0);
      setCredit(item.credit ? 0 : credit);
    } else if (d && c) {
      if (!pairs.some((p) => p.debit === d && p.credit === c)) setPairs([...pairs, { debit: d, credit: c, amount: '' }]);
      setDebit(0);
      setCredit(0);
    } else {
      setDebit(d);
      setCredit(c);
    }
  };

  const after = useMemo(
    () => new Map((effectOfPairs?.balances ?? []).filter((b) => b.kind === 'item').map((b) => [b.id, b])),
    [effectOfPairs],
  );
  if (!b) return <section aria-label="Matching bench" style={{ minHeight: 160 }} />;
  const nothingOpen = b.owed.length === 0 && b.credits.length === 0 && !find && !job;
  const jobs = b.jobs ?? [];
  const taken = (id: number) => id === debit || id === credit || pairs.some((p) => p.debit === id || p.credit === id);
  const side = (items: OpenItem[], count: number, nothing: string) => (
    <Side>
      {items.map((i) => (
        <BenchCard
          key={i.id}
          item={i}
          taken={taken(i.id)}
          after={pairs.length ? after.get(i.id) : undefined}
          onTake={() => take(i)}
          today={today}
        />
      ))}
      {count > items.length && <Told>and {count - items.length} more: find them by number, or choose a job</Told>}
      {items.length === 0 && <Told>{nothing}</Told>}
    </Side>
  );
  return (
    <section aria-label="Matching bench" id="bench" data-bench>
      <Bar>
        <Typography variant="h2">Matching bench</Typography>
        <Told>Take one from each side</Told>
        <span style={{ flex: 1 }} />
        {((b.counts?.[0] ?? 0) > 8 || (b.counts?.[1] ?? 0) > 8 || find) && (
          <TextField
            variant="standard"
            placeholder="Find among them"
            value={find}
            onChange={(e) => setFind(e.target.value)}
            slotProps={{ htmlInput: { 'aria-label': 'Find among what is open' } }}
            sx={{ width: 150 }}
          />
        )}
        {jobs.length > 1 && (
          <Select
            value={job}
            onChange={(e) => setJob(Number(e.target.value))}
            variant="standard"
            inputProps={{ 'aria-label': 'Job' }}
          >
            <MenuItem value={0}>Job: all</MenuItem>
            {jobs.map((j) => (
              <MenuItem key={j.id} value={j.id}>
                Job {j.name}
              </MenuItem>
            ))}
          </Select>
        )}
      </Bar>
      {nothingOpen ? (
        <Empty action="Take a deposit" onAction={() => go(`/papers/new/deposit?customer=${customer}`)}>
          Nothing is open. What is owed, and the money that can settle it, will lie here side by side.
        </Empty>
      ) : (
        <>
          <Sides>
            <Told>Owes us</Told>
            <span />
            <Told>Can settle it</Told>
            {side(b.owed, b.counts?.[0] ?? 0, 'Nothing is owed.')}
            <BenchLinks
              pairs={pairs}
              offered={offered}
              onAmount={(n, amount) => {
                post.changed();
                setPairs(pairs.map((p, i) => (i === n ? { ...p, amount } : p)));
              }}
              onDrop={(n) => setPairs(pairs.filter((_, i) => i !== n))}
              refusals={effect?.refusals ?? []}
            />
            {side(b.credits, b.counts?.[1] ?? 0, 'Nothing to settle it with.')}
          </Sides>
        </>
      )}
      {(!nothingOpen || busy) && !past && (
        <Bar sx={{ mt: 1.5, minHeight: 40 }}>
          <Button variant="contained" disabled={!busy || post.posting || undo.posting} onClick={act}>
            {undoing !== null
              ? undo.confirming
                ? 'Undo all the same'
                : 'Undo'
              : post.confirming
                ? 'Set against all the same'
                : 'Set against'}{' '}
            <Key>Ctrl ↵</Key>
          </Button>
          <Button variant="outlined" disabled={!busy && !debit && !credit} onClick={clear}>
            Clear
          </Button>
          {!busy && (
            <Leftovers
              customer={customer}
              onPropose={(found) => {
                setPairs(found);
                setDebit(0);
                setCredit(0);
              }}
              debit={b.owed.find((i) => i.id === debit)}
              credit={b.credits.find((i) => i.id === credit)}
            />
          )}
          {busy && <UnderstoodField kind="day" label="Day" field="day" value={day} onChange={setDay} width={130} />}
          <span style={{ flex: 1 }} />
          {pairs.length > 0 && (
            <Told>
              {show(effectOfPairs?.placed)} placed in {pairs.length} {pairs.length === 1 ? 'pair' : 'pairs'}
              {(effectOfPairs?.balances ?? []).some((x) => x.what !== 'open' && x.kind === 'item' && !isNil(x.after))
                ? ' · some is left over'
                : ' · nothing left over'}
            </Told>
          )}
        </Bar>
      )}
      {past && <Told>As it stood then. Come back to today to set anything against anything.</Told>}
      <Recent
        rows={past ? [] : (b.recent ?? [])}
        undoing={undoing}
        onUndo={(id) => {
          setPairs([]);
          setUndoing(id);
        }}
      />
      <EffectView
        effect={effect}
        strict
        hint="Take one that is owed and one that can settle it: what that does is shown here before anything is written."
      />
    </section>
  );
}
