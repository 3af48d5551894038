import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { Fragment, useContext, useEffect, useRef, useState } from 'react';
import { api, data, type Effect, type OpenItem, type PlacementBody, type Proposal } from '../api/client';
import { Amount } from '../parts/Amount';
import { Key } from '../parts/Layout';
import { useFirm, useToday } from '../parts/records';
import { isNil, show, showDay, showDays } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { Choice } from './editing/fields';
import { EditingPlace } from './editing/Editing';
import { useAgain, useFormHere, type Refused } from './editing/useForm';
import { useBench } from './useBench';

const rests = [
  { value: '', name: 'stays open' },
  { value: 'difference', name: 'is a small difference' },
  { value: 'disputed', name: 'is disputed' },
  { value: 'kept back', name: 'is kept back by the customer' },
  { value: 'write-off', name: 'is written off' },
] as const;

// How long a proposal that was asked for is waited for, in milliseconds.
const longestWait = 8000;

type Rest = NonNullable<PlacementBody['rest']>;

const Bar = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap', marginTop: 14, minHeight: 34 });
const Name = styled(TableCell)({ maxWidth: 230, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' });
const With = styled(TableCell)({
  border: 0,
  paddingTop: 2,
  '& > div': { display: 'flex', gap: 10, alignItems: 'center', justifyContent: 'flex-end', flexWrap: 'wrap' },
});
const Why = styled('small')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: 13 }));

interface Props {
  customer: number;
  amount: string;
  reference: string;
  job?: number;
  day: string;
  /** Of the fields: 'receipts[1].' where the receipt is one of several. */
  prefix?: string;
  /** The currency of the money. */
  money?: string;
  placements: PlacementBody[];
  onChange: (change: (now: PlacementBody[]) => PlacementBody[]) => void;
  effect: Effect | undefined;
  refused: Refused;
}

/** What a receipt is set against: typed row by row, or as a proposal that says why. */
export function Places(p: Props) {
  const { customer, placements, onChange, effect } = p;
  const today = useToday();
  const [find, setFind] = useState('');
  const [, again] = useState(0);
  const writtenFor = useAgain();
  const proposal = useQuery({
    queryKey: ['proposal', customer, p.amount, p.reference, p.job, p.day, p.money, writtenFor],
    queryFn: () =>
      data(
        api.GET('/api/v1/customers/{id}/proposal', {
          params: {
            path: { id: customer },
            query: {
              amount: p.amount,
              reference: p.reference || undefined,
              job: p.job || undefined,
              day: p.day || undefined,
              currency: p.money || undefined,
              again: writtenFor || undefined,
            },
          },
        }),
      ),
    enabled: customer > 0 && !isNil(p.amount),
  });
  const reasons = new Map((proposal.data?.rows ?? []).map((r) => [r.item, r]));
  // What is placed or proposed is shown, whatever is looked for.
  const bench = useBench(customer, { find, pinned: [...new Set([...reasons.keys(), ...placements.map((x) => x.item)])] });
  const all = [...(bench?.owed ?? []), ...(bench?.keptBack ?? [])];
  const items = [...all].sort((a, b) => Number(reasons.has(b.id)) - Number(reasons.has(a.id)));
  const count = (bench?.counts?.[0] ?? 0) + (bench?.counts?.[2] ?? 0);
  const set = (item: number, part: Partial<PlacementBody> | null) =>
    onChange((now) => {
      if (part === null) return now.filter((x) => x.item !== item);
      return now.some((x) => x.item === item)
        ? now.map((x) => (x.item === item ? { ...x, ...part } : x))
        : [...now, { item, amount: '', ...part }];
    });
  const takeAll = () =>
    onChange(() => (proposal.data?.rows ?? []).map((r: Proposal) => ({ item: r.item, amount: r.amount, discount: r.discount })));
  // Whoever types fast asks for the proposal before it is there: it is taken when it is, and a post waits for it.
  const form = useFormHere();
  const fresh = useContext(EditingPlace)?.command.isFresh?.('proposal') ?? true;
  const asked = useRef<(() => void) | null>(null);
  const there = fresh && proposal.isSuccess && !proposal.isFetching;
  useEffect(() => {
    if (!asked.current || !there) return;
    asked.current();
    asked.current = null;
    if (reasons.size > 0) takeAll();
  });
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!e.altKey || e.code !== 'KeyT') return;
      e.preventDefault();
      const taken = new Promise<void>((resolve) => {
        asked.current = resolve;
        setTimeout(resolve, longestWait);
      });
      form?.wait('proposal', taken);
      again((n) => n + 1);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [form]);
  if (!bench) return null;
  if (all.length === 0 && !find)
    return (
      <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }}>
        This customer owes nothing now. The receipt can stay on account.
      </Typography>
    );
  return (
    <>
      <Bar>
        {reasons.size > 0 && (
          <Button variant="outlined" onClick={takeAll} aria-keyshortcuts="Alt+T">
            Take the proposal <Key>Alt t</Key>
          </Button>
        )}
        {reasons.size > 0 && (
          <Why>
            {(proposal.data?.rows ?? [])
              .slice(0, 3)
              .map((r) => `${r.number}: ${r.reason}`)
              .join(' · ')}
            {reasons.size > 3 && ` · and ${reasons.size - 3} more`}
          </Why>
        )}
        <span style={{ flex: 1 }} />
        {(count > 8 || find) && (
          <TextField label="Find among them" value={find} onChange={(e) => setFind(e.target.value)} style={{ width: 170 }} />
        )}
      </Bar>
      {(proposal.data?.notYet ?? []).map((why) => (
        <Why key={why} as="p" style={{ margin: '6px 0 0' }}>
          {why}
        </Why>
      ))}
      <Table aria-label="What it is set against" sx={{ mt: 1 }}>
        <TableHead>
          <TableRow>
            <TableCell>Owed</TableCell>
            <TableCell>Due date</TableCell>
            <TableCell align="right">Open</TableCell>
            <TableCell align="right">Set against it</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {items.map((i) => (
            <Place
              key={i.id}
              item={i}
              money={p.money ?? ''}
              today={today}
              at={placements.findIndex((x) => x.item === i.id)}
              placement={placements.find((x) => x.item === i.id)}
              reason={reasons.get(i.id)?.reason}
              effect={effect}
              refused={p.refused}
              prefix={p.prefix ?? ''}
              onSet={(part) => set(i.id, part)}
            />
          ))}
        </TableBody>
      </Table>
      {count > items.length && (
        <Typography variant="body2" color="textSecondary">
          and {count - items.length} more: find them by number or title
        </Typography>
      )}
    </>
  );
}

