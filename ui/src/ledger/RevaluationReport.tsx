import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, data, type Rate } from '../api/client';
import type { components } from '../api/schema';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { Form } from '../papers/editing/form';
import { usePosted } from '../papers/editing/posted';
import { Told } from '../papers/editing/Told';
import { FormPlace, useCommand } from '../papers/editing/useForm';
import { Amount } from '../parts/Amount';
import { isDay } from '../parts/asOf';
import { rateSaid } from '../parts/currencies';
import { usePrimary } from '../parts/keys';
import { Empty, Failure, Key } from '../parts/Layout';
import { useMay } from '../parts/may';
import { useFirm } from '../parts/records';
import { isBelowNil, isNil } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useAddress } from '../parts/useAddress';
import { Bar } from './AsOf';

type Revaluation = components['schemas']['Revaluation'];

/** What is open in other currencies at the end of a day: revalued at its rates, and taken back on the next. */
export function RevaluationReport() {
  const [params, put] = useAddress();
  const day = params.get('day') ?? '';
  const report = useQuery({
    queryKey: ['revaluation', day],
    queryFn: () => data(api.GET('/api/v1/revaluations', { params: { query: { day: day || undefined } } })),
    placeholderData: keepPreviousData,
  });
  const r = report.data;
  if (report.isError && !r) return <Failure error={report.error} />;
  if (!r) return null;
  return (
    <>
      <Bar className="no-print">
        <UnderstoodField
          kind="day"
          label="At the end of"
          field="at"
          value={r.day}
          onChange={(d) => isDay(d) && put('day', d)}
          width={150}
        />
        <span style={{ flex: 1 }} />
        <Button variant="outlined" onClick={() => window.print()}>
          Print
        </Button>
      </Bar>
      {!isNil(r.realised) && (
        <Typography>
          Settling came to <Amount value={r.realised} /> of exchange since the beginning of the year, a{' '}
          {isBelowNil(r.realised) ? 'loss' : 'gain'}.
        </Typography>
      )}
      {r.rows.length === 0 ? (
        <Empty>Nothing is open in another currency on this day.</Empty>
      ) : (
        <Open key={r.day} revaluation={r} />
      )}
    </>
  );
}

const RateLine = styled('div')({ display: 'flex', gap: 10, alignItems: 'baseline', margin: '4px 0' });

interface Body {
  rates: Record<string, string>;
}

function Open({ revaluation: r }: { revaluation: Revaluation }) {
  const say = useSnackbar();
  const posted = usePosted();
  const own = useFirm().data?.currency ?? '';
  const keeps = useMay().has('give money back, write off, reverse and keep the bank');
  const [form] = useState(() => new Form<Body>({ rates: {} }));
  const [typed, setTyped] = useState<Record<string, string>>({});
  const set = (currency: string, rate: string) => {
    const now = { ...typed, [currency]: rate };
    setTyped(now);
    form.set('rates', now);
  };
  const command = useCommand({
    form,
    path: '/api/v1/revaluations',
    body: (b) =>
      r.paperId > 0
        ? null
        : {
            day: r.day,
            rates: Object.entries(b.rates)
              .filter(([, rate]) => rate)
              .map(([currency, rate]) => ({ currency, rate, day: '' })),
          },
    done: (p) => {
      say(`Revalued, ${p.number}.`);
      posted();
    },
    refused: () => undefined,
  });
  const may = keeps && r.paperId === 0;
  const act = () => void command.act();
  usePrimary(may ? act : undefined);
  return (
    <>
      <FormPlace.Provider value={form}>
        {r.rates.map((x) => (
          <RateOf
            key={x.currency}
            rate={x}
            own={own}
            typed={typed[x.currency] ?? ''}
            fixed={!may}
            onRate={(v) => set(x.currency, v)}
          />
        ))}
      </FormPlace.Provider>
      <Table aria-label="Open in other currencies">
        <TableHead>
          <TableRow>
            <TableCell>What is open</TableCell>
            <TableCell>Whose</TableCell>
            <TableCell align="right">In its currency</TableCell>
            <TableCell align="right">Stands at, {own}</TableCell>
            <TableCell align="right">Worth at the rate</TableCell>
            <TableCell align="right">Gain or loss</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {r.rows.map((x, n) => (
            <TableRow key={n}>
              <TableCell>
                {x.paperId > 0 ? <Link to={`/papers/${x.paperId}`}>{x.what}</Link> : x.what} {x.kind}
              </TableCell>
              <TableCell>{x.partyId > 0 ? <Link to={`/customers/${x.partyId}`}>{x.party}</Link> : 'ours'}</TableCell>
              <TableCell align="right">
                <Amount value={x.own} code={x.currency} />
              </TableCell>
              <TableCell align="right">
                <Amount value={x.stands} />
              </TableCell>
              <TableCell align="right">{x.rate ? <Amount value={x.now} /> : 'no rate'}</TableCell>
              <TableCell align="right">
                <Amount value={x.difference} quietNil />
              </TableCell>
            </TableRow>
          ))}
          <TableRow>
            <TableCell colSpan={5}>At the rates of the day, not realised</TableCell>
            <TableCell align="right">
              <Amount value={r.difference} final />
            </TableCell>
          </TableRow>
        </TableBody>
      </Table>
      {r.paperId > 0 && (
        <Typography sx={{ mt: 1 }}>
          Revalued by <Link to={`/papers/${r.paperId}`}>{r.paper}</Link>; on the next day it is taken back.
        </Typography>
      )}
      {may && (
        <Bar className="no-print">
          <Button variant="contained" onClick={act}>
            {command.confirming ? 'Revalue all the same' : 'Revalue'} <Key>Ctrl ↵</Key>
          </Button>
        </Bar>
      )}
      <Told text={command.told} />
      {may && (
        <EffectView
          command={command}
          hint="What is open in other currencies at the rates of the day, against what it stands at: the difference is exchange that is not realised. It is taken back on the next day, so that settling finds everything as it was."
        />
      )}
    </>
  );
}

interface RateProps {
  rate: Rate;
  own: string;
  typed: string;
  fixed: boolean;
  onRate: (rate: string) => void;
}

/** The rate of the day, with its age; another may be typed. */
function RateOf({ rate: x, own, typed, fixed, onRate }: RateProps) {
  return (
    <RateLine>
      <span>1 {x.currency} =</span>
      <UnderstoodField
        kind="rate"
        label={`Rate of ${x.currency}`}
        field={`rates.${x.currency}`}
        value={typed || x.rate || ''}
        onChange={onRate}
        disabled={fixed}
        onSheet
        width={110}
      />
      <span>{own}</span>
      <Typography variant="body2" color="textSecondary">
        {rateSaid(typed, x)}
      </Typography>
    </RateLine>
  );
}
