import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, data, type Notice } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { atOnce, WhenFields, whenOf, type When } from '../outgoing/When';
import { Choice } from '../papers/editing/fields';
import { Amount } from '../parts/Amount';
import { useBack, usePrimary } from '../parts/keys';
import { Empty, Failure, Key, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';
import { RecordPlace, useRecord } from '../parts/record';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { showDay } from '../parts/show';
import { takeAlong } from '../parts/takeAlong';
import { inTurns, useByPages } from './byPages';

type Row = components['schemas']['ReminderRow'];
type Stage = components['schemas']['ReminderStage'];
type One = components['schemas']['RemindOne'];

/** Reminders by stages, one letter a customer, looked at before they go. */
export default function Reminders() {
  const {
    pages,
    last: list,
    whole,
    error,
  } = useByPages(['reminders'], (from) => data(api.GET('/api/v1/reminders', { params: { query: { ...from } } })));
  const client = useQueryClient();
  const say = useSnackbar();
  // What was ticked or chosen otherwise than it was offered.
  const [ticked, setTicked] = useState<Record<number, boolean>>({});
  const [stages, setStages] = useState<Record<number, number>>({});
  const [looked, setLooked] = useState(0);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  useBack(useLeave('/customers'));
  const rows = pages.flatMap((p) => p.rows);
  const left = pages.flatMap((p) => p.left);
  const chosen = rows.filter((r) => ticked[r.customer] ?? r.due);
  const byMail = chosen.filter((r) => r.email);
  const onPaper = chosen.filter((r) => !r.email);
  const stageOf = (r: Row) => stages[r.customer] ?? r.stage;
  const ones = (of: Row[]): One[] => of.map((r) => ({ customer: r.customer, stage: stageOf(r) }));
  const doing = async (act: () => Promise<string>) => {
    try {
      say(await act());
      setRefusals([]);
      setTicked({});
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  const print = (of: Row[], keep: boolean) =>
    doing(async () => {
      const file = await data(api.POST('/api/v1/reminders/pdf', { body: { customers: ones(of) }, parseAs: 'blob' }));
      takeAlong(file, 'Reminders.pdf');
      if (keep) await data(api.POST('/api/v1/reminders/paper', { body: { customers: ones(of) } }));
      return keep ? 'Kept: they were reminded on paper.' : 'Taken along to be looked at: nobody was reminded yet.';
    });
  const when = useRecord<When>(atOnce(useToday()), async (w) => {
    const made = await inTurns(
      ones(byMail),
      200,
      async (customers) => (await data(api.POST('/api/v1/reminders/mail', { body: { customers, ...whenOf(w) } }))).made,
    );
    const goes = w.when === 'at once' ? ['is on its way', 'are on their way'] : ['waits in the outbox', 'wait in the outbox'];
    say(made === 1 ? `One reminder ${goes[0]}.` : `${made} reminders ${goes[1]}.`);
    setTicked({});
    await client.invalidateQueries();
  });
  usePrimary(whole && byMail.length > 0 ? () => void when.submit() : undefined);
  const charged = chosen.some((r) => list?.stages.find((s) => s.id === stageOf(r))?.charge);
  const shown = rows.find((r) => r.customer === looked) ?? chosen[0] ?? rows[0];
  return (
    <Page>
      <PageHead title="Reminders" under="One letter a customer, over all that is overdue; nothing goes by itself">
        <Button variant="outlined" component={Link} to="/setup/reminders">
          Stages
        </Button>
        <Button variant="outlined" disabled={!whole || chosen.length === 0} onClick={() => void print(chosen, false)}>
          PDF
        </Button>
        <Button variant="outlined" disabled={!whole || onPaper.length === 0} onClick={() => void print(onPaper, true)}>
          On paper {onPaper.length || ''}
        </Button>
        <Button variant="contained" disabled={!whole || byMail.length === 0} onClick={() => void when.submit()}>
          Mail {byMail.length || ''} <Key>Ctrl ↵</Key>
        </Button>
      </PageHead>
      <Notices refusals={refusals} />
      {error && <Failure error={error} />}
      {byMail.length > 0 && (
        <RecordPlace record={when}>
          <FormGrid sx={{ maxWidth: 520, mb: 1 }}>
            <WhenFields label="What is mailed goes" />
          </FormGrid>
          <Notices refusals={when.refusals} />
        </RecordPlace>
      )}
      {charged && (
        <Typography>
          A stage that is chosen bears a late charge: <Link to="/customers/late">charge first</Link>, and the letter lists it.
        </Typography>
      )}
      {whole && rows.length === 0 && <Empty>Nobody is to be reminded: nothing is overdue, or it is left out below.</Empty>}
      {rows.length > 0 && (
        <Table aria-label="Reminders">
          <TableHead>
            <TableRow>
              <TableCell padding="checkbox" />
              <TableCell>Customer</TableCell>
              <TableCell>Stage</TableCell>
              <TableCell>Last</TableCell>
              <TableCell>By</TableCell>
              <TableCell align="right">Days</TableCell>
              <TableCell align="right">Overdue</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((r) => (
              <TableRow key={r.customer} onFocus={() => setLooked(r.customer)} onClick={() => setLooked(r.customer)}>
                <TableCell padding="checkbox">
                  <Checkbox
                    size="small"
                    checked={ticked[r.customer] ?? r.due}
                    onChange={(e) => setTicked({ ...ticked, [r.customer]: e.target.checked })}
                    slotProps={{ input: { 'aria-label': `Remind ${r.name}` } }}
                  />
                </TableCell>
                <TableCell>
                  <Link to={`/customers/${r.customer}`}>{r.name}</Link>
                </TableCell>
                <TableCell>
                  <Choice
                    label={`Stage for ${r.name}`}
                    field={`stage${r.customer}`}
                    onSheet
                    value={stageOf(r)}
                    options={list!.stages.map((s) => ({ value: s.id ?? 0, name: s.name }))}
                    onChange={(v) => setStages({ ...stages, [r.customer]: Number(v) })}
                  />
                </TableCell>
                <TableCell>{r.reminded ? `${showDay(r.reminded)}, ${r.how}` : 'never'}</TableCell>
                <TableCell>{r.email ? 'mail' : 'paper'}</TableCell>
                <TableCell align="right">{r.oldest}</TableCell>
                <TableCell align="right">
                  <Amount value={r.total} />
                </TableCell>
              </TableRow>
            ))}
            <TableRow>
              <TableCell colSpan={6}>{whole ? 'All that is overdue here' : 'So far'}</TableCell>
              <TableCell align="right">
                <Amount value={list!.total} strong />
              </TableCell>
            </TableRow>
          </TableBody>
        </Table>
      )}
      {whole && left.length > 0 && (
        <section aria-label="Left out">
          <Typography variant="h2">Left out</Typography>
          <ul style={{ margin: '6px 0', paddingLeft: 20 }}>
            {left.map((l) => (
              <li key={`${l.customer}-${l.paper}`}>
                <Link to={`/customers/${l.customer}`}>{l.name}</Link>
                {l.paper > 0 && (
                  <>
                    : <Link to={`/papers/${l.paper}`}>{l.number}</Link>
                  </>
                )}{' '}
                {l.why}
              </li>
            ))}
          </ul>
        </section>
      )}
      <Margin>{shown && <LetterTo row={shown} stage={list!.stages.find((s) => s.id === stageOf(shown))} />}</Margin>
    </Page>
  );
}

/** What the letter to a customer says. */
function LetterTo({ row: r, stage }: { row: Row; stage?: Stage }) {
  return (
    <section aria-label="As it will be read">
      <Typography variant="h2" gutterBottom>
        {stage?.name} to {r.name}
      </Typography>
      <p style={{ margin: '0 0 8px' }}>{stage?.words}</p>
      <Table aria-label="What it is for">
        <TableBody>
          {r.items.map((i) => (
            <TableRow key={`${i.paper}-${i.due}`}>
              <TableCell>
                <Link to={`/papers/${i.paper}`}>{i.number}</Link>
                {i.charge && ', late charge'}
              </TableCell>
              <TableCell>due {showDay(i.due)}</TableCell>
              <TableCell align="right">
                <Amount value={i.open} />
              </TableCell>
            </TableRow>
          ))}
          <TableRow>
            <TableCell colSpan={2}>Left to pay</TableCell>
            <TableCell align="right">
              <Amount value={r.total} strong />
            </TableCell>
          </TableRow>
        </TableBody>
      </Table>
    </section>
  );
}
