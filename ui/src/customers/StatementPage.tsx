import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import ToggleButton from '@mui/material/ToggleButton';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link, useParams, useSearchParams } from 'react-router';
import { under } from '../api/at';
import { api, data } from '../api/client';
import { isDay, useLookingBack } from '../parts/asOf';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Links } from '../outgoing/Links';
import { Failure, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { ExportAs } from '../parts/ExportAs';
import { Filters } from '../parts/ListFilters';
import { Margin } from '../parts/Margin';
import { useToday } from '../parts/records';
import { UnderstoodField } from '../parts/UnderstoodField';
import { StatementSheet } from './StatementSheet';

const Span = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });

/** The span of a statement, or its open items; it lives in the address. */
export function useSpan() {
  const today = useToday();
  const past = useLookingBack();
  const [params, setParams] = useSearchParams();
  const through = params.get('through') ?? (past || today);
  // Left out, Go begins with the year.
  const from = params.get('from') ?? undefined;
  const open = params.get('of') === 'open';
  const currency = params.get('currency') ?? undefined;
  const set = (part: Record<string, string>) =>
    setParams(
      {
        ...(from ? { from } : {}),
        through,
        ...(open ? { of: 'open' } : {}),
        ...(currency ? { currency } : {}),
        ...part,
      },
      { replace: true },
    );
  return { from, through, open, currency, set };
}

/** The fields of a span; begun is the day that Go began with, where none is named. */
export function SpanFields({ span: { from, through, open, set }, begun }: { span: ReturnType<typeof useSpan>; begun?: string }) {
  const day = (name: string, v: string) => isDay(v) && set({ [name]: v });
  return (
    <>
      <Filters
        exclusive
        size="small"
        value={open ? 'open' : 'span'}
        onChange={(_, v) => v && set({ of: v === 'open' ? 'open' : '' })}
        aria-label="Statement of"
      >
        <ToggleButton value="span">A span</ToggleButton>
        <ToggleButton value="open">Open items</ToggleButton>
      </Filters>
      {!open && (
        <UnderstoodField
          kind="day"
          label="From"
          field="from"
          value={from ?? begun ?? ''}
          placeholder="1 January"
          onChange={(v) => day('from', v)}
          width={130}
        />
      )}
      <UnderstoodField
        kind="day"
        label={open ? 'As of' : 'Through'}
        field="through"
        value={through}
        onChange={(v) => day('through', v)}
        width={130}
      />
    </>
  );
}

/** Takes statements along as a PDF, each on pages of its own. */
export function StatementsPdf({ customers, span }: { customers: number[]; span: ReturnType<typeof useSpan> }) {
  const q = new URLSearchParams(customers.map((id) => ['ids', String(id)]));
  q.set('through', span.through);
  if (span.from) q.set('from', span.from);
  if (span.open) q.set('open', 'true');
  return (
    <Button variant="outlined" component="a" href={under(`/api/v1/statements/pdf?${q}`)} download>
      PDF
    </Button>
  );
}

/** A mail with a statement, as an address. */
const mailOf = (customer: number, { from, through, open }: ReturnType<typeof useSpan>) =>
  new URLSearchParams({ customer: String(customer), through, ...(from ? { from } : {}), ...(open ? { of: 'open' } : {}) });

/** What a customer is told: opening, every movement, closing; or what is open. */
export default function StatementPage() {
  const id = Number(useParams().id);
  const span = useSpan();
  const { from, through, open, currency } = span;
  useBack(useLeave('/customers'));
  const statement = useQuery({
    queryKey: ['statement', id, from, through, open, currency],
    queryFn: () =>
      data(
        api.GET('/api/v1/customers/{id}/statement', {
          params: { path: { id }, query: { from, through, open: open || undefined, currency } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const s = statement.data;
  return (
    <Page>
      <PageHead title={s ? `Statement for ${s.customer}` : 'Statement'}>
        <Span>
          {(s?.currencies?.length ?? 0) > 1 && (
            <Filters
              exclusive
              size="small"
              value={s!.currency}
              onChange={(_, v) => v && span.set({ currency: v as string })}
              aria-label="In"
            >
              {s!.currencies!.map((c) => (
                <ToggleButton key={c} value={c}>
                  {c}
                </ToggleButton>
              ))}
            </Filters>
          )}
          <SpanFields span={span} begun={s?.from} />
          <ExportAs
            path={`/api/v1/customers/${id}/statement`}
            query={
              new URLSearchParams({
                ...(from ? { from } : {}),
                through,
                ...(open ? { open: 'true' } : {}),
                ...(currency ? { currency } : {}),
              })
            }
          />
          <StatementsPdf customers={[id]} span={span} />
          <Button variant="outlined" component={Link} to={`/papers/mail?${mailOf(id, span)}`}>
            Mail
          </Button>
          <Button variant="contained" onClick={() => window.print()}>
            Print
          </Button>
        </Span>
      </PageHead>
      {statement.isError && <Failure error={statement.error} />}
      {s && <StatementSheet statement={s} />}
      {s && <Links to={{ customer: id, statement: { through, from, open: open || undefined } }} what="this statement" />}
      <Margin>
        <ListNote title="Statement">
          Opening balance, every movement, closing balance: the closing balance is what the ledger says of this customer on that
          day. Deposits and what is kept back are told below, never inside.
        </ListNote>
      </Margin>
    </Page>
  );
}
