import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { Link, useNavigate } from 'react-router';
import { type Ageing, type TieOut } from '../api/client';
import { AgeBars } from '../parts/AgeBars';
import { Amount } from '../parts/Amount';
import { Empty, Failure, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { LeadsTo, Only, useMay } from '../parts/may';
import { useDesk, useToday } from '../parts/records';
import { isNil, show } from '../parts/show';
import { OneStop, Whither } from '../parts/OneStop';
import { allEnds, beginEnd, draftEnd, mailEnd, wordEnd, ends, groups, stages, together, type End } from './groups';

const Group = styled('section')({ '& h2': { marginBottom: 1 } });
const Row = styled(TableRow)(({ theme }) => ({
  cursor: 'pointer',
  position: 'relative',
  '& .step': { color: theme.vars!.palette.primary.main, fontWeight: 650, textAlign: 'right', width: 150, whiteSpace: 'nowrap' },
  '& .number': { width: 96, whiteSpace: 'nowrap' },
  '& .open': { width: 110 },
  '& .age': { width: 90, color: theme.vars!.palette.text.secondary, textAlign: 'right', whiteSpace: 'nowrap' },
  '& .what': { maxWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '&:hover': { backgroundColor: theme.vars!.palette.tally.second },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: -2 },
}));

/** What was begun and is not finished, each with its next step in one key. */
export default function Desk() {
  const desk = useDesk();
  const go = useNavigate();
  const today = useToday();
  const may = useMay();
  if (desk.isError && !desk.data)
    return (
      <Page>
        <Failure error={desk.error} />
      </Page>
    );
  if (!desk.data) return null;
  const d = desk.data;
  const title = d.count === 0 ? 'No loose ends' : d.count === 1 ? '1 loose end' : `${d.count} loose ends`;
  const all = allEnds(d, today);
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
      <OneStop style={{ display: 'grid', gap: 14 }}>
        {d.backup && (
          <Group aria-label="Backups">
            <Typography variant="h2">Backups</Typography>
            <Typography color="error" role="alert">
              {d.backup} <LeadsTo to="/setup/safety">Look at it</LeadsTo>
            </Typography>
          </Group>
        )}
        <Ends all={all} title="Waits for your word" count={d.words.length} more="/desk" rows={d.words.map(wordEnd)} />
        <Ends all={all} title="Said to what you asked" count={d.given.length} more="/desk" rows={d.given.map(wordEnd)} />
        {d.groups.map((g) => (
          <Ends
            key={g.group}
            title={groups[g.group]?.title ?? g.group}
            side={g.group === 'overdue' ? stages(g.rows) : g.count > 1 ? together(g.sum) : ''}
            count={g.count}
            all={all}
            more={groups[g.group]?.all ?? '/papers'}
            step={groups[g.group]?.step}
            rows={ends(g.group, g.rows, today)}
          />
        ))}
        <Ends
          all={all}
          title="Mails that did not go"
          count={d.mails.length}
          more="/papers/outbox?state=failed"
          rows={d.mails.map(mailEnd)}
        />
        <Ends
          all={all}
          title="Drafts"
          count={d.drafts?.length}
          more="/papers?state=draft"
          rows={(d.drafts ?? []).map(draftEnd)}
        />
      </OneStop>
      {!may.has('see the ledger, the bank and reports') && (
        <Margin>
          <ListNote title="Desk">
            What was begun and is not finished, as far as it is yours to look at. Press w, or the button at the top, and say what
            happened.
          </ListNote>
        </Margin>
      )}
      <Only right="see the ledger, the bank and reports">
        <Margin>
          <TieOutTable tieOut={d.tieOut} />
          <Ages ageing={d.ageing} onOpen={() => go('/ledger/ageing')} />
        </Margin>
      </Only>
    </Page>
  );
}

const shownEnds = 6;
const Head = styled('div')({ display: 'flex', alignItems: 'baseline', gap: 10 });

interface EndsProps {
  title: string;
  /** What stands beside the title. */
  side?: string;
  rows: End[];
  count?: number;
  all: End[];
  /** The list with all of the group. */
  more: string;
  step?: { name: string; to: string };
}

function Ends({ title, side, rows, count = 0, all, more, step }: EndsProps) {
  const go = useNavigate();
  const may = useMay();
  if (rows.length === 0) return null;
  return (
    <Group aria-label={title}>
      <Head>
        <Typography variant="h2">{title}</Typography>
        {side && (
          <Typography variant="body2" color="textSecondary">
            {side}
          </Typography>
        )}
        <span style={{ flex: 1 }} />
        {step && count > 1 && (
          <Button component={Link} to={step.to}>
            {step.name}
          </Button>
        )}
      </Head>
      <Table>
        <TableBody>
          {rows.slice(0, shownEnds).map((r) => (
            <Row
              key={r.id}
              data-row={r.id}
              tabIndex={-1}
              onKeyDown={(e) => {
                if (e.key !== 'Enter') return;
                beginEnd(all, r);
                void go(r.to);
              }}
            >
              <TableCell className="number">
                <Whither to={r.to} tabIndex={-1} onClick={() => beginEnd(all, r)}>
                  {r.number}
                </Whither>
              </TableCell>
              <TableCell className="what" title={r.what}>
                {r.what}
              </TableCell>
              <TableCell className="open" align="right">
                {show(r.open)}
              </TableCell>
              <TableCell className="age">{r.age}</TableCell>
              <TableCell className="step">{may.go(r.to) && r.step}</TableCell>
            </Row>
          ))}
        </TableBody>
      </Table>
      {count > shownEnds && (
        <Button component={Link} to={more}>
          All {count}
        </Button>
      )}
    </Group>
  );
}

/** Every control account beside its register; a figure leads to its lines. */
export function TieOutTable({ tieOut }: { tieOut: TieOut }) {
  // What a control account says in other currencies as well stands in the Ledger, unless it differs.
  const moving = (tieOut.ties ?? []).filter((t) => !t.ok || ((!t.currency || t.bank) && (!isNil(t.ledger) || !isNil(t.sum))));
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
            <TableRow key={`${t.accountId} ${t.currency ?? ''} ${t.bank ?? ''}`}>
              <TableCell>
                <Plain to={`/ledger/accounts/${t.accountId}`}>{t.account.replace(/^\d+ /, '')}</Plain>
              </TableCell>
              <TableCell align="right">
                <Amount value={t.ledger} code={t.currency} />
              </TableCell>
              <TableCell align="right">
                <Plain to={`/ledger/registers?register=${t.register}`}>
                  <Amount value={t.sum} code={t.currency} />
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

function Ages({ ageing, onOpen }: { ageing: Ageing; onOpen: () => void }) {
  return (
    <section aria-label="Owed to us by age">
      <Typography variant="h2">Owed to us by age</Typography>
      <AgeBars ageing={ageing} />
      <Button onClick={onOpen} sx={{ mt: 1 }}>
        Ageing
      </Button>
    </section>
  );
}
