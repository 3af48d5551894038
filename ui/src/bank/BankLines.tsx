import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import ToggleButton from '@mui/material/ToggleButton';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { api, data, type Notice } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import type { DraftKind } from '../papers/editing/draft';
import { newPaper } from '../papers/editing/kind';
import { Amount } from '../parts/Amount';
import { useBack } from '../parts/keys';
import { Empty, Failure, Key, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { Filters } from '../parts/ListFilters';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';
import { OneStop } from '../parts/OneStop';
import { useToday } from '../parts/records';
import { kindName, show, showDay } from '../parts/show';
import { bankQuery } from './BankPlace';
import { ReadFile } from './ReadFile';

type Line = components['schemas']['BankLine'];
type Proposal = components['schemas']['BankProposal'];

const Row = styled(TableRow)(({ theme }) => ({
  cursor: 'default',
  '& .what': { maxWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', width: '100%' },
  '&[data-on]': { backgroundColor: theme.vars!.palette.tally.second },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: -2 },
}));

const Proposals = styled('ol')(({ theme }) => ({
  listStyle: 'none',
  margin: '10px 0 0',
  padding: 0,
  '& li': { borderTop: `1px solid ${theme.vars!.palette.tally.rule}`, padding: '8px 0' },
  '& p': { margin: '2px 0 6px', fontSize: '0.9em' },
  '& .against': { color: theme.vars!.palette.error.main },
}));

/** What a line can become, each by a letter. */
const becomes: { key: string; name: string; kind: DraftKind; came?: boolean }[] = [
  { key: 'r', name: 'Receipt', kind: 'receipt', came: true },
  { key: 'd', name: 'Deposit', kind: 'deposit', came: true },
  { key: 'i', name: 'Not identified', kind: 'unidentified receipt', came: true },
  { key: 'o', name: 'Card payout', kind: 'card payout', came: true },
  { key: 'f', name: 'Refund', kind: 'refund', came: false },
  { key: 's', name: 'Supplier payment', kind: 'supplier payment', came: false },
  { key: 'e', name: 'Expense', kind: 'expense', came: false },
  { key: 'h', name: 'Charge, or an entry', kind: 'journal' },
];

/** Where a proposal leads: what is posted is tied at once, what is open is settled by a paper. */
const paperFor = (l: Line, p: Proposal) =>
  l.amount.startsWith('-')
    ? newPaper('supplier payment', { customer: p.partyId, item: p.item, bankLine: l.id })
    : newPaper('receipt', { customer: p.partyId, item: p.item, bankLine: l.id });

/** The lines of a bank's statements, worked through by keys: beside each what it may be. */
export default function BankLines() {
  const id = Number(useParams().id);
  const [params, setParams] = useSearchParams();
  const all = params.get('of') === 'all';
  const today = useToday();
  const client = useQueryClient();
  const say = useSnackbar();
  const go = useNavigate();
  const [looked, setLooked] = useState(0);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  useBack(useLeave('/bank'));
  const account = useQuery(bankQuery).data?.rows.find((b) => b.id === id);
  const lines = useQuery({
    queryKey: ['bank', id, 'lines', all],
    queryFn: () =>
      data(api.GET('/api/v1/banks/{id}/lines', { params: { path: { id }, query: { state: all ? 'all' : 'unexplained' } } })),
    placeholderData: keepPreviousData,
  });
  const rows = lines.data?.rows ?? [];
  const line = rows.find((l) => l.id === looked) ?? rows[0];
  const proposed = useQuery({
    queryKey: ['bank', 'line', line?.id],
    queryFn: () => data(api.GET('/api/v1/bank-lines/{id}', { params: { path: { id: line!.id } } })),
    enabled: !!line && !line.tied,
  }).data;
  const proposals = proposed && proposed.line.id === line?.id ? proposed.rows : [];
  const doing = async (act: () => Promise<unknown>, done: string) => {
    try {
      await act();
      setRefusals([]);
      say(done);
    } catch (e) {
      setRefusals(toNotices(e));
    }
    await client.invalidateQueries();
  };
  const take = (l: Line, p: Proposal) => {
    if (!p.movement) return void go(paperFor(l, p));
    const next = rows[rows.indexOf(l) + 1] ?? rows[rows.indexOf(l) - 1];
    void doing(
      () => data(api.POST('/api/v1/ties', { body: { lines: [l.id], movements: [p.movement] } })),
      `Tied to ${p.number}.`,
    ).then(() => {
      if (next) document.querySelector<HTMLElement>(`[data-row="line${next.id}"]`)?.focus();
    });
  };
  const untie = (l: Line) =>
    void doing(() => data(api.POST('/api/v1/ties/undo', { body: { line: l.id } })), 'The line is unexplained again.');
  const key = (e: React.KeyboardEvent, l: Line) => {
    if (e.ctrlKey || e.metaKey || e.altKey || l.tied) return;
    const to = becomes.find((b) => b.key === e.key && fits(b, l));
    if (e.key === 'Enter' && proposals[0] && l.id === line?.id) take(l, proposals[0]);
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
          onChange={(_, v: string | null) => v && setParams(v === 'all' ? { of: 'all' } : {}, { replace: true })}
          aria-label="Lines"
        >
          <ToggleButton value="unexplained">Not explained</ToggleButton>
          <ToggleButton value="all">All</ToggleButton>
        </Filters>
        <Button variant="outlined" component={Link} to={`/bank/${id}/reconcile`}>
          Reconcile
        </Button>
        <ReadFile bank={id} />
      </PageHead>
      <Notices refusals={refusals} />
      {lines.isError && <Failure error={lines.error} />}
      {lines.data && rows.length === 0 && (
        <Empty>
          {account?.through
            ? 'Every line that was read is explained.'
            : 'Nothing was read of this account yet. Choose a file of the bank’s, or drop it on the button: camt.053, OFX or CSV.'}
        </Empty>
      )}
      {rows.length > 0 && (
        <OneStop>
          <Table aria-label="Lines of the bank">
            <TableHead>
              <TableRow>
                <TableCell>Date</TableCell>
                <TableCell>What the bank says</TableCell>
                <TableCell align="right">Amount</TableCell>
                {all && <TableCell>Explained by</TableCell>}
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
                  onClick={(e) => e.currentTarget.focus()}
                  onKeyDown={(e) => key(e, l)}
                >
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(l.day, today)}</TableCell>
                  <TableCell className="what" title={said(l)}>
                    {said(l)}
                  </TableCell>
                  <TableCell align="right">
                    <Amount value={l.amount} />
                  </TableCell>
                  {all && <TableCell>{l.tied && <Link to={`/papers/${l.paperId}`}>{l.papers}</Link>}</TableCell>}
                </Row>
              ))}
            </TableBody>
          </Table>
          <Typography align="right" sx={{ mt: 1 }}>
            {rows.length} of {lines.data?.count} · <b>{show(lines.data?.sum)}</b>
          </Typography>
        </OneStop>
      )}
      {line && (
        <Margin>
          <section aria-label="What it may be">
            <Typography variant="h2">{show(line.amount)}</Typography>
            <p style={{ margin: '2px 0 0' }}>{said(line)}</p>
            {line.tied ? (
              <Button sx={{ mt: 1 }} onClick={() => untie(line)}>
                Take the tie off
              </Button>
            ) : (
              <>
                <Proposals>
                  {proposals.map((p, n) => (
                    <li key={`${p.movement} ${p.item}`}>
                      <Button size="small" variant={n === 0 ? 'outlined' : 'text'} onClick={() => take(line, p)}>
                        {p.movement ? 'Tie to' : 'Settle'} {p.number} {n === 0 && <Key>↵</Key>}
                      </Button>
                      <p>
                        {kindName(p.kind)} of {showDay(p.day, today)}
                        {p.party && `, ${p.party}`}: {show(p.amount)}
                        <br />
                        {p.for.join(', ')}
                        {p.against.length > 0 && <span className="against"> · but {p.against.join(', ')}</span>}
                      </p>
                    </li>
                  ))}
                </Proposals>
                {proposed && proposals.length === 0 && <p>Nothing that was posted, or is open, fits.</p>}
                <Typography variant="h2" sx={{ mt: 2 }}>
                  Or it becomes
                </Typography>
                {becomes
                  .filter((b) => fits(b, line))
                  .map((b) => (
                    <Button
                      key={b.key}
                      size="small"
                      component={Link}
                      to={newPaper(b.kind, { bankLine: line.id })}
                      sx={{ display: 'flex', justifyContent: 'space-between' }}
                    >
                      {b.name} <Key>{b.key}</Key>
                    </Button>
                  ))}
              </>
            )}
          </section>
        </Margin>
      )}
    </Page>
  );
}

const fits = (b: { came?: boolean }, l: Line) => b.came === undefined || b.came !== l.amount.startsWith('-');

const said = (l: Line) => [l.name, l.text, l.reference].filter(Boolean).join(' · ');

function standing(b: components['schemas']['BankPosition'], today: string) {
  if (!b.bank) return `The books say ${show(b.ledger)}`;
  return `The books say ${show(b.ledger)}, the bank ${show(b.bank)} through ${showDay(b.through, today)}; not at the bank yet ${show(b.waitingSum)}`;
}
