import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import ToggleButton from '@mui/material/ToggleButton';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { Empty, Failure } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ExportAs } from '../parts/ExportAs';
import { Filters } from '../parts/ListFilters';
import { Margin } from '../parts/Margin';
import { AsOfBar, InCurrency, useAsOf } from './AsOf';
import { OneStop } from '../parts/OneStop';
import { Row } from '../parts/Row';
import { isNil } from '../parts/show';
import { AgeBars } from '../parts/AgeBars';
import { useAddress } from '../parts/useAddress';

/** What customers owe as of a day, by age. Its total is receivables. */
export function AgeingReport() {
  const [asOf, setAsOf] = useAsOf();
  const [params, set] = useAddress();
  const basis = params.get('basis') === 'paper' ? 'paper' : 'due';
  const byJob = params.get('byJob') === 'true';
  const payable = params.get('payable') === 'true';
  const currency = params.get('currency') ?? '';
  const go = useNavigate();
  const report = useQuery({
    queryKey: ['ageing', asOf, basis, byJob, payable, currency],
    queryFn: () =>
      data(
        api.GET('/api/v1/ageing', {
          params: {
            query: { asOf, basis, byJob: byJob || undefined, payable: payable || undefined, currency: currency || undefined },
          },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const a = report.data;
  // What is nil for everybody needs no column.
  const told = { disputed: !!a && !isNil(a.total.disputed), kept: !!a && !isNil(a.total.keptBack) };
  const to = (r: { customerId: number; jobId: number }) =>
    r.jobId ? `/jobs/${r.jobId}` : payable ? `/customers/suppliers/${r.customerId}` : `/customers/${r.customerId}`;
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf}>
        <Filters exclusive size="small" value={basis} onChange={(_, v) => v && set('basis', v)} aria-label="By">
          <ToggleButton value="due">By due day</ToggleButton>
          <ToggleButton value="paper">By paper day</ToggleButton>
        </Filters>
        <Filters
          exclusive
          size="small"
          value={payable ? 'suppliers' : byJob ? 'jobs' : 'customers'}
          onChange={(_, v) => {
            if (v === null) return;
            set('byJob', v === 'jobs' ? 'true' : '');
            set('payable', v === 'suppliers' ? 'true' : '');
          }}
          aria-label="A row for each"
        >
          <ToggleButton value="customers">Customers</ToggleButton>
          <ToggleButton value="jobs">Jobs</ToggleButton>
          <ToggleButton value="suppliers">Suppliers</ToggleButton>
        </Filters>
        <InCurrency />
        <span style={{ flex: 1 }} />
        <ExportAs
          path="/api/v1/ageing"
          query={
            new URLSearchParams({
              asOf,
              basis,
              byJob: String(byJob),
              payable: String(payable),
              ...(currency ? { currency } : {}),
            })
          }
        />
      </AsOfBar>
      {report.isError && <Failure error={report.error} />}
      {a && a.rows.length === 0 && (
        <Empty>
          {payable ? 'We owed nobody anything at the end of this day.' : 'Nobody owed anything at the end of this day.'}
        </Empty>
      )}
      {a && a.rows.length > 0 && <AgeBars ageing={a} />}
      {a && a.rows.length > 0 && (
        <OneStop>
          <Table aria-label="Ageing">
            <TableHead>
              <TableRow>
                <TableCell>{payable ? 'Supplier' : byJob ? 'Job, customer' : 'Customer'}</TableCell>
                {a.buckets.map((b) => (
                  <TableCell key={b} align="right">
                    {b}
                  </TableCell>
                ))}
                <TableCell align="right">{payable ? 'Not used' : 'Credits not used'}</TableCell>
                <TableCell align="right">{payable ? 'We owe' : 'Owes'}</TableCell>
                {told.disputed && <TableCell align="right">Disputed</TableCell>}
                {told.kept && <TableCell align="right">Kept back</TableCell>}
                <TableCell align="right">{payable ? 'Prepaid' : 'We hold'}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {a.rows.map((r) => (
                <Row
                  key={`${r.customerId}.${r.jobId}`}
                  data-row={`${r.customerId}.${r.jobId}`}
                  tabIndex={-1}
                  onClick={() => go(to(r))}
                  onKeyDown={(e) => e.key === 'Enter' && go(to(r))}
                >
                  <TableCell sx={{ maxWidth: 136, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
                    <span title={`${r.customer}${byJob ? ` · ${r.job || 'no job'}` : ''}`}>
                      {byJob ? `${r.job ? r.job.split(' ')[0] : 'no job'} · ${r.customer}` : r.customer}
                    </span>
                  </TableCell>
                  {r.buckets.map((v, i) => (
                    <TableCell key={i} align="right">
                      {!isNil(v) && <Amount value={v} />}
                    </TableCell>
                  ))}
                  <TableCell align="right">{!isNil(r.unplaced) && <Amount value={r.unplaced} />}</TableCell>
                  <TableCell align="right">
                    <Amount value={r.total} strong />
                  </TableCell>
                  {told.disputed && <TableCell align="right">{!isNil(r.disputed) && <Amount value={r.disputed} />}</TableCell>}
                  {told.kept && <TableCell align="right">{!isNil(r.keptBack) && <Amount value={r.keptBack} />}</TableCell>}
                  <TableCell align="right">{!isNil(r.held) && <Amount value={r.held} tone="held" />}</TableCell>
                </Row>
              ))}
            </TableBody>
            <TableFooter>
              <TableRow>
                <TableCell>Total</TableCell>
                {a.total.buckets.map((v, i) => (
                  <TableCell key={i} align="right">
                    <Amount value={v} final />
                  </TableCell>
                ))}
                <TableCell align="right">
                  <Amount value={a.total.unplaced} final />
                </TableCell>
                <TableCell align="right">
                  <Amount
                    value={a.total.total}
                    final
                    why={currency ? undefined : { of: 'register', register: 'receivables', name: 'receivables' }}
                  />
                </TableCell>
                {told.disputed && (
                  <TableCell align="right">
                    <Amount value={a.total.disputed} final />
                  </TableCell>
                )}
                {told.kept && (
                  <TableCell align="right">
                    <Amount value={a.total.keptBack} final />
                  </TableCell>
                )}
                <TableCell align="right">
                  <Amount value={a.total.held} final />
                </TableCell>
              </TableRow>
            </TableFooter>
          </Table>
        </OneStop>
      )}
      <Margin>
        <ListNote title="Ageing">
          Credits that are not used are never aged: they stand in a column of their own. Deposits stand beside, never inside. The
          total is what the receivables account says at the end of that day.
        </ListNote>
      </Margin>
    </>
  );
}
