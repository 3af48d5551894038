import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { Fragment, useEffect, useState } from 'react';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { Form } from '../papers/editing/form';
import { usePosted } from '../papers/editing/posted';
import { Told } from '../papers/editing/Told';
import { useCommand } from '../papers/editing/useForm';
import { Amount } from '../parts/Amount';
import { isDay } from '../parts/asOf';
import { ExportAs } from '../parts/ExportAs';
import { usePrimary } from '../parts/keys';
import { Empty, Failure, Key } from '../parts/Layout';
import { useMay } from '../parts/may';
import { useToday } from '../parts/records';
import { isNil, kindName, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useAddress } from '../parts/useAddress';
import { Bar } from './AsOf';

type Return = components['schemas']['TaxReturn'];
type Row = Return['rows'][number];

const sections: Record<Row['section'], string> = {
  billed: 'Billed to customers',
  paid: 'Paid of what is owed when it is paid',
  deposits: 'Deposits, taxed on receipt, less what was set against invoices',
  released: 'Released of what was kept back',
  bought: 'Bought',
};

/** The last day of the month before a day. */
function monthBefore(today: string): string {
  const d = new Date(`${today.slice(0, 7)}-01T12:00:00Z`);
  d.setUTCDate(0);
  return d.toISOString().slice(0, 10);
}

/** The tax of a span by code, with the papers behind each figure, and its settling in one step. */
export function TaxReport() {
  const today = useToday();
  const [params, put] = useAddress();
  const through = params.get('through') || monthBefore(today);
  const from = params.get('from') ?? '';
  const report = useQuery({
    queryKey: ['tax-return', from, through],
    queryFn: () => data(api.GET('/api/v1/tax-return', { params: { query: { from: from || undefined, through } } })),
    placeholderData: keepPreviousData,
  });
  const t = report.data;
  const settles = useMay().has('settle the tax');
  return (
    <>
      <Bar className="no-print">
        <UnderstoodField
          kind="day"
          label="From"
          field="from"
          value={from || t?.from || ''}
          onChange={(d) => (isDay(d) || d === '') && put('from', d)}
          placeholder="the beginning"
          width={150}
        />
        <UnderstoodField
          kind="day"
          label="Through"
          field="through"
          value={through}
          onChange={(d) => isDay(d) && put('through', d)}
          width={150}
        />
        <span style={{ flex: 1 }} />
        <ExportAs path="/api/v1/tax-return" query={new URLSearchParams({ through, ...(from && { from }) })} pdf />
      </Bar>
      {report.isError && <Failure error={report.error} />}
      {t && t.rows.length === 0 && <Empty>No tax falls into this span.</Empty>}
      {t && t.rows.length > 0 && <Rows tax={t} />}
      {t && <Later tax={t} />}
      {t && settles && <Settle key={`${t.from} ${t.through}`} tax={t} />}
      {t && t.settled.length > 0 && <Settled tax={t} />}
    </>
  );
}

