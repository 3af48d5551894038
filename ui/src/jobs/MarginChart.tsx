import { useTheme } from '@mui/material/styles';
import { LineChart } from '@mui/x-charts/LineChart';
import type { components } from '../api/schema';
import { useSession } from '../parts/records';
import { show, showMonth } from '../parts/show';

type Month = components['schemas']['MarginMonth'];

/** How what came in and what was spent grew, month by month; the figures stand beside it. */
export default function MarginChart({ months }: { months: Month[] }) {
  const theme = useTheme();
  const { places } = useSession().data!;
  const colors = [theme.vars!.palette.tally.settled, theme.vars!.palette.primary.main];
  const told = months
    .map((m) => `${showMonth(m.month)}: in ${show(m.income.toFixed(places))}, cost ${show(m.costs.toFixed(places))}`)
    .join('; ');
  return (
    <div role="img" aria-label={`Brought in and cost so far, by month. ${told}`}>
      <LineChart
        height={210}
        colors={colors}
        skipAnimation
        margin={{ left: 0, right: 8, top: 8, bottom: 0 }}
        grid={{ horizontal: true }}
        xAxis={[
          {
            scaleType: 'point',
            data: months.map((m) => m.month),
            valueFormatter: showMonth,
            height: 28,
            tickLabelStyle: { fontSize: 12 },
          },
        ]}
        yAxis={[{ width: 62, tickLabelStyle: { fontSize: 12 }, valueFormatter: (v: number) => show(String(v)) }]}
        series={[
          { data: months.map((m) => m.income), label: 'Brought in', curve: 'stepAfter', showMark: false },
          { data: months.map((m) => m.costs), label: 'Cost', curve: 'stepAfter', showMark: false },
        ]}
        slotProps={{ legend: { sx: { fontSize: 12.5 } } }}
      />
    </div>
  );
}
