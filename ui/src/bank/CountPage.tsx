import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { Link, useParams } from 'react-router';
import { inTab } from '../api/at';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { newPaper } from '../papers/editing/kind';
import { Amount } from '../parts/Amount';
import { isDay } from '../parts/asOf';
import { useBack, usePrimary } from '../parts/keys';
import { Failure, Key, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { Notices } from '../parts/Notices';
import { useToday } from '../parts/records';
import { PaperSheet, Two } from '../parts/Sheet';
import { isNil, show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useActing } from './useActing';

type Row = components['schemas']['CountRow'];

/** What lies in a till: notes and coins are counted, the difference is posted, the count is kept and printed. */
export default function CountPage() {
  const id = Number(useParams().id);
  const today = useToday();
  const { refusals, act } = useActing();
  const slot = `count:${id}`;
  const [counted, setCounted] = useState<{ day: string; pieces: Record<string, number> }>(
    () => JSON.parse(inTab.getItem(slot) ?? 'null') ?? { day: '', pieces: {} },
  );
  const change = (to: Partial<typeof counted>) => {
    const next = { ...counted, ...to };
    setCounted(next);
    inTab.setItem(slot, JSON.stringify(next)); // a difference is posted in between
  };
  useBack(useLeave('/bank'));
  const asked = useDeferredValue(counted);
  const found = useQuery({
    queryKey: ['bank', id, 'count', asked],
    queryFn: () => data(api.POST('/api/v1/banks/{id}/count', { params: { path: { id } }, body: asked })),
    placeholderData: keepPreviousData,
  });
  const x = found.data;
  const keep = async () => {
    const kept = await act(
      () => data(api.POST('/api/v1/banks/{id}/count', { params: { path: { id }, query: { keep: true } }, body: counted })),
      'Counted, and kept.',
    );
    if (kept) change({ pieces: {} });
  };
  usePrimary(x ? () => void keep() : undefined);
  return (
    <Page>
      <PageHead title={x ? `Count ${x.name}` : 'Count'}>
        <UnderstoodField
          kind="day"
          label="At the end of"
          field="day"
          value={counted.day || today}
          onChange={(v) => isDay(v) && change({ day: v })}
          width={130}
        />
        <Button variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
        <Button variant="contained" disabled={!x} onClick={() => void keep()}>
          It agrees <Key>Ctrl ↵</Key>
        </Button>
      </PageHead>
      <Notices refusals={refusals} />
      {found.isError && <Failure error={found.error} />}
      {x && (
        <PaperSheet>
          <Two>
            <b>{x.firm}</b>
            <span>
              {x.name} on {showDay(x.day, today)}
            </span>
          </Two>
          <Halves>
            {[x.rows.slice(0, half(x.rows)), x.rows.slice(half(x.rows))].map((rows, n) => (
              <Pieces
                key={n}
                label={n === 0 ? 'Notes' : 'Coins'}
                first={n === 0}
                rows={rows}
                counted={counted.pieces}
                onCount={(piece, count) => change({ pieces: { ...counted.pieces, [piece]: count } })}
              />
            ))}
          </Halves>
          <Table aria-label="Counted and booked" sx={{ mt: 2 }}>
            <TableBody>
              <Sum name="Counted" amount={x.counted} />
              <Sum name="The books say" amount={x.ledger} />
              <Sum name="Between them" amount={x.apart} />
            </TableBody>
          </Table>
          {x.agrees && <Mark settled={100} state="it agrees" />}
        </PaperSheet>
      )}
      <Margin>
        {x && !isNil(x.apart) && (
          <Button
            variant="outlined"
            component={Link}
            to={newPaper('journal', { amount: x.apart, till: x.account, account: x.other, day: x.day })}
            sx={{ mb: 2 }}
          >
            Post the difference of {show(x.apart)}
          </Button>
        )}
        <ListNote title="Counted before">
          {x?.before.length
            ? x.before.map((k) => (
                <span key={k.at} style={{ display: 'block' }}>
                  {showDay(k.day, today)}: {show(k.counted)}, by {k.user}
                </span>
              ))
            : 'Never yet. A count is kept once it is what the books say: a difference is posted first.'}
        </ListNote>
      </Margin>
    </Page>
  );
}

/** Notes stand at the left, coins at the right. */
const half = (rows: Row[]) => (rows.length > 8 ? rows.length - 8 : Math.ceil(rows.length / 2));

const Halves = styled('div')({ display: 'flex', gap: 32, alignItems: 'flex-start', '& > *': { flex: 1 } });

const Many = styled('input')(({ theme }) => ({
  font: 'inherit',
  width: 76,
  padding: '1px 8px',
  textAlign: 'right',
  color: 'inherit',
  background: 'transparent',
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  borderRadius: 3,
  '&:focus': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: -1 },
}));

interface PiecesProps {
  label: string;
  first: boolean;
  rows: Row[];
  counted: Record<string, number>;
  onCount: (piece: string, count: number) => void;
}

function Pieces({ label, first, rows, counted, onCount }: PiecesProps) {
  return (
    <Table size="small" aria-label={label} sx={{ mt: 1 }}>
      <TableHead>
        <TableRow>
          <TableCell align="right">{label}</TableCell>
          <TableCell align="right">How many</TableCell>
          <TableCell align="right">Comes to</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((r, n) => (
          <TableRow key={r.piece}>
            <TableCell align="right">{r.piece}</TableCell>
            <TableCell align="right">
              <Many
                data-piece={r.piece}
                inputMode="numeric"
                aria-label={`How many of ${r.piece}`}
                autoFocus={first && n === 0}
                value={counted[r.piece] || ''}
                onChange={(e) => onCount(r.piece, Number(e.target.value.replace(/\D/g, '').slice(0, 6)))}
                onKeyDown={onward}
              />
            </TableCell>
            <TableCell align="right">
              <Amount value={r.comes} quietNil />
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** Enter walks on to the next note or coin. */
function onward(e: React.KeyboardEvent<HTMLInputElement>) {
  if (e.key !== 'Enter' || e.ctrlKey) return;
  e.preventDefault();
  const all = [...document.querySelectorAll<HTMLInputElement>('input[data-piece]')];
  all[all.indexOf(e.currentTarget) + 1]?.focus();
}

function Sum({ name, amount }: { name: string; amount: string }) {
  return (
    <TableRow>
      <TableCell>
        <b>{name}</b>
      </TableCell>
      <TableCell align="right">
        <Amount value={amount} strong />
      </TableCell>
    </TableRow>
  );
}
