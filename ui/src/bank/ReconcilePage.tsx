import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link, useParams, useSearchParams } from 'react-router';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { Amount } from '../parts/Amount';
import { bankNamed } from '../parts/currencies';
import { isDay } from '../parts/asOf';
import { useBack, usePrimary } from '../parts/keys';
import { Failure, Key, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Mark } from '../parts/Mark';
import { Notices } from '../parts/Notices';
import { useToday } from '../parts/records';
import { PaperSheet, Two } from '../parts/Sheet';
import { show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useActing } from './useActing';

type Reconciling = components['schemas']['Reconciling'];
type OnTheWay = components['schemas']['OnTheWay'];

/** The proof that an account agrees with the bank through a day, to be kept and printed. */
export default function ReconcilePage() {
  const id = Number(useParams().id);
  const [params, setParams] = useSearchParams();
  const through = params.get('through') ?? undefined;
  const { refusals, act } = useActing();
  useBack(useLeave(`/bank/${id}`));
  const found = useQuery({
    queryKey: ['bank', id, 'reconciliation', through],
    queryFn: () => data(api.GET('/api/v1/banks/{id}/reconciliation', { params: { path: { id }, query: { through } } })),
    placeholderData: keepPreviousData,
  });
  const x = found.data;
  const keep = () =>
    act(
      () => data(api.POST('/api/v1/banks/{id}/reconciliation', { params: { path: { id } }, body: { through: x!.through } })),
      'Reconciled, and kept.',
    );
  usePrimary(x ? () => void keep() : undefined);
  return (
    <Page>
      <PageHead title={x ? `Reconcile ${x.bank}` : 'Reconcile'}>
        <UnderstoodField
          kind="day"
          label="Through"
          field="through"
          value={x?.through ?? ''}
          onChange={(v) => isDay(v) && setParams({ through: v }, { replace: true })}
          width={130}
        />
        <Button variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
        <Button variant="contained" disabled={!x} onClick={() => void keep()}>
          It agrees <Key>Ctrl ↵</Key>
        </Button>
      </PageHead>
      <Notices refusals={refusals} />
      {found.isError && <Failure error={found.error} />}
      {x && <Proof proof={x} />}
      {x && (
        <Margin>
          <ListNote title="Reconciled">
            {x.proofs.length === 0
              ? 'Never yet. It is kept once every line is explained and nothing is left between the books and the bank.'
              : x.proofs.map((p) => (
                  <span key={p.at} style={{ display: 'block' }}>
                    through {showDay(p.through)}, by {p.user}
                  </span>
                ))}
          </ListNote>
        </Margin>
      )}
    </Page>
  );
}

function Proof({ proof: x }: { proof: Reconciling }) {
  const today = useToday();
  return (
    <PaperSheet>
      <Two>
        <b>{x.firm}</b>
        <span>
          {bankNamed({ name: x.bank, currency: x.currency })} through {showDay(x.through, today)}
        </span>
      </Two>
      <Table aria-label="Reconciliation" sx={{ mt: 2 }}>
        <TableBody>
          <Sum name="The bank says" amount={x.known ? x.says : ''} />
          <Ways title="Posted, and not at the bank yet" rows={x.notAtBank} />
          <Ways title="At the bank, and not in the books yet" rows={x.notInBooks} off />
          <Sum name="The books say" amount={x.ledger} strong />
          <Sum name="Left between them" amount={x.known ? x.apart : ''} strong />
        </TableBody>
      </Table>
      {x.takings && <p>Beside it, {show(x.takings)} wait in card takings and are not paid out yet.</p>}
      <Typography sx={{ mt: 2 }}>
        {!x.known && 'No statement has been read that says a balance.'}
        {x.unexplained > 0 && (
          <>
            {x.unexplained} {x.unexplained === 1 ? 'line is' : 'lines are'} not explained yet.
          </>
        )}
        {x.holds && <Mark settled={100} state="it agrees" />}
      </Typography>
    </PaperSheet>
  );
}

function Sum({ name, amount, strong }: { name: string; amount: string; strong?: boolean }) {
  return (
    <TableRow>
      <TableCell colSpan={4}>{strong ? <b>{name}</b> : name}</TableCell>
      <TableCell align="right">{amount && <Amount value={amount} strong={strong} />}</TableCell>
    </TableRow>
  );
}

function Ways({ title, rows, off }: { title: string; rows: OnTheWay[]; off?: boolean }) {
  const today = useToday();
  if (rows.length === 0) return null;
  return (
    <>
      <TableRow>
        <TableCell colSpan={5}>
          <b>{title}</b>
          {off && ', which is taken off'}
        </TableCell>
      </TableRow>
      {rows.map((r, n) => (
        <TableRow key={n}>
          <TableCell sx={{ whiteSpace: 'nowrap', pl: 3 }}>{showDay(r.day, today)}</TableCell>
          <TableCell>{r.number && <Link to={`/papers/${r.paperId}`}>{r.number}</Link>}</TableCell>
          <TableCell>
            {r.what}
            {r.cheque && `, cheque ${r.cheque}`}
          </TableCell>
          <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
            {r.age === 1 ? '1 day' : `${r.age} days`}
          </TableCell>
          <TableCell align="right">
            <Amount value={r.amount} />
          </TableCell>
        </TableRow>
      ))}
    </>
  );
}
