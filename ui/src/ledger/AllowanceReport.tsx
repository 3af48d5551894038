import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { Amount } from '../parts/Amount';
import { usePrimary } from '../parts/keys';
import { Failure, Key } from '../parts/Layout';
import { isNil } from '../parts/show';
import { Form } from '../papers/editing/form';
import { usePosted } from '../papers/editing/posted';
import { Told } from '../papers/editing/Told';
import { useCommand } from '../papers/editing/useForm';
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
  const [form] = useState(() => new Form({ day: asOf }));
  useEffect(() => form.set('day', asOf), [form, asOf]);
  const posted = usePosted();
  const command = useCommand({
    form,
    path: '/api/v1/allowances',
    body: (b) => b,
    done: (p) => {
      say(`The allowance is posted, ${p.number}.`);
      posted();
    },
    refused: () => undefined,
  });
  const act = () => void command.act();
  const a = report.data;
  usePrimary(a && !isNil(a.change) ? act : undefined);
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf}>
        <span style={{ flex: 1 }} />
        <Button component={Link} to="/setup/limits">
          Percentages
        </Button>
        <Button variant="contained" onClick={act} disabled={!a || isNil(a.change)}>
          {command.confirming ? 'Post all the same' : 'Post the difference'} <Key>Ctrl ↵</Key>
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
      <Told text={command.told} />
      <EffectView
        command={command}
        strict={command.strict || (a !== undefined && isNil(a.change))}
        hint="Open items and retention, less each customer’s credits and less the tax that relief would bring back."
      />
    </>
  );
}
