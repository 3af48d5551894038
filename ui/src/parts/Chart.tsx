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
  /** The bars lie, so that there is room for their names. */
  lying?: boolean;
}

/** Bars of what falls into each stretch of days. Loaded when it is looked at; the figures stand beside it as a table. */
export default function Chart({
  label,
  bars,
  name,
  tone = 'primary',
  onPick,
  lying,
  height = lying ? 34 + 24 * bars.length : 210,
}: Props) {
  const theme = useTheme();
  const names = new Map(bars.map((b) => [b.to, name(b)]));
  const color = tone === 'held' ? theme.vars!.palette.tally.held : theme.vars!.palette.primary.main;
  const band = {
    scaleType: 'band' as const,
    data: bars.map((b) => b.to),
    valueFormatter: (to: string) => names.get(to) ?? '',
    tickLabelInterval: () => true,
    tickLabelStyle: { fontSize: 12 },
  };
  const figures = { tickLabelStyle: { fontSize: 12 }, valueFormatter: (v: number) => show(String(v)) };
  return (
    <div role="img" aria-label={`${label}: ${bars.map((b) => `${name(b)} ${show(b.amount)}`).join(', ')}`}>
      <BarChart
        height={height}
        colors={[color]}
        skipAnimation
        hideLegend
        margin={{ left: 0, right: 8, top: 12, bottom: 0 }}
        grid={lying ? { vertical: true } : { horizontal: true }}
        layout={lying ? 'horizontal' : 'vertical'}
        xAxis={[lying ? { ...figures, height: 28 } : { ...band, height: 38, categoryGapRatio: 0.45 }]}
        yAxis={[lying ? { ...band, width: 190, categoryGapRatio: 0.35 } : { ...figures, width: 62 }]}
        series={[{ data: bars.map((b) => b.length), valueFormatter: (_, { dataIndex }) => show(bars[dataIndex]?.amount) }]}
        onItemClick={onPick && ((_, item) => bars[item.dataIndex] && onPick(bars[item.dataIndex]!))}
        sx={{ '& .MuiBarElement-root': { cursor: onPick ? 'pointer' : 'default' } }}
      />
    </div>
  );
}
