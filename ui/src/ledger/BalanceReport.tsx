import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data } from '../api/client';
import { ExportAs } from '../parts/ExportAs';
import { Failure } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { useAddress } from '../parts/useAddress';
import { AsOfBar, useAsOf } from './AsOf';
import { Beside, FigureTable } from './FigureTable';

/** The balance sheet at the end of a day. */
export function BalanceReport() {
  const [asOf, setAsOf] = useAsOf();
  const [params, put] = useAddress();
  const against = (params.get('against') ?? '') as 'month' | 'year' | '';
  const query = { asOf, against: against || undefined };
  const report = useQuery({
    queryKey: ['balance-sheet', query],
    queryFn: () => data(api.GET('/api/v1/balance-sheet', { params: { query } })),
    placeholderData: keepPreviousData,
  });
  return (
    <>
      <AsOfBar asOf={asOf} onChange={setAsOf}>
        <Beside
          value={against}
          before={{ value: 'month', name: 'the end of the month before' }}
          onChange={(v) => put('against', v)}
        />
        <span style={{ flex: 1 }} />
        <ExportAs path="/api/v1/balance-sheet" query={new URLSearchParams({ asOf, ...(against && { against }) })} pdf />
      </AsOfBar>
      {report.isError && <Failure error={report.error} />}
      {report.data && <FigureTable figures={report.data} label="Balance sheet" />}
      <Margin>
        <ListNote title="Balance sheet">
          What stands on every account at the end of the day. Customers with a credit balance are a liability; what no year end
          has carried on stands with the equity, so the last line is nil.
        </ListNote>
      </Margin>
    </>
  );
}
