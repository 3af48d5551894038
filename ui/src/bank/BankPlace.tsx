import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { useBack } from '../parts/keys';
import { Failure, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { useToday } from '../parts/records';
import { showDay } from '../parts/show';

export const bankQuery = () => ({ queryKey: ['bank', 'positions'], queryFn: () => data(api.GET('/api/v1/bank')) });

/** Where each bank account stands: by the books, by the bank, and what lies between. */
export default function BankPlace() {
  const bank = useQuery(bankQuery());
  const today = useToday();
  useBack(useLeave('/desk'));
  const rows = bank.data?.rows ?? [];
  return (
    <Page>
      <PageHead title="Bank" under="What really arrived, beside what the books say" />
      {bank.isError && <Failure error={bank.error} />}
      {bank.data && (
        <Table aria-label="Bank accounts">
          <TableHead>
            <TableRow>
              <TableCell>Account</TableCell>
              <TableCell align="right">The books say</TableCell>
              <TableCell align="right">The bank says</TableCell>
              <TableCell align="right">Not at the bank</TableCell>
              <TableCell align="right">Not explained</TableCell>
              <TableCell>Read through</TableCell>
              <TableCell>Reconciled through</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((b) => (
              <TableRow key={b.id}>
                <TableCell>
                  {b.what === 'bank' ? (
                    <Link to={`/bank/${b.id}`}>{b.name}</Link>
                  ) : (
                    <Link to={b.what === 'till' ? `/bank/${b.id}/count` : '/papers/new/card_payout'}>{b.name}</Link>
                  )}
                </TableCell>
                <TableCell align="right">
                  <Amount value={b.ledger} code={b.currency} />
                </TableCell>
                <TableCell align="right">{b.bank && <Amount value={b.bank} code={b.currency} />}</TableCell>
                <TableCell align="right">{b.bank && <Amount value={b.waitingSum} code={b.currency} />}</TableCell>
                <TableCell align="right">{b.what === 'bank' && b.through ? b.unexplained : ''}</TableCell>
                <TableCell>{b.through ? showDay(b.through, today) : b.what === 'bank' ? 'nothing read yet' : ''}</TableCell>
                <TableCell>{b.reconciled && showDay(b.reconciled, today)}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <Margin>
        <ListNote title="Bank">
          Open an account to read a file of the bank’s, and to say line by line what each was. Card takings wait until they are
          paid out. A till is counted.
        </ListNote>
      </Margin>
    </Page>
  );
}
