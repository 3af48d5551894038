import Button from '@mui/material/Button';
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
import { api, data, type Notice } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { FileField } from '../parts/FileField';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { Notices, toNotices } from '../parts/Notices';

type Import = components['schemas']['Import'];
const kinds = ['customers', 'jobs', 'articles', 'accounts', 'taxcodes', 'terms', 'banks'] as const;
type Kind = (typeof kinds)[number];
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
  const kind = (kinds.find((k) => k === params.get('kind')) ?? 'customers') as Kind;
  const [csv, setCSV] = useState('');
  const [file, setFile] = useState('');
  const [shown, setShown] = useState<Import | null>(null);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const client = useQueryClient();
  const say = useSnackbar();
  const columns = useQuery({
    queryKey: ['import', kind],
    queryFn: () =>
      data(api.POST('/api/v1/import/{kind}', { params: { path: { kind }, query: { preview: true } }, body: { csv: '' } })),
  }).data;
  const preview = async (text: string, of: Kind) => {
    setShown(null);
    setRefusals([]);
    try {
      setShown(
        await data(
          api.POST('/api/v1/import/{kind}', { params: { path: { kind: of }, query: { preview: true } }, body: { csv: text } }),
        ),
      );
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  const read = async (f: File) => {
    const text = await f.text();
    setFile(f.name);
    setCSV(text);
    await preview(text, kind);
  };
  const ready = shown !== null && shown.rows.length > 0 && shown.refused === 0 && !shown.done;
  const run = async () => {
    try {
      setShown(await data(api.POST('/api/v1/import/{kind}', { params: { path: { kind } }, body: { csv } })));
      say(`Imported ${shown?.rows.length} rows.`);
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
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
        <Button href={`/api/v1/records/${kind}/file?format=csv`} download>
          What is there, as CSV
        </Button>
        <span style={{ flex: 1 }} />
        <Button variant="contained" disabled={!ready} onClick={run}>
          Import <Key>Ctrl ↵</Key>
        </Button>
      </div>
      {columns && (
        <Typography variant="body2" color="textSecondary">
          The first row names the columns. It must have: {columns.must.join(', ')}. It may have: {columns.may.join(', ')}. A row
          whose number or code is known changes that record; the others are new. When one row is wrong, nothing is imported.
        </Typography>
      )}
      <Notices refusals={refusals} />
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
