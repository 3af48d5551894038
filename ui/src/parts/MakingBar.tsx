import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { Failure } from './Layout';
import type { Making } from './useMaking';

/** How far the making of sheets is. */
export function MakingBar({ making: m, what }: { making: Making<unknown>; what: string }) {
  return (
    <>
      <div className="no-print" style={{ minHeight: 30 }} aria-live="polite">
        {m.now && (
          <>
            <LinearProgress variant="determinate" value={m.of ? (m.made.length / m.of) * 100 : 0} aria-label={what} />
            <Typography variant="body2" color="textSecondary">
              {m.now}
            </Typography>
          </>
        )}
      </div>
      {m.error !== null && <Failure error={m.error} />}
    </>
  );
}
