import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { LeadsTo } from '../parts/may';
import { api, data, type Notice } from '../api/client';
import { useSnackbar } from '../app/messages';
import { newPaper } from '../papers/editing/kind';
import { Amount } from '../parts/Amount';
import { usePrimary } from '../parts/keys';
import { Empty, Failure, Key, Page, PageHead } from '../parts/Layout';
import { Notices, toNotices } from '../parts/Notices';
import { useToday } from '../parts/records';
import { inTurns, useByPages } from './byPages';
import { isNil, show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';

/** What would be charged for what is overdue, by customer; drafts are made of it, which someone posts. */
export default function LateCharges() {
  const today = useToday();
  const go = useNavigate();
  const say = useSnackbar();
  const client = useQueryClient();
  const [through, setThrough] = useState(today);
  const [left, setLeft] = useState<number[]>([]);
  // How many drafts are made by now, while they are.
  const [making, setMaking] = useState<number>();
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const {
    pages,
    last: late,
    whole,
    error,
  } = useByPages(['late-charges', through], (from) =>
    data(api.GET('/api/v1/late-charges', { params: { query: { through: through || undefined, ...from } } })),
  );
  const rows = pages.flatMap((p) => p.rows);
  const chosen = rows.filter((r) => !r.draft && !left.includes(r.customer)).map((r) => r.customer);
  const make = async () => {
    if (chosen.length === 0 || !whole || making !== undefined) return;
    setMaking(0);
    setRefusals([]);
    try {
      const made = await inTurns(
        chosen,
        200,
        async (customers) => (await data(api.POST('/api/v1/late-charges/drafts', { body: { through, customers } }))).made,
        setMaking,
      );
      say(made === 1 ? 'A draft is made.' : `${made} drafts are made.`);
      await client.invalidateQueries();
      void go('/papers?state=draft');
    } catch (e) {
      setRefusals(toNotices(e));
      await client.invalidateQueries();
    } finally {
      setMaking(undefined);
    }
  };
  usePrimary(() => void make());
  const settled = late && !late.terms.percent && !late.terms.fee;
  return (
    <Page>
      <PageHead title="Late charges">
        <UnderstoodField kind="day" label="Overdue through" field="through" value={through} onChange={setThrough} width={150} />
        <Button variant="contained" disabled={chosen.length === 0 || !whole || making !== undefined} onClick={() => void make()}>
          {making
            ? `${making} of ${chosen.length} made`
            : `Make ${chosen.length === 1 ? 'the draft' : `${chosen.length} drafts`}`}{' '}
          <Key>Ctrl ↵</Key>
        </Button>
      </PageHead>
      <Notices refusals={refusals} />
      {error && <Failure error={error} />}
      {late && !settled && (
        <Typography color="textSecondary" sx={{ mb: 1 }}>
          {[
            late.terms.percent && `${show(late.terms.percent)} % a year`,
            late.terms.fee && !isNil(late.terms.fee) && `a fee of ${show(late.terms.fee)}`,
            `${late.terms.grace} days of grace`,
          ]
            .filter(Boolean)
            .join(', ')}
          . <Link to="/setup/limits">Change it</Link>
        </Typography>
      )}
      {settled ? (
        <Empty action="Say what is charged" onAction={() => go('/setup/limits')}>
          The firm charges nothing for what is overdue. Say interest or a fee, and here will be who bears it.
        </Empty>
      ) : rows.length === 0 ? (
        whole && <Empty>Nobody bears a late charge through that day: nothing was overdue that was not charged already.</Empty>
      ) : (
        <Table aria-label="Late charges">
          <TableHead>
            <TableRow>
              <TableCell padding="checkbox" />
              <TableCell>Customer</TableCell>
              <TableCell align="right">Papers overdue</TableCell>
              <TableCell align="right">Charge</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((r) => (
              <TableRow key={r.customer}>
                <TableCell padding="checkbox">
                  {!r.draft && (
                    <Checkbox
                      size="small"
                      checked={!left.includes(r.customer)}
                      onChange={(e) =>
                        setLeft((now) => (e.target.checked ? now.filter((x) => x !== r.customer) : [...now, r.customer]))
                      }
                      slotProps={{ input: { 'aria-label': `Charge ${r.name}` } }}
                    />
                  )}
                </TableCell>
                <TableCell>
                  <Link to={`/customers/${r.customer}`}>{r.name}</Link>
                </TableCell>
                <TableCell align="right">{r.lines}</TableCell>
                <TableCell align="right">
                  <Amount value={r.total} />
                </TableCell>
                <TableCell align="right">
                  {r.draft ? (
                    <Link to={`/papers/drafts/${r.draft}`}>draft</Link>
                  ) : (
                    <LeadsTo to={newPaper('late charge', { customer: r.customer })}>one by one</LeadsTo>
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
          <TableFooter>
            <TableRow>
              <TableCell />
              <TableCell>{whole ? `${rows.length} in all` : `${rows.length} so far`}</TableCell>
              <TableCell />
              <TableCell align="right">
                <Amount value={late?.total} final />
              </TableCell>
              <TableCell />
            </TableRow>
          </TableFooter>
        </Table>
      )}
    </Page>
  );
}
