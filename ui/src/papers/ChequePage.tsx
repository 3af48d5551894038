import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { under } from '../api/at';
import { api, data } from '../api/client';
import { useSnackbar } from '../app/messages';
import { Amount } from '../parts/Amount';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { useFirm } from '../parts/records';
import { PaperSheet, Two } from '../parts/Sheet';
import { showDay } from '../parts/show';

const Slip = styled('section')(({ theme }) => ({
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  padding: '16px 20px',
  marginBottom: 18,
  minHeight: 170,
  breakInside: 'avoid',
  '& .words': { margin: '14px 0', borderBottom: `1px solid ${theme.vars!.palette.tally.rule}`, paddingBottom: 4 },
}));

const Asked = styled('div')(({ theme }) => ({
  display: 'flex',
  gap: 12,
  alignItems: 'center',
  padding: '8px 12px',
  backgroundColor: theme.vars!.palette.tally.second,
  borderLeft: `3px solid ${theme.vars!.palette.tally.kept}`,
  '& > span': { flex: 1 },
}));

/** The cheques that are written and wait to be printed. */
export default function ChequePage() {
  const cheques = useQuery({ queryKey: ['cheques'], queryFn: () => data(api.GET('/api/v1/cheques')) }).data?.rows;
  const firm = useFirm().data;
  const [asking, setAsking] = useState(false);
  const [off, setOff] = useState<number[]>([]);
  const client = useQueryClient();
  const say = useSnackbar();
  const go = useNavigate();
  useBack(useLeave('/desk'));
  if (!cheques) return null;
  const chosen = cheques.filter((c) => !off.includes(c.paperId));
  const printed = async () => {
    await api.POST('/api/v1/cheques/printed', { body: { papers: chosen.map((c) => c.paperId) } });
    await client.invalidateQueries();
    say(chosen.length === 1 ? 'The cheque is printed.' : `${chosen.length} cheques are printed.`);
  };
  // Whether they came out of the printer, only the person there knows.
  const print = () => {
    window.addEventListener('afterprint', () => setAsking(true), { once: true });
    window.print();
  };
  return (
    <Page>
      <PageHead title="Cheques to print" under={cheques.length ? `${chosen.length} of ${cheques.length} chosen` : ''}>
        <Button
          variant="outlined"
          component="a"
          disabled={chosen.length === 0}
          href={under(`/api/v1/cheques/pdf?${new URLSearchParams(chosen.map((c) => ['ids', String(c.paperId)]))}`)}
          download
          onClick={() => setAsking(true)}
        >
          PDF
        </Button>
        <Button variant="outlined" disabled={chosen.length === 0} onClick={() => void printed()}>
          They are printed already
        </Button>
        <Button variant="contained" disabled={chosen.length === 0} onClick={print}>
          Print
        </Button>
      </PageHead>
      {asking && (
        <Asked role="alert" className="no-print">
          <span>Did {chosen.length === 1 ? 'the cheque' : `the ${chosen.length} cheques`} come out of the printer?</span>
          <Button
            variant="contained"
            autoFocus
            onClick={() => {
              setAsking(false);
              void printed();
            }}
          >
            Yes, printed
          </Button>
          <Button onClick={() => setAsking(false)}>No, they still wait</Button>
        </Asked>
      )}
      {cheques.length === 0 ? (
        <Empty action="Refund by cheque" onAction={() => go('/papers/new/refund')}>
          No cheque waits. A refund by cheque comes here to be printed.
        </Empty>
      ) : (
        <Table className="no-print" aria-label="Cheques to print">
          <TableHead>
            <TableRow>
              <TableCell padding="checkbox" />
              <TableCell>Cheque</TableCell>
              <TableCell>Date</TableCell>
              <TableCell>To</TableCell>
              <TableCell>Refund</TableCell>
              <TableCell align="right">Amount</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {cheques.map((c) => (
              <TableRow key={c.paperId}>
                <TableCell padding="checkbox">
                  <Checkbox
                    size="small"
                    checked={!off.includes(c.paperId)}
                    onChange={(e) => setOff(e.target.checked ? off.filter((x) => x !== c.paperId) : [...off, c.paperId])}
                    slotProps={{ input: { 'aria-label': `Print cheque ${c.cheque}` } }}
                  />
                </TableCell>
                <TableCell>{c.cheque}</TableCell>
                <TableCell>{showDay(c.day)}</TableCell>
                <TableCell>{c.customer}</TableCell>
                <TableCell>
                  <Link to={`/papers/${c.paperId}`}>{c.number}</Link>
                </TableCell>
                <TableCell align="right">
                  <Amount value={c.amount} code={c.currency} />
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {chosen.length > 0 && (
        <PaperSheet>
          {chosen.map((c) => (
            <Slip key={c.paperId} aria-label={`Cheque ${c.cheque}`}>
              <Two>
                <b>{firm?.name}</b>
                <span>
                  No. {c.cheque} · {showDay(c.day)}
                </span>
              </Two>
              <p style={{ margin: '14px 0 0' }}>
                Pay <b>{c.customer}</b>
              </p>
              <Two>
                <p className="words">{c.inWords}</p>
                <Typography variant="figure">
                  <Amount value={c.amount} final code={c.currency} />
                </Typography>
              </Two>
              <Two>
                <small>for {c.number}</small>
                <span>________________________</span>
              </Two>
            </Slip>
          ))}
        </PaperSheet>
      )}
      <Margin>
        <ListNote title="Cheques">
          The PDF has each cheque with its slip; where its bank account has a form of its own, only what that leaves open is
          printed. Once you say that they came out of the printer they are marked as printed, and leave this list and the Desk. A
          cheque that was spoiled is undone by reversing its refund.
        </ListNote>
      </Margin>
    </Page>
  );
}
