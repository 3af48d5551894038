import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import Checkbox from '@mui/material/Checkbox';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import { api, data, type DepositRow } from '../api/client';
import { Amount } from '../parts/Amount';
import { Empty } from '../parts/Layout';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { ListNote } from '../parts/ListNote';
import { Mark } from '../parts/Mark';
import { isNil, show, showDay } from '../parts/show';
import { AsOfBar, useAsOf } from './AsOf';
import { useAddress } from '../parts/useAddress';

const Chart = lazy(() => import('../parts/Chart'));
const month = (b: { to: string }) => (showDay(b.to).split(' ')[1] ?? '').slice(0, 1);

const Short = styled('span')({
  display: 'block',
  maxWidth: 132,
  overflow: 'hidden',
  textOverflow: 'ellipsis',
  whiteSpace: 'nowrap',
});

/** What became of each deposit, as of a day, and its tie to the account. */
export function DepositRegister() {
  const [asOf, setAsOf] = useAsOf();
  const [params, set] = useAddress();
  const all = params.get('all') === 'true';
  const tie = useQuery({
    queryKey: ['tie-out', asOf],
    queryFn: () => data(api.GET('/api/v1/tie-out', { params: { query: { asOf } } })),
    placeholderData: keepPreviousData,
  }).data?.ties.find((t) => t.register === 'deposits');
  const held = useQuery({
    queryKey: ['held', asOf],
    queryFn: () => data(api.GET('/api/v1/held', { params: { query: { asOf } } })),
    placeholderData: keepPreviousData,
  }).data;
  const figure = (id: keyof DepositRow, title: string, hidden?: boolean, sort = true): Column<DepositRow> => ({
    id,
    title,
    cell: (r) => (isNil(String(r[id])) ? '' : <Amount value={String(r[id])} tone={id === 'held' ? 'held' : undefined} />),
    figure: true,
    hidden,
    sort,
  });
  const columns: Column<DepositRow>[] = [
    { id: 'number', title: 'Deposit', cell: (r) => r.number },
    { id: 'day', title: 'Date', cell: (r) => showDay(r.day) },
    { id: 'party', title: 'Customer', cell: (r) => <Short title={r.customer}>{r.customer}</Short> },
    { id: 'job', title: 'Job', cell: (r) => r.job, hidden: true },
    { id: 'reference', title: 'Reference', cell: (r) => r.reference, hidden: true, sort: false },
    figure('amount', 'Amount'),
    figure('setAgainst', 'Set against'),
    figure('refunded', 'Refunded'),
    figure('forfeited', 'Kept'),
    figure('transferred', 'Moved', true),
    figure('takenBack', 'Taken back', true, false),
    figure('held', 'Held'),
    figure('taxInside', 'Tax inside', false, false),
  ];
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf}>
        <FormControlLabel
          control={<Checkbox size="small" checked={all} onChange={(e) => set('all', e.target.checked ? 'true' : '')} />}
          label="those used up too"
        />
      </AsOfBar>
      <ListTable<DepositRow>
        id="deposit-register"
        path="/api/v1/deposit-register"
        columns={columns}
        fixed={{ asOf, all: all ? 'true' : undefined }}
        search="Deposit, customer, reference"
        to={(r) => `/papers/${r.paperId}`}
        empty={<Empty>No deposit was held at the end of this day.</Empty>}
      />
      <Margin>
        <ListNote title="Tie to the account">
          {tie && (
            <>
              Held less the tax inside is what the account says:{' '}
              <Link to={`/ledger/accounts/${tie.accountId}`}>{tie.account}</Link>, {show(tie.ledger)}.
              <br />
              <Mark settled={tie.ok ? 100 : 0} state={tie.ok ? 'ties out' : `the register says ${show(tie.sum)}`} />
            </>
          )}
        </ListNote>
        {held && held.months.some((m) => !isNil(m.amount)) && (
          <section style={{ marginTop: 18 }}>
            <ListNote title="Held at month ends">
              <div style={{ minHeight: 180 }}>
                <Suspense fallback={null}>
                  <Chart label="Deposits held at month ends" bars={held.months} name={month} tone="held" height={180} />
                </Suspense>
              </div>
            </ListNote>
          </section>
        )}
      </Margin>
    </>
  );
}
