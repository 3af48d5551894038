import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import FormControlLabel from '@mui/material/FormControlLabel';
import Checkbox from '@mui/material/Checkbox';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { Failure } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ExportAs } from '../parts/ExportAs';
import { Margin } from '../parts/Margin';
import { AsOfBar, useAsOf } from './AsOf';
import { OneStop } from '../parts/OneStop';
import { Row } from '../parts/Row';

/** What stands on every account as of a day; each leads to its lines. */
export function TrialBalance() {
  const [asOf, setAsOf] = useAsOf();
  const [all, setAll] = useState(false);
  const go = useNavigate();
  const tb = useQuery({
    queryKey: ['trial-balance', asOf],
    queryFn: () => data(api.GET('/api/v1/trial-balance', { params: { query: { asOf } } })),
    placeholderData: keepPreviousData,
  });
  const rows = (tb.data?.rows ?? []).filter((r) => all || r.debit || r.credit);
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf}>
        <FormControlLabel
          control={<Checkbox size="small" checked={all} onChange={(e) => setAll(e.target.checked)} />}
          label="Also those at nil"
        />
        <span style={{ flex: 1 }} />
        <ExportAs path="/api/v1/trial-balance" query={new URLSearchParams({ asOf })} />
      </AsOfBar>
      {tb.isError && <Failure error={tb.error} />}
      {tb.data && (
        <OneStop>
          <Table>
            <TableHead>
              <TableRow>
                <TableCell>Number</TableCell>
                <TableCell>Account</TableCell>
                <TableCell>Type</TableCell>
                <TableCell align="right">Debit</TableCell>
                <TableCell align="right">Credit</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((r) => {
                const to = `/ledger/accounts/${r.id}?to=${asOf}`;
                return (
                  <Row
                    key={r.id}
                    data-row={r.id}
                    tabIndex={-1}
                    onClick={() => go(to)}
                    onKeyDown={(e) => e.key === 'Enter' && go(to)}
                  >
                    <TableCell>{r.number}</TableCell>
                    <TableCell>{r.name}</TableCell>
                    <TableCell>
                      {r.type}
                      {r.control && ', control'}
                    </TableCell>
                    <TableCell align="right">
                      <Amount
                        value={r.debit}
                        why={r.debit ? { of: 'account', id: r.id, name: `${r.number} ${r.name}` } : undefined}
                      />
                    </TableCell>
                    <TableCell align="right">
                      <Amount
                        value={r.credit}
                        why={r.credit ? { of: 'account', id: r.id, name: `${r.number} ${r.name}` } : undefined}
                      />
                    </TableCell>
                  </Row>
                );
              })}
            </TableBody>
            <TableFooter>
              <TableRow>
                <TableCell colSpan={3}>{rows.length === 0 ? 'Nothing is posted yet.' : 'Total'}</TableCell>
                <TableCell align="right">
                  <Amount value={tb.data.debit} final />
                </TableCell>
                <TableCell align="right">
                  <Amount value={tb.data.credit} final />
                </TableCell>
              </TableRow>
            </TableFooter>
          </Table>
        </OneStop>
      )}
      <Margin>
        <ListNote title="Trial balance">
          What stands on every account at the end of the day that you choose. Each account opens its lines, each line its paper.
        </ListNote>
      </Margin>
    </>
  );
}
