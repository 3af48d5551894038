import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { under } from '../api/at';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { showMoment } from '../outgoing/moment';
import { useEditing } from '../papers/editing/Editing';
import { Empty, Failure } from '../parts/Layout';
import { useRecord } from '../parts/record';
import { FormGrid } from '../parts/RecordDialog';
import { RecordForm } from '../parts/RecordForm';
import { Text } from './recordFields';

type Backups = components['schemas']['Backups'];
interface Plan {
  everyHours: string;
  keepCount: string;
  keepDays: string;
}

const size = (bytes: number) =>
  bytes < 1 << 20 ? `${Math.ceil(bytes / 1024)} kB` : `${(bytes / (1 << 20)).toFixed(bytes < 100 << 20 ? 1 : 0)} MB`;

/** Backups that are kept, and all of the books to take along. */
export function Safety() {
  const backups = useQuery({ queryKey: ['backups'], queryFn: () => data(api.GET('/api/v1/backups')) });
  const [busy, setBusy] = useState(false);
  const [failed, setFailed] = useState('');
  const client = useQueryClient();
  const say = useSnackbar();
  if (backups.isError && !backups.data) return <Failure error={backups.error} />;
  const b = backups.data;
  if (!b) return null;
  const now = async () => {
    setBusy(true);
    setFailed('');
    try {
      const made = await data(api.POST('/api/v1/backups', {}));
      say(`Backed up as ${made.name}, opened and checked.`);
    } catch (e) {
      setFailed(e instanceof Error ? e.message : 'That did not work.');
    } finally {
      setBusy(false);
      await client.invalidateQueries();
    }
  };
  return (
    <div style={{ display: 'grid', gap: 22 }}>
      <section aria-label="Backups">
        <div style={{ display: 'flex', alignItems: 'center', gap: 12 }}>
          <Typography variant="h2" sx={{ flex: 1 }}>
            Backups
          </Typography>
          <Button variant="contained" onClick={() => void now()} disabled={busy}>
            {busy ? 'Backing up…' : 'Back up now'}
          </Button>
        </div>
        <Typography color="textSecondary">
          Kept at {b.at}, on the machine that runs the program; {size(b.free)} are free there. Each is opened and checked before
          it counts.
        </Typography>
        {(failed || b.missing) && (
          <Typography color="error" role="alert">
            {failed || b.missing}
          </Typography>
        )}
        <PlanForm key={JSON.stringify(b.plan)} plan={b.plan} />
        <Kept backups={b} />
      </section>
      <section aria-label="Take all of it along">
        <Typography variant="h2">Take all of it along</Typography>
        <Typography sx={{ mb: 1 }}>
          One archive with every list, the journal, the items with their moves and what was set against what as CSV, each paper as
          PDF, and what is attached. What is where stands in it. Many papers take their time.
        </Typography>
        <Button variant="outlined" component="a" href={under('/api/v1/archive')} download>
          Archive
        </Button>
      </section>
    </div>
  );
}

function PlanForm({ plan }: { plan: Backups['plan'] }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const record = useRecord<Plan>(
    { everyHours: String(plan.everyHours), keepCount: String(plan.keepCount), keepDays: String(plan.keepDays) },
    async (p) => {
      const body = {
        everyHours: Number(p.everyHours) || 0,
        keepCount: Number(p.keepCount) || 0,
        keepDays: Number(p.keepDays) || 0,
      };
      await data(api.PUT('/api/v1/backup-plan', { body }));
      say('Saved.');
      await client.invalidateQueries({ queryKey: ['backups'] });
    },
  );
  return (
    <RecordForm record={record}>
      <FormGrid>
        <PlanFields />
      </FormGrid>
    </RecordForm>
  );
}

function PlanFields() {
  const { body, change, refused } = useEditing<Plan>();
  return (
    <>
      <Text
        label="Every so many hours (0 for never)"
        field="everyHours"
        value={body.everyHours}
        onChange={(everyHours) => change({ everyHours })}
        error={refused('everyHours') || undefined}
      />
      <Text
        label="Always keep the newest"
        field="keepCount"
        value={body.keepCount}
        onChange={(keepCount) => change({ keepCount })}
        error={refused('keepCount') || undefined}
      />
      <Text
        label="Keep others for so many days"
        field="keepDays"
        value={body.keepDays}
        onChange={(keepDays) => change({ keepDays })}
        error={refused('keepDays') || undefined}
      />
    </>
  );
}

function Kept({ backups: b }: { backups: Backups }) {
  if (b.rows.length === 0)
    return (
      <div style={{ marginTop: 14 }}>
        <Empty>No backup was made yet. The first is made within a minute after the program starts, or now.</Empty>
      </div>
    );
  return (
    <Table aria-label="Backups">
      <TableHead>
        <TableRow>
          <TableCell>When</TableCell>
          <TableCell>File</TableCell>
          <TableCell align="right">Size</TableCell>
          <TableCell align="right">Took</TableCell>
          <TableCell>State</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {b.rows.map((r) => (
          <TableRow key={r.id}>
            <TableCell>{showMoment(r.at)}</TableCell>
            <TableCell>{r.failed ? '' : r.name}</TableCell>
            <TableCell align="right">{r.failed ? '' : size(r.bytes)}</TableCell>
            <TableCell align="right">{(r.took / 1000).toFixed(1)} s</TableCell>
            <TableCell>{r.failed ? <Typography color="error">failed: {r.failed}</Typography> : 'checked'}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
