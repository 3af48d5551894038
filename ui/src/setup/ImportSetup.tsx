import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import MenuItem from '@mui/material/MenuItem';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { under } from '../api/at';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { FileField } from '../parts/FileField';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { useMay } from '../parts/may';
import { Notices } from '../parts/Notices';
import { useImport, type Kind } from './useImport';

type Import = components['schemas']['Import'];
const kept: Kind[] = ['customers', 'jobs', 'articles'];
const setUp: Kind[] = ['accounts', 'taxcodes', 'terms', 'banks'];
const names: Record<Kind, string> = {
  customers: 'Customers',
  jobs: 'Jobs',
  articles: 'Articles',
  accounts: 'Accounts',
  taxcodes: 'Tax codes',
  terms: 'Terms',
  banks: 'Bank accounts',
};

/** Records from CSV: what each row will do, first; all rows or none. */
export function ImportSetup() {
  const [params, setParams] = useSearchParams();
  const kinds = useMay().has('unlock, set up and say who may do what') ? [...kept, ...setUp] : kept;
  const kind = kinds.find((k) => k === params.get('kind')) ?? 'customers';
  const [csv, setCSV] = useState('');
  const [file, setFile] = useState('');
  const [shown, setShown] = useState<Import | null>(null);
  const { progress, refusals, next, send, stop } = useImport();
  const client = useQueryClient();
  const say = useSnackbar();
  const columns = useQuery({
    queryKey: ['import', kind],
    queryFn: () =>
      data(api.POST('/api/v1/import/{kind}', { params: { path: { kind }, query: { preview: true } }, body: { csv: '' } })),
  }).data;
  const preview = async (text: string, of: Kind) => {
    setShown(null);
    setShown(await send(of, text, true));
  };
  const read = async (f: File) => {
    const text = await f.text();
    setFile(f.name);
    setCSV(text);
    await preview(text, kind);
  };
  const ready = shown !== null && shown.rows.length > 0 && shown.refused === 0 && !shown.done && !progress;
  const run = async (from = 0) => {
    const done = await send(kind, csv, false, from);
    if (done) say(`Imported ${done.rows.length} rows.`);
    setShown(done);
    await client.invalidateQueries();
  };
  usePrimary(ready ? () => void run() : undefined);
  return (
    <>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <TextField
          select
          label="What"
          value={kind}
          onChange={(e) => {
            setParams({ kind: e.target.value }, { replace: true });
            if (csv) void preview(csv, e.target.value as Kind);
          }}
          style={{ width: 180 }}
        >
          {kinds.map((k) => (
            <MenuItem key={k} value={k}>
              {names[k]}
            </MenuItem>
          ))}
        </TextField>
        <FileField accept=".csv,text/csv" onFile={(f) => void read(f)}>
          Choose a CSV file, or drop it here
        </FileField>
        <Button href={under(`/api/v1/records/${kind}/file?format=csv`)} download>
          What is there, as CSV
        </Button>
        <span style={{ flex: 1 }} />
        <Button variant="contained" disabled={!ready} onClick={() => void run()}>
          Import <Key>Ctrl ↵</Key>
        </Button>
      </div>
      {columns && (
        <Typography variant="body2" color="textSecondary">
          The first row names the columns. It must have: {columns.must.join(', ')}. It may have: {columns.may.join(', ')}. A row
          whose number or code is known changes that record; the others are new. When one row is wrong, nothing is imported.
        </Typography>
      )}
      <div style={{ display: 'flex', gap: 10, alignItems: 'center', minHeight: 36 }} aria-live="polite">
        {progress && (
          <>
            <LinearProgress
              variant="determinate"
              value={progress.of ? (progress.rows / progress.of) * 100 : 0}
              aria-label="Rows of the file"
              style={{ flex: 1 }}
            />
            <Typography variant="body2">
              {progress.doing} {progress.rows} of {progress.of} rows
            </Typography>
            <Button onClick={stop}>Stop</Button>
          </>
        )}
      </div>
      <Notices refusals={refusals} />
      {next > 0 && (
        <Button variant="outlined" style={{ alignSelf: 'start' }} onClick={() => void run(next)}>
          Import the rest, from row {next}
        </Button>
      )}
      {shown && shown.rows.length > 0 && (
        <>
          <Typography role="status">
            {file}: {shown.creates} new, {shown.updates} changed, {shown.refused} refused{shown.done ? ' – imported' : ''}
          </Typography>
          <Table aria-label="What each row does">
            <TableHead>
              <TableRow>
                <TableCell>Row</TableCell>
                <TableCell>Record</TableCell>
                <TableCell>What it does</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {shown.rows.slice(0, 500).map((r) => (
                <TableRow key={r.row}>
                  <TableCell>{r.row}</TableCell>
                  <TableCell>{r.name}</TableCell>
                  <TableCell sx={r.refusals.length ? { color: 'error.main' } : undefined}>
                    {r.refusals.length
                      ? `refused: ${r.refusals.map((n) => n.text).join(' ')}`
                      : r.does === 'create'
                        ? 'is new'
                        : 'changes what is there'}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </>
      )}
    </>
  );
}
