import { useTheme } from '@mui/material/styles';
import { BarChart } from '@mui/x-charts/BarChart';
import type { Bar } from '../api/client';
import { show } from './show';

interface Props {
  label: string;
  bars: Bar[];
  /** What stands under a bar. */
  name: (b: Bar) => string;
  tone?: 'held' | 'primary';
  onPick?: (b: Bar) => void;
  height?: number;
}

/** Bars of what falls into each stretch of days. Loaded when it is looked at; the figures stand beside it as a table. */
export default function Chart({ label, bars, name, tone = 'primary', onPick, height = 210 }: Props) {
  const theme = useTheme();
  const names = new Map(bars.map((b) => [b.to, name(b)]));
  const color = tone === 'held' ? theme.vars!.palette.tally.held : theme.vars!.palette.primary.main;
  return (
    <div role="img" aria-label={`${label}: ${bars.map((b) => `${name(b)} ${show(b.amount)}`).join(', ')}`}>
      <BarChart
        height={height}
        colors={[color]}
        skipAnimation
        hideLegend
        margin={{ left: 0, right: 8, top: 12, bottom: 0 }}
        grid={{ horizontal: true }}
        xAxis={[
          {
            scaleType: 'band',
            data: bars.map((b) => b.to),
            valueFormatter: (to: string) => names.get(to) ?? '',
            height: 38,
            tickLabelInterval: () => true,
            tickLabelStyle: { fontSize: 12 },
            categoryGapRatio: 0.45,
          },
        ]}
        yAxis={[{ width: 62, tickLabelStyle: { fontSize: 12 }, valueFormatter: (v: number) => show(String(v)) }]}
        series={[{ data: bars.map((b) => b.length), valueFormatter: (_, { dataIndex }) => show(bars[dataIndex]?.amount) }]}
        onItemClick={onPick && ((_, item) => bars[item.dataIndex] && onPick(bars[item.dataIndex]!))}
        sx={{ '& .MuiBarElement-root': { cursor: onPick ? 'pointer' : 'default' } }}
      />
    </div>
  );
}
