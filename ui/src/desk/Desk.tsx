import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, data, type Ageing, type TieOut } from '../api/client';
import { Amount } from '../parts/Amount';
import { moveInRows } from '../parts/keys';
import { Empty, Failure, Page, PageHead } from '../parts/Layout';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { show, showDays } from '../parts/show';

const Group = styled('section')({ '& h2': { marginBottom: 1 } });
const Row = styled(TableRow)(({ theme }) => ({
  cursor: 'pointer',
  '& .step': { color: theme.vars!.palette.primary.main, fontWeight: 650, textAlign: 'right', width: 150, whiteSpace: 'nowrap' },
  '& .number': { width: 96, whiteSpace: 'nowrap' },
  '& .open': { width: 110 },
  '& .age': { width: 90, color: theme.vars!.palette.text.secondary, textAlign: 'right', whiteSpace: 'nowrap' },
  '& .what': { maxWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '&:hover': { backgroundColor: theme.vars!.palette.tally.second },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: -2 },
}));

interface End {
  id: string;
  number: string;
  what: ReactNode;
  open: string;
  age: string;
  step: string;
  to: string;
}

/** What was begun and is not finished, each with its next step in one key. */
export default function Desk() {
  const desk = useQuery({ queryKey: ['desk'], queryFn: () => data(api.GET('/api/v1/desk')) });
  const go = useNavigate();
  if (desk.isError)
    return (
      <Page>
        <Failure error={desk.error} />
      </Page>
    );
  if (!desk.data) return null;
  const d = desk.data;
  const groups = Object.fromEntries((d.groups ?? []).map((g) => [g.group, g]));
  const of = (name: string) => groups[name]?.rows ?? [];
  const title = d.count === 0 ? 'No loose ends' : d.count === 1 ? '1 loose end' : `${d.count} loose ends`;
  return (
    <Page>
      <PageHead
        title={title}
        under={d.count ? 'What was begun and is not finished, oldest money first' : 'Nothing that was begun is left hanging.'}
      />
      {d.empty && d.count === 0 && (
        <Empty action="What happened?" onAction={() => window.dispatchEvent(new KeyboardEvent('keydown', { key: 'w' }))}>
          These books are new. Press w, or the button, and say what happened: someone paid, or the work is done.
        </Empty>
      )}
      <div onKeyDown={moveInRows} style={{ display: 'grid', gap: 14 }}>
        <Ends
          title="Money without a home"
          count={groups['on account']?.count}
          all="/papers?kind=receipt&state=open"
          rows={of('on account').map((l) => ({
            id: `a${l.itemId}`,
            number: l.number,
            what: `${l.customer} · ${l.overpaid ? 'more than is owed' : 'on account'}`,
            open: l.open,
            age: showDays(l.age),
            step: l.overpaid ? 'Look at it' : 'Set against',
            to: l.overpaid ? `/customers/${l.customerId}` : `/customers/${l.customerId}?credit=${l.itemId}#bench`,
          }))}
        />
        <Ends
          title="Deposits whose invoice is there"
          count={groups['deposit']?.count}
          all="/ledger/registers?register=deposits"
          rows={of('deposit').map((l) => ({
            id: `d${l.itemId}`,
            number: l.number,
            what: `${l.customer} · ${l.job ? `job ${l.job}, ` : ''}${l.invoice}`,
            open: l.open,
            age: showDays(l.age),
            step: 'Set against',
            to: `/customers/${l.customerId}?credit=${l.itemId}#bench`,
          }))}
        />
        <Ends
          title="Overdue"
          count={groups['overdue']?.count}
          all="/papers?state=overdue"
          rows={of('overdue').map((l) => ({
            id: `o${l.itemId}`,
            number: l.number,
            what: `${l.customer}${l.job ? ` · job ${l.job}` : ''} · ${l.title}`,
            open: l.open,
            age: showDays(l.age),
            step: 'Record a receipt',
            to: `/papers/new/receipt?customer=${l.customerId}`,
          }))}
        />
        <Ends
          title="Drafts"
          count={d.drafts?.length}
          all="/papers?state=draft"
          rows={(d.drafts ?? []).map((x) => ({
            id: `x${x.id}`,
            number: x.kind,
            what: [x.customer || 'no customer yet', x.job && `job ${x.job}`, x.title].filter(Boolean).join(' · '),
            open: x.total,
            age: '',
            step: 'Go on',
            to: `/papers/drafts/${x.id}`,
          }))}
        />
      </div>
      <Margin>
        <TieOutTable tieOut={d.tieOut} />
        <Ages ageing={d.ageing} onOpen={() => go('/ledger/ageing')} />
      </Margin>
    </Page>
  );
}

