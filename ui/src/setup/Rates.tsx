import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data, type Notice, type Rate } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { Choice, Figure } from '../papers/editing/fields';
import { FileField } from '../parts/FileField';
import { NotRead } from '../parts/NotRead';
import { toNotices } from '../parts/Notices';
import { RecordDialog } from '../parts/RecordDialog';
import { useFirm, useToday } from '../parts/records';
import { show, showDay } from '../parts/show';

type Read = components['schemas']['RatesRead'];

const send = (file: File, preview: boolean) =>
  data(
    api.POST('/api/v1/rates', {
      params: { query: { name: file.name, preview } },
      body: file as unknown as string,
      bodySerializer: (b: unknown) => b as string,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );

/** What a currency was worth, day by day: by hand, or read from a file that is shown first. */
export function Rates({ codes }: { codes: string[] }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const own = useFirm().data?.currency ?? '';
  const today = useToday();
  const [code, setCode] = useState('');
  const [before, setBefore] = useState<string[]>([]);
  const [written, setWritten] = useState<Rate | null>(null);
  const [file, setFile] = useState<{ file: File; read: Read } | null>(null);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const of = codes.includes(code) ? code : codes[0]!;
  const rows = useQuery({
    queryKey: ['rates', of, before.at(-1)],
    queryFn: () => data(api.GET('/api/v1/rates', { params: { query: { currency: of, before: before.at(-1) } } })),
  }).data?.rows;
  const look = async (f: File) => {
    try {
      setRefusals([]);
      setFile({ file: f, read: await send(f, true) });
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  const take = async () => {
    try {
      const r = await send(file!.file, false);
      say(`${r.new} new rates were taken${r.changed ? `, ${r.changed} changed` : ''}.`);
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
    setFile(null);
  };
  return (
    <section aria-labelledby="rates" style={{ marginTop: 28 }}>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center', marginBottom: 8 }}>
        <Typography variant="h2" id="rates" sx={{ flex: 1 }}>
          Rates
        </Typography>
        <Choice
          label="Currency"
          field="of"
          width={110}
          value={of}
          options={codes.map((c) => ({ value: c, name: c }))}
          onChange={(c) => {
            setCode(c);
            setBefore([]);
          }}
        />
        <FileField accept=".csv,.txt,.xml" onFile={(f) => void look(f)}>
          Read a file
        </FileField>
        <Button variant="contained" onClick={() => setWritten({ currency: of, day: today, rate: '' })}>
          Say a rate
        </Button>
      </div>
      {rows?.length === 0 && (
        <Typography color="textSecondary">
          There is no rate of {of} yet. Say one, or read a file: a table with currency, date and rate, or the reference rates of
          the European Central Bank.
        </Typography>
      )}
      {!!rows?.length && (
        <Table aria-label={`Rates of ${of}`} sx={{ maxWidth: 560 }}>
          <TableHead>
            <TableRow>
              <TableCell>Date</TableCell>
              <TableCell align="right">
                1 {of} in {own}
              </TableCell>
              <TableCell>Where it comes from</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.slice(0, shown).map((r) => (
              <TableRow key={r.day}>
                <TableCell>{showDay(r.day)}</TableCell>
                <TableCell align="right" className="figure">
                  {show(r.rate)}
                </TableCell>
                <TableCell>{r.source || 'by hand'}</TableCell>
                <TableCell align="right">
                  <Button size="small" onClick={() => setWritten(r)} aria-label={`Change the rate of ${showDay(r.day)}`}>
                    Change
                  </Button>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <div style={{ display: 'flex', gap: 10, marginTop: 8 }}>
        {before.length > 0 && <Button onClick={() => setBefore((b) => b.slice(0, -1))}>Later ones</Button>}
        {(rows?.length ?? 0) > shown && (
          <Button onClick={() => setBefore((b) => [...b, rows![shown - 1]!.day])}>Earlier ones</Button>
        )}
      </div>
      {written && (
        <RecordDialog<Rate>
          title={`What is one ${written.currency} worth in ${own}?`}
          initial={{ currency: written.currency, day: written.day, rate: written.rate }}
          onClose={() => setWritten(null)}
          onSave={async (body) => {
            await api.PUT('/api/v1/rates', { body });
            await client.invalidateQueries();
            setWritten(null);
          }}
        >
          <Figure kind="day" label="Date" name="day" disabled={!!written.rate} />
          <Figure kind="rate" label={`Rate: 1 ${written.currency} in ${own}`} name="rate" autoFocus />
          <Typography variant="body2" color="textSecondary" className="wide">
            A sum is understood: 1/1.085 where the rate is told the other way round.
            {written.rate ? ' Left empty, the rate of that day is taken away. What was posted with it stays as it is.' : ''}
          </Typography>
        </RecordDialog>
      )}
      {file && <Look read={file.read} name={file.file.name} own={own} onTake={take} onClose={() => setFile(null)} />}
      <NotRead refusals={refusals} onClose={() => setRefusals([])} />
    </section>
  );
}

const shown = 15;

interface LookProps {
  read: Read;
  name: string;
  own: string;
  onTake: () => Promise<void>;
  onClose: () => void;
}

/** What a file of rates would bring, before anything is written. */
function Look({ read, name, own, onTake, onClose }: LookProps) {
  const nothing = read.new + read.changed === 0;
  const facts = [
    [`${read.new}`, 'new'],
    [`${read.changed}`, 'in place of others'],
    [`${read.same}`, 'known already'],
    [`${read.leftOut}`, 'of currencies that are not in use, left out'],
  ].filter(([n], i) => i === 0 || n !== '0');
  return (
    <Dialog open onClose={onClose} aria-labelledby="rates-read" maxWidth="sm" fullWidth>
      <DialogTitle id="rates-read">Rates of {name}</DialogTitle>
      <DialogContent>
        <Typography>{facts.map(([n, what]) => `${n} ${what}`).join(', ')}.</Typography>
        {!!read.from && (
          <Typography color="textSecondary">
            From {showDay(read.from)} through {showDay(read.through)}.
          </Typography>
        )}
        {read.newest.length > 0 && (
          <Table aria-label="The newest of each" sx={{ mt: 1 }}>
            <TableHead>
              <TableRow>
                <TableCell>Currency</TableCell>
                <TableCell>Date</TableCell>
                <TableCell align="right">One of it in {own}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {read.newest.map((r) => (
                <TableRow key={r.currency}>
                  <TableCell>{r.currency}</TableCell>
                  <TableCell>{showDay(r.day)}</TableCell>
                  <TableCell align="right" className="figure">
                    {show(r.rate)}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
      </DialogContent>
      <DialogActions sx={{ padding: '4px 24px 18px' }}>
        <Button onClick={onClose}>{nothing ? 'Close' : 'Cancel'}</Button>
        {!nothing && (
          <Button variant="contained" autoFocus onClick={() => void onTake()}>
            Take them
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
