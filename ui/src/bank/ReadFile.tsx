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
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data, type Notice } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { Check, Chosen } from '../papers/editing/fields';
import { FileField } from '../parts/FileField';
import { NotRead } from '../parts/NotRead';
import { Notices, toNotices } from '../parts/Notices';
import { RecordPlace, useRecord } from '../parts/record';
import { FormGrid } from '../parts/RecordDialog';

type Columns = components['schemas']['BankColumns'];
type Mapping = components['schemas']['Mapping'];

const raw = { bodySerializer: (b: unknown) => b as string, headers: { 'Content-Type': 'application/octet-stream' } };

interface ReadProps {
  bank: number;
  /** Whether the bank can be asked for them. */
  fetches: boolean;
}

/** Reads a file of the bank's; of a CSV one says first which column is what. What the bank answers is fetched. */
export function ReadFile({ bank, fetches }: ReadProps) {
  const client = useQueryClient();
  const say = useSnackbar();
  const [asked, setAsked] = useState<{ file: File; columns: Columns } | null>(null);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const read = async (file: File, mapping?: Mapping) => {
    const r = await data(
      api.POST('/api/v1/banks/{id}/statements', {
        params: { path: { id: bank }, query: { name: file.name, mapping: mapping && JSON.stringify(mapping) } },
        body: file as unknown as string,
        ...raw,
      }),
    );
    setAsked(null);
    setRefusals([]);
    say(r.new === r.read ? `${r.new} lines were read.` : `${r.new} of ${r.read} lines were new.`);
    await client.invalidateQueries();
  };
  const take = async (file: File) => {
    try {
      const columns = await data(
        api.POST('/api/v1/banks/{id}/columns', { params: { path: { id: bank } }, body: file as unknown as string, ...raw }),
      );
      if (columns.csv) setAsked({ file, columns });
      else await read(file);
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  const fetched = async () => {
    try {
      const r = await data(api.POST('/api/v1/banks/{id}/fetched', { params: { path: { id: bank } } }));
      say(r.new === 0 ? 'The bank has nothing new.' : `${r.new} lines were fetched.`);
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  return (
    <>
      {fetches && (
        <Button variant="contained" onClick={() => void fetched()}>
          Fetch
        </Button>
      )}
      <FileField accept=".xml,.ofx,.qfx,.csv,.txt" onFile={(f) => void take(f)}>
        Read a file
      </FileField>
      <NotRead refusals={refusals} onClose={() => setRefusals([])} />
      {asked && (
        <ColumnsOf
          key={asked.file.name}
          columns={asked.columns}
          onRead={(m) => read(asked.file, m)}
          onClose={() => setAsked(null)}
        />
      )}
    </>
  );
}

interface Props {
  columns: Columns;
  onRead: (m: Mapping) => Promise<void>;
  onClose: () => void;
}

/** Which column of a CSV is what; kept for the account. */
function ColumnsOf({ columns, onRead, onClose }: Props) {
  const record = useRecord<Mapping>({ day: '', form: columns.forms[0] ?? '', ...columns.mapping }, onRead);
  const options = [{ value: '', name: '–' }, ...columns.header.map((h) => ({ value: h, name: h }))];
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="columns">
      <DialogTitle id="columns">Which column is what?</DialogTitle>
      <DialogContent>
        <RecordPlace record={record}>
          <FormGrid sx={{ mt: 1 }}>
            <Chosen name="day" label="Date" options={options} />
            <Chosen name="form" label="Dates are written" options={columns.forms.map((f) => ({ value: f, name: f }))} />
            <Chosen name="amount" label="Amount, in one column" options={options} />
            <Check name="comma" label="A comma stands before the places" />
            <Chosen name="debit" label="Or what went" options={options} />
            <Chosen name="credit" label="and what came" options={options} />
            <Chosen name="text" label="Text" options={options} />
            <Chosen name="reference" label="Reference" options={options} />
            <Chosen name="name" label="Name of the other side" options={options} />
            <Chosen name="account" label="Account of the other side" options={options} />
          </FormGrid>
          <Notices refusals={record.refusals} />
        </RecordPlace>
        <div style={{ overflowX: 'auto', marginTop: 14 }} tabIndex={0} role="region" aria-label="The first lines of the file">
          <Table size="small">
            <TableHead>
              <TableRow>
                {columns.header.map((h, n) => (
                  <TableCell key={n}>{h}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {columns.rows.map((r, n) => (
                <TableRow key={n}>
                  {r.map((c, i) => (
                    <TableCell key={i}>{c}</TableCell>
                  ))}
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </div>
      </DialogContent>
      <DialogActions sx={{ padding: '4px 24px 18px' }}>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={record.busy} onClick={() => void record.submit()}>
          Read it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
