import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
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
import { usePrimary } from '../parts/keys';
import { Empty, Failure, Key } from '../parts/Layout';
import { useMay } from '../parts/may';
import { UnderstoodField } from '../parts/UnderstoodField';
import { Boxed } from '../parts/UnderstoodField';
import { useAddress } from '../parts/useAddress';
import { Bar } from './AsOf';

type Accruals = components['schemas']['Accruals'];

/** Work that is done and not billed at the end of a day: accrued, and taken back on the next. */
export function AccrualReport() {
  const [params, put] = useAddress();
  const day = params.get('day') ?? '';
  const report = useQuery({
    queryKey: ['accruals', day],
    queryFn: () => data(api.GET('/api/v1/accruals', { params: { query: { day: day || undefined } } })),
    placeholderData: keepPreviousData,
  });
  const a = report.data;
  if (report.isError && !a) return <Failure error={report.error} />;
  if (!a) return null;
  return (
    <>
      <Bar className="no-print">
        <UnderstoodField
          kind="day"
          label="At the end of"
          field="at"
          value={a.day}
          onChange={(d) => isDay(d) && put('day', d)}
          width={150}
        />
      </Bar>
      {a.rows.length === 0 ? <Empty>No job that is not closed has a contract.</Empty> : <Jobs key={a.day} accruals={a} />}
    </>
  );
}

interface Body {
  percents: Record<number, string>;
}

function Jobs({ accruals: a }: { accruals: Accruals }) {
  const say = useSnackbar();
  const posted = usePosted();
  const keeps = useMay().has('give money back, write off, reverse and keep the bank');
  const [form] = useState(() => new Form<Body>({ percents: {} }));
  const [percents, setPercents] = useState<Record<number, string>>({});
  const set = (job: number, percent: string) => {
    const now = { ...percents, [job]: percent };
    setPercents(now);
    form.set('percents', now);
  };
  const chosen = (b: Body) => Object.entries(b.percents).filter(([, p]) => p.trim() !== '');
  const command = useCommand({
    form,
    path: '/api/v1/accruals',
    body: (b) => {
      const jobs = chosen(b).map(([job, percent]) => ({ job: Number(job), percent: percent.trim().replace(',', '.') }));
      return jobs.length === 0 ? null : { day: a.day, jobs };
    },
    done: (p) => {
      say(`Accrued, ${p.number}.`);
      setPercents({});
      form.set('percents', {});
      posted();
    },
    refused: () => undefined,
  });
  const some = chosen({ percents }).length > 0;
  const act = () => void command.act();
  usePrimary(some ? act : undefined);
  return (
    <>
      <Table aria-label="Work done and not billed">
        <TableHead>
          <TableRow>
            <TableCell>Job</TableCell>
            <TableCell>Customer</TableCell>
            <TableCell align="right">Contract</TableCell>
            <TableCell align="right">Billed</TableCell>
            <TableCell align="right">Done, %</TableCell>
            <TableCell align="right">Accrued</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {a.rows.map((r) => (
            <TableRow key={r.jobId}>
              <TableCell>
                <Link to={`/jobs/${r.jobId}`}>{r.job}</Link>
              </TableCell>
              <TableCell>{r.customer}</TableCell>
              <TableCell align="right">
                <Amount value={r.contract} />
              </TableCell>
              <TableCell align="right">
                <Amount value={r.billed} quietNil />
              </TableCell>
              <TableCell align="right">
                {r.paperId > 0 || !keeps ? (
                  r.percent
                ) : (
                  <Boxed
                    variant="standard"
                    data-field={`jobs[${r.jobId}].percent`}
                    value={percents[r.jobId] ?? ''}
                    onChange={(e) => set(r.jobId, e.target.value)}
                    style={{ width: 64 }}
                    slotProps={{
                      htmlInput: {
                        'aria-label': `Done of job ${r.job}, percent`,
                        inputMode: 'decimal',
                        style: { textAlign: 'right' },
                      },
                    }}
                  />
                )}
              </TableCell>
              <TableCell align="right">
                {r.paperId > 0 && (
                  <>
                    <Link to={`/papers/${r.paperId}`}>{r.paper}</Link> <Amount value={r.accrued} />
                    {r.stale && (
                      <>
                        {' '}
                        · stale, now <Amount value={r.now} />
                      </>
                    )}
                  </>
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {keeps && (
        <Bar className="no-print">
          <Button variant="contained" onClick={act} disabled={!some}>
            {command.confirming ? 'Accrue all the same' : 'Accrue'} <Key>Ctrl ↵</Key>
          </Button>
        </Bar>
      )}
      <Told text={command.told} />
      <EffectView
        command={command}
        hint="The contract times the share that is done, less what is billed, net: accrued income, or, where more is billed than is done, deferred income. It is taken back on the next day. What is stale is reversed on its paper and accrued anew."
      />
    </>
  );
}
