import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { Amount } from '../parts/Amount';
import { usePrimary } from '../parts/keys';
import { Failure, Key } from '../parts/Layout';
import { usePost, usePreview } from '../parts/preview';
import { isNil } from '../parts/show';
import { AsOfBar, useAsOf } from './AsOf';

/** What the allowance for doubtful debts is wanted to be, and the one entry that brings it there. */
export function AllowanceReport() {
  const [asOf, setAsOf] = useAsOf();
  const say = useSnackbar();
  const report = useQuery({
    queryKey: ['allowance', asOf],
    queryFn: () => data(api.GET('/api/v1/allowance', { params: { query: { asOf } } })),
    placeholderData: keepPreviousData,
  });
  const body = { day: asOf };
  const effect = usePreview('/api/v1/allowances', body);
  const { post, posting, confirming, refused } = usePost('/api/v1/allowances', (p) =>
    say(`The allowance is posted, ${p.number}.`),
  );
  const act = () => post(body);
  const a = report.data;
  usePrimary(a && !isNil(a.change) ? act : undefined);
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf}>
        <span style={{ flex: 1 }} />
        <Button component={Link} to="/setup/limits">
          Percentages
        </Button>
        <Button variant="contained" onClick={act} disabled={posting || !a || isNil(a.change)}>
          {confirming ? 'Post all the same' : 'Post the difference'} <Key>Ctrl ↵</Key>
        </Button>
      </AsOfBar>
      {report.isError && <Failure error={report.error} />}
      {a && (
        <Table aria-label="Allowance by age" sx={{ maxWidth: 620 }}>
          <TableHead>
            <TableRow>
              <TableCell>Age</TableCell>
              <TableCell align="right">Doubtful at most</TableCell>
              <TableCell align="right">Percent</TableCell>
              <TableCell align="right">Wanted</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {a.rows.map((r) => (
              <TableRow key={r.bucket}>
                <TableCell>{r.bucket === 'not due' ? 'not due' : `${r.bucket} days over`}</TableCell>
                <TableCell align="right">
                  <Amount value={r.base} quietNil />
                </TableCell>
                <TableCell align="right">{r.percent} %</TableCell>
                <TableCell align="right">
                  <Amount value={r.wanted} quietNil />
                </TableCell>
              </TableRow>
            ))}
            <TableRow>
              <TableCell colSpan={3}>Wanted</TableCell>
              <TableCell align="right">
                <Amount value={a.wanted} strong />
              </TableCell>
            </TableRow>
            <TableRow>
              <TableCell colSpan={3}>Stands on the account</TableCell>
              <TableCell align="right">
                <Amount value={a.stands} />
              </TableCell>
            </TableRow>
          </TableBody>
          <TableFooter>
            <TableRow>
              <TableCell colSpan={3}>To post</TableCell>
              <TableCell align="right">
                <Amount value={a.change} final />
              </TableCell>
            </TableRow>
          </TableFooter>
        </Table>
      )}
      <EffectView
        effect={effect}
        strict={refused !== null || (a !== undefined && isNil(a.change))}
        hint="Open items and retention, less each customer’s credits and less the tax that relief would bring back."
      />
    </>
  );
}
