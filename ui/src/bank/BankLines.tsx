import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import ToggleButton from '@mui/material/ToggleButton';
import Typography from '@mui/material/Typography';
import { useInfiniteQuery, useQueries, useQuery, keepPreviousData } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { newPaper } from '../papers/editing/kind';
import { Amount } from '../parts/Amount';
import { ExportAs } from '../parts/ExportAs';
import { useBack } from '../parts/keys';
import { Empty, Failure, Key, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { Filters, SearchField } from '../parts/ListFilters';
import { Margin } from '../parts/Margin';
import { Notices } from '../parts/Notices';
import { OneStop } from '../parts/OneStop';
import { useToday } from '../parts/records';
import { show, showDay, showIn } from '../parts/show';
import { bankQuery } from './BankPlace';
import { becomes, fits, isWhat, paperFor, said, type Line, type Proposal } from './becomes';
import { MayBe } from './MayBe';
import { ReadFile } from './ReadFile';
import { Statements } from './Statements';
import { useActing } from './useActing';

const Row = styled(TableRow)(({ theme }) => ({
  cursor: 'default',
  '& .what, & .may': { maxWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '& .what': { width: '58%' },
  '& .may': { width: '42%', color: theme.vars!.palette.text.secondary },
  '&[data-on]': { backgroundColor: theme.vars!.palette.tally.second },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: -2 },
}));

/** The lines of a bank's statements, worked through by keys: beside each what it may be. */
export default function BankLines() {
  const id = Number(useParams().id);
  const [params, setParams] = useSearchParams();
  const all = params.get('of') === 'all';
  const q = params.get('q') ?? '';
  const query = { state: all ? ('all' as const) : ('unexplained' as const), q: q || undefined, newest: all || undefined };
  const setAddress = (of: string, q: string) => {
    const next = new URLSearchParams();
    if (of) next.set('of', of);
    if (q) next.set('q', q);
    setParams(next, { replace: true });
  };
  const today = useToday();
  const { refusals, act } = useActing();
  const go = useNavigate();
  const [looked, setLooked] = useState(0);
  const [chosen, setChosen] = useState<number[]>([]);
  useBack(useLeave('/bank'));
  const account = useQuery(bankQuery()).data?.rows.find((b) => b.id === id);
  // The lines stand there at once; what each may be comes into its place.
  const page = (after: number, part?: 'first') =>
    data(api.GET('/api/v1/banks/{id}/lines', { params: { path: { id }, query: { ...query, after: after || undefined, part } } }));
  const lines = useInfiniteQuery({
    queryKey: ['bank', id, 'lines', query],
    queryFn: ({ pageParam }) => page(pageParam, 'first'),
    initialPageParam: 0,
    getNextPageParam: (p) => p.next || undefined,
    placeholderData: keepPreviousData,
  });
  const may = useQueries({
    queries: ((lines.data?.pageParams ?? []) as number[]).map((after) => ({
      queryKey: ['bank', id, 'may be', query, after],
      queryFn: () => page(after),
      placeholderData: keepPreviousData,
    })),
    combine: (pages) => ({
      of: new Map(pages.flatMap((p) => p.data?.rows ?? []).map((l) => [l.id, l.may])),
      waits: pages.some((p) => p.isPending || p.isPlaceholderData),
    }),
  });
  const rows = lines.data?.pages.flatMap((p) => p.rows).map((l): Line => ({ ...l, may: may.of.get(l.id) })) ?? [];
  const first = lines.data?.pages[0];
  const line = rows.find((l) => l.id === looked) ?? rows[0];
  const proposed = useQuery({
    queryKey: ['bank', 'line', line?.id],
    queryFn: () => data(api.GET('/api/v1/bank-lines/{id}', { params: { path: { id: line!.id } } })),
    enabled: !!line && !line.tied,
    placeholderData: keepPreviousData,
  }).data;
  const proposals = proposed && proposed.line.id === line?.id ? proposed.rows : undefined;
  const take = (l: Line, p: Proposal) => {
    if (p.movements.length === 0) return void go(paperFor(l, p));
    // The next line has the focus at once: whoever is sure goes on without waiting.
    const next = rows[rows.indexOf(l) + 1] ?? rows[rows.indexOf(l) - 1];
    if (next) document.querySelector<HTMLElement>(`[data-row="line${next.id}"]`)?.focus();
    void act(() => data(api.POST('/api/v1/ties', { body: { lines: [l.id], movements: p.movements } })), `Tied to ${p.numbers}.`);
  };
  const untie = (l: Line) =>
    void act(() => data(api.POST('/api/v1/ties/undo', { body: { line: l.id } })), 'The line is unexplained again.');
  const choose = (l: Line) => setChosen((now) => (now.includes(l.id) ? now.filter((x) => x !== l.id) : [...now, l.id]));
  const several = (of: number[]) => void go(`/bank/${id}/several?${of.map((x) => `lines=${x}`).join('&')}`);
  const key = (e: React.KeyboardEvent, l: Line) => {
    if (e.ctrlKey || e.metaKey || e.altKey || e.repeat || l.tied || e.target !== e.currentTarget) return;
    const to = becomes.find((b) => b.key === e.key && fits(b, l));
    // What the list says of the line is there before all of it is read.
    const best = (l.id === line?.id ? proposals?.[0] : undefined) ?? l.may;
    if (e.key === 'Enter' && best) take(l, best);
    else if (e.key === ' ') choose(l);
    else if (e.key === 'v') several(chosen.length > 0 ? chosen : [l.id]);
    else if (to) void go(newPaper(to.kind, { bankLine: l.id }));
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <Page>
      <PageHead title={account?.name ?? 'Bank'} under={account && standing(account, today)}>
        <Filters
          exclusive
          size="small"
          value={all ? 'all' : 'unexplained'}
          onChange={(_, v: string | null) => v && setAddress(v === 'all' ? 'all' : '', q)}
          aria-label="Lines"
        >
          <ToggleButton value="unexplained">Not explained</ToggleButton>
          <ToggleButton value="all">All</ToggleButton>
        </Filters>
        <SearchField label="Find" value={q} onChange={(text) => setAddress(all ? 'all' : '', text)} />
        <ExportAs
          path={`/api/v1/banks/${id}/lines`}
          query={new URLSearchParams({ state: query.state, ...(q ? { q } : {}), ...(all ? { newest: 'true' } : {}) })}
        />
        <Statements bank={id} />
        <Button variant="outlined" component={Link} to={`/bank/${id}/reconcile`}>
          Reconcile
        </Button>
        <ReadFile bank={id} fetches={!!account?.feed && !!account.standIn} />
      </PageHead>
      <Notices refusals={refusals} />
      {lines.isError && <Failure error={lines.error} />}
      {first && rows.length === 0 && (
        <Empty>
          {q
            ? 'No line says that.'
            : account?.through
              ? 'Every line that was read is explained.'
              : 'Nothing was read of this account yet. Choose a file of the bank’s, or drop it on the button: camt.053, OFX or CSV. Where there is none, type the lines.'}
        </Empty>
      )}
      {chosen.length > 0 && (
        <Button variant="outlined" sx={{ mb: 1 }} onClick={() => several(chosen)}>
          Tie these {chosen.length} together <Key>v</Key>
        </Button>
      )}
      {rows.length > 0 && (
        <OneStop>
          <Table aria-label="Lines of the bank" aria-busy={may.waits}>
            <TableHead>
              <TableRow>
                {!all && <TableCell padding="checkbox" />}
                <TableCell>Date</TableCell>
                <TableCell>What the bank says</TableCell>
                <TableCell>{all ? 'Explained by' : 'What it may be'}</TableCell>
                <TableCell align="right">Amount</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((l) => (
                <Row
                  key={l.id}
                  data-row={`line${l.id}`}
                  tabIndex={-1}
                  data-on={l.id === line?.id || undefined}
                  onFocus={() => setLooked(l.id)}
                  onClick={(e) => e.target instanceof HTMLTableCellElement && e.currentTarget.focus()}
                  onKeyDown={(e) => key(e, l)}
                >
                  {!all && (
                    <TableCell padding="checkbox">
                      <Checkbox
                        size="small"
                        tabIndex={-1}
                        checked={chosen.includes(l.id)}
                        onChange={() => choose(l)}
                        slotProps={{ input: { 'aria-label': `Together with others: ${said(l)}` } }}
                      />
                    </TableCell>
                  )}
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(l.day, today)}</TableCell>
                  <TableCell className="what" title={said(l)}>
                    {said(l)}
                  </TableCell>
                  <TableCell className="may">
                    {l.tied ? (
                      <Link to={`/papers/${l.paperId}`}>{l.papers.replaceAll(',', ', ')}</Link>
                    ) : (
                      l.may && <Guess may={l.may} />
                    )}
                  </TableCell>
                  <TableCell align="right">
                    <Amount value={l.amount} />
                  </TableCell>
                </Row>
              ))}
            </TableBody>
          </Table>
          <Typography align="right" sx={{ mt: 1 }}>
            {lines.hasNextPage && (
              <Button size="small" onClick={() => void lines.fetchNextPage()} sx={{ mr: 2 }}>
                Show more
              </Button>
            )}
            {rows.length} of {first?.count} · <b>{show(first?.sum)}</b>
          </Typography>
        </OneStop>
      )}
      {line && (
        <Margin>
          <MayBe
            line={line}
            proposals={proposals}
            before={proposed?.rows}
            onTake={(p) => take(line, p)}
            onUntie={() => untie(line)}
          />
        </Margin>
      )}
    </Page>
  );
}

/** The first of what a line may be; that something speaks against it is said with it. */
function Guess({ may }: { may: Proposal }) {
  return (
    <span title={[...may.for, ...may.against.map((a) => `but ${a}`)].join(', ')}>
      {isWhat(may)}
      {may.against.length > 0 && ', but look'}
    </span>
  );
}

function standing(b: components['schemas']['BankPosition'], today: string) {
  if (!b.bank) return `The books say ${showIn(b.currency, b.ledger)}`;
  return `The books say ${showIn(b.currency, b.ledger)}, the bank ${showIn(b.currency, b.bank)} through ${showDay(b.through, today)}; not at the bank yet ${showIn(b.currency, b.waitingSum)}`;
}