const Section = styled(TableRow)(({ theme }) => ({ '& th': { color: theme.vars!.palette.text.secondary, fontWeight: 650 } }));
const Opens = styled('button')(({ theme }) => ({
  all: 'unset',
  cursor: 'pointer',
  '&:hover': { textDecoration: 'underline' },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}` },
}));

/** The papers behind a row: the first of them, and more by and by. */
function Behind({ tax, row }: { tax: Return; row: Row }) {
  const more = useInfiniteQuery({
    queryKey: ['tax-return', tax.from, tax.through, row.row],
    queryFn: ({ pageParam: after }) =>
      data(
        api.GET('/api/v1/tax-return/papers', {
          params: { query: { from: tax.from || undefined, through: tax.through, row: row.row, after } },
        }),
      ),
    initialPageParam: row.papers.length,
    getNextPageParam: (_, pages) => row.papers.length + pages.flat().length,
    enabled: false,
  });
  const papers = [...row.papers, ...(more.data?.pages.flat() ?? [])];
  return (
    <>
      {papers.map((p, at) => (
        <TableRow key={`${p.id} ${at}`}>
          <TableCell sx={{ pl: 4 }}>
            {showDay(p.day)} ·{' '}
            <Link to={`/papers/${p.id}`}>
              {kindName(p.kind)} {p.paper}
            </Link>{' '}
            {p.name}
          </TableCell>
          <TableCell />
          <TableCell align="right">
            <Amount value={p.net} />
          </TableCell>
          <TableCell align="right">
            <Amount value={p.tax} />
          </TableCell>
        </TableRow>
      ))}
      {papers.length < row.count && (
        <TableRow className="no-print">
          <TableCell sx={{ pl: 4 }} colSpan={4}>
            {more.isError && <Failure error={more.error} />}
            <Button size="small" disabled={more.isFetching} onClick={() => void more.fetchNextPage()}>
              {row.count - papers.length} more
            </Button>
          </TableCell>
        </TableRow>
      )}
    </>
  );
}

function Rows({ tax }: { tax: Return }) {
  const [open, setOpen] = useState('');
  return (
    <Table aria-label="Tax return">
      <TableHead>
        <TableRow>
          <TableCell>Tax code</TableCell>
          <TableCell align="right">Papers</TableCell>
          <TableCell align="right">Net</TableCell>
          <TableCell align="right">Tax</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {tax.rows.map((r, n) => {
          const id = `${r.section} ${r.code}`;
          return (
            <Fragment key={id}>
              {r.section !== tax.rows[n - 1]?.section && (
                <Section>
                  <TableCell component="th" colSpan={4}>
                    {sections[r.section]}
                  </TableCell>
                </Section>
              )}
              <TableRow>
                <TableCell>
                  <Opens onClick={() => setOpen(open === id ? '' : id)} aria-expanded={open === id}>
                    {open === id ? '▾' : '▸'} {r.code}
                  </Opens>
                </TableCell>
                <TableCell align="right">{r.count}</TableCell>
                <TableCell align="right">
                  <Amount value={r.net} />
                </TableCell>
                <TableCell align="right">
                  <Amount value={r.tax} />
                </TableCell>
              </TableRow>
              {open === id && <Behind key={`${tax.from} ${tax.through}`} tax={tax} row={r} />}
            </Fragment>
          );
        })}
        <TableRow>
          <TableCell colSpan={3}>Output tax</TableCell>
          <TableCell align="right">
            <Amount value={tax.output} />
          </TableCell>
        </TableRow>
        <TableRow>
          <TableCell colSpan={3}>Input tax</TableCell>
          <TableCell align="right">
            <Amount value={tax.input} />
          </TableCell>
        </TableRow>
      </TableBody>
      <TableFooter>
        <TableRow>
          <TableCell colSpan={3}>{tax.toPay.startsWith('-') ? 'Comes back' : 'To pay'}</TableCell>
          <TableCell align="right">
            <Amount value={tax.toPay} final />
          </TableCell>
        </TableRow>
      </TableFooter>
    </Table>
  );
}

/** The tax of the span that is not due yet. */
function Later({ tax }: { tax: Return }) {
  const rows = [
    { says: 'Billed, and owed when it is paid, less what was paid', amount: tax.waiting },
    { says: 'On what is kept back, less what was released', amount: tax.deferred },
  ].filter((r) => !isNil(r.amount));
  if (rows.length === 0) return null;
  return (
    <Table aria-label="Not due yet" sx={{ mt: 2 }}>
      <TableBody>
        <Section>
          <TableCell component="th" colSpan={2}>
            Not due yet
          </TableCell>
        </Section>
        {rows.map((r) => (
          <TableRow key={r.says}>
            <TableCell>{r.says}</TableCell>
            <TableCell align="right">
              <Amount value={r.amount} />
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

/** Settles the span: what is shown is posted, and no tax is dated into it from then on. */
function Settle({ tax }: { tax: Return }) {
  const say = useSnackbar();
  const posted = usePosted();
  const [form] = useState(() => new Form({ from: tax.from, through: tax.through, day: '' }));
  const [day, setDay] = useState('');
  useEffect(() => form.set('day', day), [form, day]);
  const command = useCommand({
    form,
    path: '/api/v1/tax-settlements',
    body: (b) => ({ through: b.through, ...(b.from && { from: b.from }), ...(b.day && { day: b.day }) }),
    done: (p) => {
      say(`The tax through ${showDay(tax.through)} is settled, ${p.number}.`);
      posted();
    },
    refused: () => undefined,
  });
  const done = tax.next > tax.through;
  const act = () => void command.act();
  usePrimary(done ? undefined : act);
  if (done) return <Typography>This span is settled. What is put right goes into the next.</Typography>;
  return (
    <>
      <Bar className="no-print">
        <UnderstoodField
          kind="day"
          label="Entry dated"
          field="day"
          value={day}
          onChange={setDay}
          placeholder={showDay(tax.through)}
          width={150}
        />
        <Button variant="contained" onClick={act}>
          {command.confirming ? 'Settle all the same' : 'Settle this span'} <Key>Ctrl ↵</Key>
        </Button>
      </Bar>
      <Told text={command.told} />
      <EffectView
        command={command}
        hint="By the day of supply, else the paper’s own. Settling brings output and input tax to tax to pay; from then on no tax is dated into the span."
      />
    </>
  );
}

/** What was settled; the last can be taken back on its paper. */
function Settled({ tax }: { tax: Return }) {
  return (
    <section aria-label="Settled">
      <Typography variant="h2" sx={{ mt: 1 }}>
        Settled
      </Typography>
      <Table>
        <TableBody>
          {tax.settled.map((s) => (
            <TableRow key={s.id}>
              <TableCell>
                <Link to={`/papers/${s.id}`}>{s.number}</Link>
              </TableCell>
              <TableCell>
                {s.from ? showDay(s.from) : 'the beginning'} – {showDay(s.through)}
              </TableCell>
              <TableCell align="right">
                <Amount value={s.toPay} />
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </section>
  );
}
