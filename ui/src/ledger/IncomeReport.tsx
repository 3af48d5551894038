import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data } from '../api/client';
import { Choice } from '../papers/editing/fields';
import { isDay, useLookingBack } from '../parts/asOf';
import { ExportAs } from '../parts/ExportAs';
import { Empty, Failure } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { useToday } from '../parts/records';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useAddress } from '../parts/useAddress';
import { Beside, FigureTable } from './FigureTable';
import { Bar } from './AsOf';

type By = 'month' | 'quarter' | 'year' | undefined;
type Against = 'before' | 'year' | undefined;

/** Profit and loss of a span, by month or beside another. */
export function IncomeReport() {
  const today = useToday();
  const past = useLookingBack();
  const [params, put] = useAddress();
  const through = params.get('through') || past || today;
  const from = params.get('from') || `${through.slice(0, 4)}-01-01`;
  const by = (params.get('by') ?? '') as NonNullable<By> | '';
  const against = (params.get('against') ?? '') as NonNullable<Against> | '';
  const query = { from, through, by: by || undefined, against: against || undefined };
  const report = useQuery({
    queryKey: ['income', query],
    queryFn: () => data(api.GET('/api/v1/income', { params: { query } })),
    placeholderData: keepPreviousData,
  });
  const day = (name: string) => (d: string) => isDay(d) && put(name, d);
  const sent = new URLSearchParams(Object.entries(query).flatMap(([k, v]) => (v ? [[k, v]] : [])));
  return (
    <>
      <Bar className="no-print">
        <UnderstoodField kind="day" label="From" field="from" value={from} onChange={day('from')} width={140} />
        <UnderstoodField kind="day" label="Through" field="through" value={through} onChange={day('through')} width={140} />
        <Choice
          label="Columns"
          field="by"
          value={by || 'all'}
          options={[
            { value: 'all', name: 'one for all' },
            { value: 'month', name: 'by month' },
            { value: 'quarter', name: 'by quarter' },
            { value: 'year', name: 'by year' },
          ]}
          onChange={(v) => put('by', v === 'all' ? '' : v)}
        />
        <Beside value={against} before={{ value: 'before', name: 'the span before' }} onChange={(v) => put('against', v)} />
        <span style={{ flex: 1 }} />
        <ExportAs path="/api/v1/income" query={sent} pdf />
      </Bar>
      {report.isError && <Failure error={report.error} />}
      {report.data?.groups.every((g) => g.rows.length === 0) && <Empty>Nothing was earned or spent in this span.</Empty>}
      {report.data && <FigureTable figures={report.data} label="Profit and loss" />}
      <Margin>
        <ListNote title="Profit and loss">
          What was earned and spent in the span, by account. What ended a year is left out of it. Each figure opens its lines,
          each line its paper.
        </ListNote>
      </Margin>
    </>
  );
}