interface PlaceProps {
  item: OpenItem;
  money: string;
  today: string;
  /** Its place among the placements, −1 for none. */
  at: number;
  placement: PlacementBody | undefined;
  reason: string | undefined;
  effect: Effect | undefined;
  refused: Refused;
  prefix: string;
  onSet: (part: Partial<PlacementBody> | null) => void;
}

function Place({ item: i, money, today, at, placement, reason, effect, refused, prefix, onSet }: PlaceProps) {
  const field = `${prefix}placements[${at}].`;
  const offered = effect?.pairs?.find((x) => x.debit === i.id)?.amount ?? '';
  const left = effect?.balances.find((b) => b.kind === 'item' && b.id === i.id)?.after;
  const kept = i.register === 'retention';
  const own = useFirm().data?.currency ?? '';
  const other = !!money && (i.currency || own) !== money;
  return (
    <Fragment>
      <TableRow>
        <Name title={i.title} style={placement ? { border: 0 } : undefined}>
          <b>{i.number}</b> {kept ? 'kept back' : i.title}
          {i.instalment > 0 && `, part ${i.instalment}`}
        </Name>
        <TableCell sx={{ whiteSpace: 'nowrap' }} style={placement ? { border: 0 } : undefined}>
          {showDay(i.due, today)}
          {i.age > 0 && !kept && `, ${showDays(i.age)} over`}
        </TableCell>
        <TableCell align="right" style={placement ? { border: 0 } : undefined}>
          <Amount value={i.open} code={i.currency} />
        </TableCell>
        <TableCell align="right" sx={{ width: 130 }} style={placement ? { border: 0 } : undefined}>
          <UnderstoodField
            kind="amount"
            label={`Set against ${i.number}`}
            field={at < 0 ? `place.${i.id}` : `${field}amount`}
            value={placement ? placement.amount || offered : ''}
            onChange={(v) => onSet(v === '' ? null : { amount: v })}
            onSheet
            error={at >= 0 ? refused(`${field}amount`) : ''}
          />
        </TableCell>
        <TableCell align="right" sx={{ width: 84 }} style={placement ? { border: 0 } : undefined}>
          {placement ? (
            <Button onClick={() => onSet(null)}>Take off</Button>
          ) : (
            <Button onClick={() => onSet({})}>Set against</Button>
          )}
        </TableCell>
      </TableRow>
      {placement && (
        <TableRow>
          <With colSpan={5}>
            <div>
              {reason && <Why>{reason}</Why>}
              {other && (
                <>
                  <Why>out of the money, {money}</Why>
                  <UnderstoodField
                    kind="amount"
                    label={`Out of the money for ${i.number}, ${money}`}
                    field={`${field}takes`}
                    value={placement.takes ?? ''}
                    onChange={(takes) => onSet({ takes })}
                    onSheet
                    width={110}
                    error={refused(`${field}takes`)}
                  />
                </>
              )}
              <span style={{ flex: 1 }} />
              {i.early && (
                <FormControlLabel
                  data-field={`${field}discount`}
                  control={
                    <Checkbox
                      size="small"
                      checked={!!placement.discount}
                      onChange={(e) => onSet({ discount: e.target.checked })}
                    />
                  }
                  label={`less ${show(i.early)} for paying by ${showDay(i.earlyDay, today)}`}
                />
              )}
              {!kept && (placement.rest || (left !== undefined && !isNil(left))) && (
                <Choice
                  onSheet
                  label={`What is left of ${i.number}`}
                  field={`${field}rest`}
                  value={placement.rest ?? ''}
                  onChange={(v) => onSet({ rest: v as Rest })}
                  error={refused(`${field}rest`)}
                  options={rests.map((r) => ({
                    value: r.value,
                    name:
                      left !== undefined && !placement.rest && !isNil(left) ? `${show(left)} ${r.name}` : `the rest ${r.name}`,
                  }))}
                />
              )}
              {(placement.rest === 'write-off' || placement.rest === 'disputed') && (
                <TextField
                  variant="standard"
                  placeholder="Why?"
                  data-field={`${field}reason`}
                  value={placement.reason ?? ''}
                  onChange={(e) => onSet({ reason: e.target.value })}
                  error={!!refused(`${field}reason`)}
                  slotProps={{ htmlInput: { 'aria-label': `Why, for ${i.number}` } }}
                  sx={{ width: 190 }}
                />
              )}
            </div>
          </With>
        </TableRow>
      )}
    </Fragment>
  );
}