const shownEnds = 8;

function Ends({ title, rows, count = 0, all }: { title: string; rows: End[]; count?: number; all: string }) {
  const go = useNavigate();
  if (rows.length === 0) return null;
  return (
    <Group aria-label={title}>
      <Typography variant="h2">{title}</Typography>
      <Table>
        <TableBody>
          {rows.slice(0, shownEnds).map((r) => (
            <Row key={r.id} data-row tabIndex={0} onClick={() => go(r.to)} onKeyDown={(e) => e.key === 'Enter' && go(r.to)}>
              <TableCell className="number">{r.number}</TableCell>
              <TableCell className="what">{r.what}</TableCell>
              <TableCell className="open" align="right">
                {show(r.open)}
              </TableCell>
              <TableCell className="age">{r.age}</TableCell>
              <TableCell className="step">{r.step}</TableCell>
            </Row>
          ))}
        </TableBody>
      </Table>
      {count > shownEnds && (
        <Button component={Link} to={all}>
          All {count}
        </Button>
      )}
    </Group>
  );
}

/** Every control account beside its register; a figure leads to its lines. */
export function TieOutTable({ tieOut }: { tieOut: TieOut }) {
  const moving = (tieOut.ties ?? []).filter((t) => t.ledger !== '0.00' || t.sum !== '0.00' || !t.ok);
  return (
    <>
      <Typography variant="h2">Tie-out</Typography>
      <Table aria-label="Tie-out">
        <TableHead>
          <TableRow>
            <TableCell>Account</TableCell>
            <TableCell align="right">Ledger</TableCell>
            <TableCell align="right">Register</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {moving.map((t) => (
            <TableRow key={t.accountId}>
              <TableCell>
                <Plain to={`/ledger/accounts/${t.accountId}`}>{t.account.replace(/^\d+ /, '')}</Plain>
              </TableCell>
              <TableCell align="right">
                <Amount value={t.ledger} />
              </TableCell>
              <TableCell align="right">
                <Plain to={`/ledger/registers?register=${t.register}`}>
                  <Amount value={t.sum} />
                </Plain>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Proof data-ok={tieOut.ok || undefined}>
        {tieOut.ok ? <Mark settled={100} state="all tie out" /> : 'Something does not tie out. Look at the ledger.'}
      </Proof>
    </>
  );
}

const Proof = styled('p')(({ theme }) => ({
  margin: '8px 6px 20px',
  fontWeight: 650,
  color: theme.vars!.palette.error.main,
  '&[data-ok]': { color: theme.vars!.palette.tally.settled },
}));
export const Plain = styled(Link)({
  color: 'inherit',
  textDecoration: 'none',
  '&:hover, &:focus-visible': { textDecoration: 'underline' },
});

const Bars = styled('div')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: '62px 1fr auto',
  gap: '9px 6px',
  alignItems: 'center',
  fontSize: 13.5,
  marginTop: 6,
  '& .bar': { height: 13, backgroundColor: theme.vars!.palette.text.primary },
  '& .bar.late1': { opacity: 0.75 },
  '& .bar.late2': { backgroundColor: theme.vars!.palette.primary.main, opacity: 0.75 },
  '& .bar.late3': { backgroundColor: theme.vars!.palette.primary.main },
  '& .bar.late4': { backgroundColor: theme.vars!.palette.error.main },
}));

function Ages({ ageing, onOpen }: { ageing: Ageing; onOpen: () => void }) {
  return (
    <section aria-label="Owed to us by age">
      <Typography variant="h2">Owed to us by age</Typography>
      <Bars>
        {(ageing.buckets ?? []).map((name, i) => (
          <Bar key={name} name={name} share={ageing.shares?.[i] ?? 0} value={ageing.total.buckets?.[i] ?? ''} age={i} />
        ))}
      </Bars>
      <Button onClick={onOpen} sx={{ mt: 1 }}>
        Ageing
      </Button>
    </section>
  );
}

function Bar({ name, share, value, age }: { name: string; share: number; value: string; age: number }) {
  return (
    <>
      <span>{name}</span>
      <span>
        <span className={`bar late${age}`} style={{ display: 'block', width: share > 0 ? `max(2px, ${share}%)` : 0 }} />
      </span>
      <span style={{ textAlign: 'right' }}>
        <Amount value={value} quietNil />
      </span>
    </>
  );
}
