import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { Amount } from '../parts/Amount';
import { isNil, show } from '../parts/show';

const MarginChart = lazy(() => import('./MarginChart'));

const Two = styled('div')({
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)',
  gap: 28,
  alignItems: 'start',
});
const Sum = styled('table')(({ theme }) => ({
  width: '100%',
  borderCollapse: 'collapse',
  '& td': { padding: '3px 0', borderBottom: `1px solid ${theme.vars!.palette.tally.rule}` },
  '& td:last-of-type': { textAlign: 'right' },
  '& tr.sum td': { borderBottom: `1px solid ${theme.vars!.palette.tally.strong}`, fontWeight: 600 },
  '& tr.final td': { borderBottom: `3px double ${theme.vars!.palette.text.primary}`, fontWeight: 600 },
  '& tr.soft td': { color: theme.vars!.palette.text.secondary },
  '& a': { color: 'inherit' },
}));

/** What a job brought in and cost, by account, and how that went; nothing where there is neither. */
export function JobMargin({ job }: { job: number }) {
  const m = useQuery({
    queryKey: ['job-margin', job],
    queryFn: () => data(api.GET('/api/v1/jobs/{id}/margin', { params: { path: { id: job } } })),
  }).data;
  if (!m || (m.income.length === 0 && m.costs.length === 0 && isNil(m.waiting) && !m.budget)) return null;
  const row = (l: { accountId: number; account: string; amount: string }) => (
    <tr key={l.accountId}>
      <td>
        <Link to={`/ledger/accounts/${l.accountId}`}>{l.account}</Link>
      </td>
      <td>
        <Amount value={l.amount} />
      </td>
    </tr>
  );
  return (
    <section aria-label="Margin" id="margin">
      <Typography variant="h2">Margin</Typography>
      <Two>
        <Sum>
          <tbody>
            {m.income.map(row)}
            <tr className="sum">
              <td>Brought in, net</td>
              <td>
                <Amount value={m.incomeSum} />
              </td>
            </tr>
            {m.costs.map(row)}
            <tr className="sum">
              <td>Cost</td>
              <td>
                <Amount value={m.costsSum} />
              </td>
            </tr>
            <tr className="final">
              <td>Margin{m.percent && `, ${show(m.percent)} %`}</td>
              <td>
                <Amount value={m.margin} />
              </td>
            </tr>
            {m.budget && (
              <tr className="soft">
                <td>
                  {m.overBudget ? 'Over the budget of' : 'Left of the budget of'} {show(m.budget)}
                </td>
                <td>
                  <Amount value={m.leftOfBudget} />
                </td>
              </tr>
            )}
            {!isNil(m.waiting) && (
              <tr className="soft">
                <td>Costs that wait to be passed on</td>
                <td>
                  <Amount value={m.waiting} tone="waiting" />
                </td>
              </tr>
            )}
            {!isNil(m.onBehalf) && (
              <tr className="soft">
                <td>Paid on the customer’s behalf, beside it</td>
                <td>
                  <Amount value={m.onBehalf} />
                </td>
              </tr>
            )}
          </tbody>
        </Sum>
        {m.months.length > 1 && (
          <Suspense fallback={<div style={{ height: 200 }} />}>
            <MarginChart months={m.months} />
          </Suspense>
        )}
      </Two>
    </section>
  );
}
