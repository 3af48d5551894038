import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useNavigate, useSearchParams } from 'react-router';
import type { Notice, OpenItem } from '../api/client';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { Empty, Key } from '../parts/Layout';
import { useBack, usePrimary } from '../parts/keys';
import { focusField } from '../parts/Notices';
import { useToday } from '../parts/records';
import { isNil, show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { Form } from '../papers/editing/form';
import { usePosted } from '../papers/editing/posted';
import { Told } from '../papers/editing/Told';
import { FormPlace, useBody, useCommand } from '../papers/editing/useForm';
import { useBench } from '../papers/useBench';
import { useMay } from '../parts/may';
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
const Soft = styled('span')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: 14 }));

/** What lies on the bench. */
interface Work {
  day: string;
  pairs: Pair[];
  /** An allocation that is to be undone; 0 for none. */
  undoing: number;
  /** An allocation that is to be moved, and to which item; 0 for none. */
  moving: number;
  to: number;
}

const empty = { pairs: [], undoing: 0, moving: 0, to: 0 };

/**
 * The matching bench: what is owed on one side, what can settle it on the
 * other. Take one from each side; Go offers the amount.
 */
export function Bench({ customer, payable = false }: { customer: number; payable?: boolean }) {
  const today = useToday();
  const keeps = useMay().has('give money back, write off, reverse and keep the bank');
  const past = useLookingBack();
  const [params, setParams] = useSearchParams();
  const { hash } = useLocation();
  const [form] = useState(() => new Form<Work>({ ...empty, day: today, moving: Number(params.get('move') ?? 0) }));
  const { day, pairs, undoing, moving, to } = useBody(form);
  const [debit, setDebit] = useState(Number(params.get('debit') ?? 0));
  const [credit, setCredit] = useState(Number(params.get('credit') ?? 0));
  const [job, setJob] = useState(0);
  const [find, setFind] = useState('');
  const [papers] = useState(() => params.getAll('papers').map(Number).filter(Boolean));
  const b = useBench(customer, {
    papers,
    payable,
    find,
    job,
    pinned: [debit, credit, ...pairs.flatMap((p) => [p.debit, p.credit])].filter(Boolean),
  });
  // What we owe is a credit in the books, and what settles it a debit.
  const turned = (p: Pair): Pair => (payable ? { ...p, debit: p.credit, credit: p.debit } : p);
  const say = useSnackbar();
  const go = useNavigate();
  const posted = usePosted();

  const clear = () => {
    form.change(empty);
    setDebit(0);
    setCredit(0);
    if (params.size > 0) setParams({}, { replace: true });
  };
  const done = (told: string) => () => {
    clear();
    say(told);
    posted();
    focusFirstCard();
  };
  const refused = (r: Notice[]) => focusField(r[0]?.field ?? '');
  const setting = useCommand<Work>({
    form,
    path: '/api/v1/allocations',
    body: (w) => (w.pairs.length && !w.undoing ? { day: w.day, pairs: w.pairs.map(turned) } : null),
    done: done('Set against. It stands under “Set against lately”, to be undone.'),
    refused,
  });
  const taking = useCommand<Work>({
    form,
    path: '/api/v1/allocations/undo',
    body: (w) => (w.undoing ? { day: w.day, allocations: [w.undoing] } : null),
    done: done('Undone. What was true on the days between stays told.'),
    refused,
  });
  const elsewhere = useCommand<Work>({
    form,
    path: '/api/v1/allocations/move',
    body: (w) => (w.moving && w.to ? { day: w.day, allocation: w.moving, to: w.to } : null),
    done: done('Moved. The story tells both: where it was, and where it is now.'),
    refused,
  });
  const command = moving ? elsewhere : undoing ? taking : setting;
  const effect = command.effect;
  const offered = (p: Pair) => {
    const of = turned(p);
    return setting.effect?.pairs?.find((o) => o.debit === of.debit && o.credit === of.credit)?.amount ?? '';
  };
  const act = () => void command.act();
  const busy = pairs.length > 0 || undoing > 0 || moving > 0;
  usePrimary(busy ? act : undefined);
  useBack(busy || debit || credit ? clear : undefined);

  // Papers that were chosen in a list come paired, where one of them stands on a side alone.
  const chosen = useRef(papers.length > 0);
  useEffect(() => {
    if (!chosen.current || !b) return;
    chosen.current = false;
    const of = (items: OpenItem[]) => items.filter((i) => papers.includes(i.paperId)).map((i) => i.id);
    const [owed, credits] = [of(b.owed), of(b.credits)];
    if (owed.length === 1 || credits.length === 1)
      form.change({ pairs: owed.flatMap((debit) => credits.map((credit) => ({ debit, credit, amount: '' }))) });
  }, [b, papers, form]);

  const there = b !== undefined;
  useEffect(() => {
    if (hash === '#bench') focusFirstCard();
  }, [hash, there]);

  const take = (item: OpenItem) => {
    if (past) return;
    if (moving) return form.change({ to: item.id === to ? 0 : item.id });
    if (undoing) form.change({ undoing: 0 });
    const [d, c] = item.credit ? [debit, item.id] : [item.id, credit];
    if ((item.credit && credit === item.id) || (!item.credit && debit === item.id)) {
      setDebit(item.credit ? debit : 0);
      setCredit(item.credit ? 0 : credit);
    } else if (d && c) {
      if (!pairs.some((p) => p.debit === d && p.credit === c))
        form.change((now) => ({ pairs: [...now.pairs, { debit: d, credit: c, amount: '' }] }));
      setDebit(0);
      setCredit(0);
    } else {
      setDebit(d);
      setCredit(c);
    }
  };

  const after = useMemo(
    () => new Map((command.effect?.balances ?? []).filter((b) => b.kind === 'item').map((b) => [b.id, b])),
    [command.effect],
  );
  if (!b) return <section aria-label="Matching bench" style={{ minHeight: 160 }} />;
  const nothingOpen = b.owed.length === 0 && b.credits.length === 0 && !find && !job;
  const jobs = b.jobs ?? [];
  const taken = (id: number) =>
    id === to || id === debit || id === credit || pairs.some((p) => p.debit === id || p.credit === id);
  const side = (items: OpenItem[], count: number, nothing: string) => (
    <Side>
      {items.map((i) => (
        <BenchCard
          key={i.id}
          item={i}
          taken={taken(i.id)}
          after={pairs.length || to ? after.get(i.id) : undefined}
          onTake={() => take(i)}
          today={today}
        />
      ))}
      {count > items.length && <Soft>and {count - items.length} more: find them by number, or choose a job</Soft>}
      {items.length === 0 && <Soft>{nothing}</Soft>}
    </Side>
  );
  return (
    <FormPlace.Provider value={form}>
      <section aria-label="Matching bench" id="bench" data-bench>
        <Bar>
          <Typography variant="h2">Matching bench</Typography>
          <Soft>{moving ? 'Take what it is to stand against instead' : 'Take one from each side'}</Soft>
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
          payable ? (
            <Empty action="Supplier bill" onAction={() => go(`/papers/new/supplier_bill?customer=${customer}`)}>
              Nothing is open. What we owe, and what can settle it, will lie here side by side.
            </Empty>
          ) : (
            <Empty action="Take a deposit" onAction={() => go(`/papers/new/deposit?customer=${customer}`)}>
              Nothing is open. What is owed, and the money that can settle it, will lie here side by side.
            </Empty>
          )
        ) : (
          <>
            <Sides>
              <Soft>{payable ? 'We owe' : 'Owes us'}</Soft>
              <span />
              <Soft>Can settle it</Soft>
              {side(b.owed, b.counts?.[0] ?? 0, 'Nothing is owed.')}
              <BenchLinks
                pairs={pairs}
                offered={offered}
                onAmount={(n, amount) => form.set(`pairs[${n}].amount`, amount)}
                onDrop={(n) => form.change((now) => ({ pairs: now.pairs.filter((_, i) => i !== n) }))}
                refusals={effect?.refusals ?? []}
              />
              {side(b.credits, b.counts?.[1] ?? 0, 'Nothing to settle it with.')}
            </Sides>
          </>
        )}
        {(!nothingOpen || busy) && !past && keeps && (
          <Bar sx={{ mt: 1.5, minHeight: 40 }}>
            <Button variant="contained" disabled={!busy} onClick={act}>
              {moving ? 'Move' : undoing ? 'Undo' : 'Set against'}
              {command.confirming && ' all the same'} <Key>Ctrl ↵</Key>
            </Button>
            <Button variant="outlined" disabled={!busy && !debit && !credit} onClick={clear}>
              Clear
            </Button>
            {!busy && !payable && (
              <Leftovers
                customer={customer}
                onPropose={(found) => {
                  form.change({ pairs: found });
                  setDebit(0);
                  setCredit(0);
                }}
                debit={b.owed.find((i) => i.id === debit)}
                credit={b.credits.find((i) => i.id === credit)}
              />
            )}
            {busy && (
              <UnderstoodField kind="day" label="Date" field="day" value={day} onChange={(v) => form.set('day', v)} width={130} />
            )}
            <span style={{ flex: 1 }} />
            {pairs.length > 0 && (
              <Soft>
                {effect?.pairs?.[0]?.currency} {show(effect?.placed)} set against in {pairs.length}{' '}
                {pairs.length === 1 ? 'pair' : 'pairs'}
                {(setting.effect?.balances ?? []).some((x) => x.what !== 'open' && x.kind === 'item' && !isNil(x.after))
                  ? ' · some is left over'
                  : ' · nothing left over'}
              </Soft>
            )}
          </Bar>
        )}
        {past && <Soft>As it stood then. Come back to today to set anything against anything.</Soft>}
        <Recent
          rows={past ? [] : (b.recent ?? [])}
          undoing={undoing || null}
          onUndo={(id) => form.change({ ...empty, undoing: id })}
          moving={moving}
          onMove={(id) => form.change({ ...empty, moving: id })}
        />
        <Told text={command.told} />
        <EffectView
          command={command}
          strict
          hint="Take one that is owed and one that can settle it: what that does is shown here before anything is written."
        />
      </section>
    </FormPlace.Provider>
  );
}

function focusFirstCard() {
  // After what was posted is read again, or what comes has come.
  requestAnimationFrame(() => {
    // Who has gone on elsewhere meanwhile stays there.
    const at = document.activeElement;
    if (at && at !== document.body && at.id !== 'work' && !at.closest('[data-bench]')) return;
    document.querySelector<HTMLElement>('[data-bench] [data-card]')?.focus();
  });
}
