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
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { Figure, Text } from '../papers/editing/fields';
import { useValue } from '../papers/editing/useForm';
import { Amount } from '../parts/Amount';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { Notices } from '../parts/Notices';
import { RecordPlace, useRecord } from '../parts/record';
import { useToday } from '../parts/records';
import { showDay } from '../parts/show';
import { useActing } from './useActing';

type Typed = components['schemas']['TypedStatement'];

/** What was read of an account: to look at, to take away what was read by mistake, or to type where there is no file. */
export function Statements({ bank }: { bank: number }) {
  const [open, setOpen] = useState<'' | 'read' | 'type'>('');
  return (
    <>
      <Button onClick={() => setOpen('read')}>Statements</Button>
      {open === 'read' && <Read bank={bank} onType={() => setOpen('type')} onClose={() => setOpen('')} />}
      {open === 'type' && <Type bank={bank} onClose={() => setOpen('')} />}
    </>
  );
}

function Read({ bank, onType, onClose }: { bank: number; onType: () => void; onClose: () => void }) {
  const today = useToday();
  const { refusals, act } = useActing();
  const rows = useQuery({
    queryKey: ['bank', bank, 'statements'],
    queryFn: () => data(api.GET('/api/v1/banks/{id}/statements', { params: { path: { id: bank } } })),
  }).data?.rows;
  const drop = (id: number) =>
    act(() => data(api.DELETE('/api/v1/bank-statements/{id}', { params: { path: { id } } })), 'Taken away.');
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="statements">
      <DialogTitle id="statements">Statements that were read</DialogTitle>
      <DialogContent>
        <Notices refusals={refusals} />
        {rows?.length === 0 && <p>None yet.</p>}
        {!!rows?.length && (
          <Table size="small" aria-label="Statements that were read">
            <TableHead>
              <TableRow>
                <TableCell>From</TableCell>
                <TableCell>Through</TableCell>
                <TableCell>File</TableCell>
                <TableCell align="right">New lines</TableCell>
                <TableCell align="right">Ends with</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((s) => (
                <TableRow key={s.id}>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(s.from, today)}</TableCell>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(s.through, today)}</TableCell>
                  <TableCell>{s.name}</TableCell>
                  <TableCell align="right">{s.lines}</TableCell>
                  <TableCell align="right">{s.closing && <Amount value={s.closing} />}</TableCell>
                  <TableCell align="right">
                    <Button
                      size="small"
                      onClick={() => void drop(s.id)}
                      aria-label={`Take away ${s.name} through ${showDay(s.through, today)}`}
                    >
                      Take away
                    </Button>
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
      </DialogContent>
      <DialogActions sx={{ padding: '4px 24px 18px' }}>
        <Button onClick={onClose}>Close</Button>
        <Button variant="outlined" onClick={onType}>
          Type lines
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Type({ bank, onClose }: { bank: number; onClose: () => void }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const today = useToday();
  const fresh = { day: today, amount: '', text: '', name: '' };
  const record = useRecord<Typed>({ closing: '', lines: [fresh] }, async (b) => {
    const lines = (b.lines ?? []).filter((l, n) => n === 0 || l.amount || l.text || l.name);
    const r = await data(api.POST('/api/v1/banks/{id}/typed', { params: { path: { id: bank } }, body: { ...b, lines } }));
    say(r.new === 0 ? 'That is there already.' : r.new === 1 ? 'A line was taken.' : `${r.new} lines were taken.`);
    onClose();
    await client.invalidateQueries();
  });
  usePrimary(() => void record.submit());
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="typed">
      <DialogTitle id="typed">What does the bank say?</DialogTitle>
      <DialogContent>
        <RecordPlace record={record}>
          <Lines record={record} fresh={fresh} />
        </RecordPlace>
        <Notices refusals={record.refusals} />
      </DialogContent>
      <DialogActions sx={{ padding: '4px 24px 18px' }}>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={record.busy} onClick={() => void record.submit()}>
          Take them <Key>Ctrl ↵</Key>
        </Button>
      </DialogActions>
    </Dialog>
  );
}

type Fresh = NonNullable<Typed['lines']>[number];

function Lines({ record, fresh }: { record: ReturnType<typeof useRecord<Typed>>; fresh: Fresh }) {
  const lines = useValue(record.form, (b) => b.lines) ?? [];
  return (
    <>
      {lines.map((_, n) => (
        <div key={n} style={{ display: 'flex', gap: 10, marginTop: 8 }}>
          <Figure kind="day" label="Date" name={`lines[${n}].day`} width={130} />
          <Figure kind="amount" label="Amount (− for what went)" name={`lines[${n}].amount`} width={200} />
          <div style={{ flex: 1 }}>
            <Text label="Other side" name={`lines[${n}].name`} />
          </div>
          <div style={{ flex: 1 }}>
            <Text label="Text" name={`lines[${n}].text`} />
          </div>
        </div>
      ))}
      <div style={{ display: 'flex', gap: 10, marginTop: 12, alignItems: 'center' }}>
        <Button
          onClick={() =>
            record.form.change((now) => {
              const all = now.lines ?? [];
              return { lines: [...all, { ...fresh, day: all[all.length - 1]?.day || fresh.day }] };
            })
          }
        >
          One more line
        </Button>
        <Figure kind="amount" label="The account ends with" name="closing" width={170} />
      </div>
    </>
  );
}
