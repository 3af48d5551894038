import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { Leads } from '../parts/may';
import { api, data, Problem, type Notice } from '../api/client';
import { useSnackbar } from '../app/messages';
import { Amount } from '../parts/Amount';
import { useBack, usePrimary } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Empty, Key, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Notices } from '../parts/Notices';
import { showDay } from '../parts/show';

/** Payments by transfer that the bank has not got yet: written to a file that the bank takes. */
export default function BankFile() {
  const rows = useQuery({ queryKey: ['bank-payments'], queryFn: () => data(api.GET('/api/v1/bank-payments')) }).data?.rows;
  const [off, setOff] = useState<number[]>([]);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const client = useQueryClient();
  const say = useSnackbar();
  const go = useNavigate();
  useBack(useLeave('/customers/suppliers'));
  const all = rows ?? [];
  // A file is of one account: that of the first, until one chooses others.
  const chosen = all.filter((p) => !off.includes(p.id) && p.bankId === (all.find((x) => !off.includes(x.id))?.bankId ?? 0));
  const write = async () => {
    setRefusals([]);
    try {
      const answer = await api.POST('/api/v1/bank-payments/file', {
        body: { papers: chosen.map((p) => p.id) },
        parseAs: 'blob',
      });
      const file = URL.createObjectURL(answer.data as unknown as Blob);
      const a = document.createElement('a');
      a.href = file;
      a.download = /filename="([^"]+)"/.exec(answer.response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'payments.xml';
      a.click();
      setTimeout(() => URL.revokeObjectURL(file), 10_000);
      say(`${chosen.length === 1 ? 'One payment is' : `${chosen.length} payments are`} written to ${a.download}.`);
      await client.invalidateQueries();
    } catch (e) {
      if (e instanceof Problem && e.refusals.length) setRefusals(e.refusals);
      else say(e instanceof Error ? e.message : 'That did not work.');
    }
  };
  usePrimary(chosen.length ? () => void write() : undefined);
  if (!rows) return null;
  return (
    <Page>
      <PageHead title="File for the bank" under={all.length ? `${chosen.length} of ${all.length} chosen` : ''}>
        <Leads variant="outlined" to={'/papers/new/payment_run'}>
          Pay what is due
        </Leads>
        <Button variant="contained" disabled={chosen.length === 0} onClick={() => void write()}>
          Write the file <Key>Ctrl ↵</Key>
        </Button>
      </PageHead>
      <Notices refusals={refusals} />
      {all.length === 0 ? (
        <Empty action="Pay what is due" onAction={() => go('/papers/new/payment_run')}>
          Every payment by transfer is in a file already. Those that you post next will wait here.
        </Empty>
      ) : (
        <Table aria-label="Payments for the bank">
          <TableHead>
            <TableRow>
              <TableCell padding="checkbox" />
              <TableCell>Payment</TableCell>
              <TableCell>Date</TableCell>
              <TableCell>Supplier</TableCell>
              <TableCell>IBAN</TableCell>
              <TableCell>Out of</TableCell>
              <TableCell>What they read</TableCell>
              <TableCell align="right">Amount</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {all.map((p) => (
              <TableRow key={p.id}>
                <TableCell padding="checkbox">
                  <Checkbox
                    size="small"
                    checked={chosen.includes(p)}
                    onChange={(e) => setOff((o) => (e.target.checked ? o.filter((x) => x !== p.id) : [...o, p.id]))}
                    slotProps={{ input: { 'aria-label': `Take ${p.number}` } }}
                  />
                </TableCell>
                <TableCell>
                  <Link to={`/papers/${p.id}`}>{p.number}</Link>
                </TableCell>
                <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(p.day)}</TableCell>
                <TableCell>{p.supplier}</TableCell>
                <TableCell>{p.iban || 'missing'}</TableCell>
                <TableCell>{p.bank}</TableCell>
                <TableCell>{p.text}</TableCell>
                <TableCell align="right">
                  <Amount value={p.amount} code={p.currency} />
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {all.length > 0 && (
        <Typography variant="body2" color="textSecondary">
          Written once, a payment does not come here again; that it was written stands on the paper.
        </Typography>
      )}
      <Margin>
        <ListNote title="File for the bank">
          A file of credit transfers by ISO 20022, as banks take them. The payments are posted already; the file tells the bank to
          carry them out.
        </ListNote>
      </Margin>
    </Page>
  );
}
