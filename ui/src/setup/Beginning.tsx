import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { under } from '../api/at';
import { api, data, Problem, type Notice } from '../api/client';
import type { components } from '../api/schema';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { useEditing } from '../papers/editing/Editing';
import { Form } from '../papers/editing/form';
import { usePosted } from '../papers/editing/posted';
import { Told } from '../papers/editing/Told';
import { useCommand } from '../papers/editing/useForm';
import { FileField } from '../parts/FileField';
import { usePrimary } from '../parts/keys';
import { Failure, Key } from '../parts/Layout';
import { Leads } from '../parts/may';
import { Notices, toNotices } from '../parts/Notices';
import { RecordDialog } from '../parts/RecordDialog';
import { showDay } from '../parts/show';
import { useAbroad } from '../parts/currencies';
import { UnderstoodField } from '../parts/UnderstoodField';
import { Choice } from '../papers/editing/fields';
import { Text } from './recordFields';

type Row = components['schemas']['OpeningRow'];
type Of = 'items' | 'contracts' | 'goods' | 'on-the-way' | 'trial';

const sections: Record<Of, { title: string; about: string; columns: string[]; figures: number[]; abroad?: string[] }> = {
  items: {
    title: 'Open items',
    about:
      'Invoices, credits, deposits, what is kept back, money not identified, what was billed in advance, costs that wait, supplier bills and prepayments: each with its own number and date.',
    columns: ['What', 'Number', 'Day', 'Due', 'Name', 'Job', 'Amount', 'Tax inside', 'Tax code', 'Text'],
    figures: [6, 7, 11],
    abroad: ['Currency', 'Worth'],
  },
  contracts: {
    title: 'Contracts under way',
    about:
      'Orders line by line, with what was billed of each; what was claimed of a job whose contract sum stands at the job; what was kept back and is released. Nothing of it is posted: it says what is left.',
    columns: ['What', 'Number', 'Name', 'Job', 'Amount', 'Billed before', 'Tax code', 'Text'],
    figures: [4, 5, 9],
    abroad: ['Currency', 'Rate'],
  },
  goods: {
    title: 'Stock',
    about: 'What lay in stock, with what it was worth, and its numbers where pieces bear them.',
    columns: ['Article', 'Quantity', 'Value', 'Numbers'],
    figures: [1, 2],
  },
  'on-the-way': {
    title: 'Not at the bank yet',
    about:
      'Cheques that nobody presented, and money on the way: they wait for the bank. What the trial balance says of the account is with them.',
    columns: ['Account', 'Day', 'Reference', 'Text', 'Paid in', 'Paid out'],
    figures: [4, 5, 6],
    abroad: ['Worth'],
  },
  trial: {
    title: 'Trial balance',
    about:
      'Every account. Those that a register keeps are compared with the items; the others are brought over. Opening balances come out at nil.',
    columns: ['Account', 'Debit', 'Credit'],
    figures: [1, 2, 3],
    abroad: ['In its currency'],
  },
};

/** The columns of a section: of a firm with other currencies, what is said of those as well. */
function useColumnsOf(of: Of): string[] {
  const abroad = useAbroad();
  return [...sections[of].columns, ...(abroad ? (sections[of].abroad ?? []) : [])];
}

/** How a firm begins with what stands in its old books; undone as a whole while nothing stands on it. */
export function Beginning() {
  const opened = useQuery({ queryKey: ['opening'], queryFn: () => data(api.GET('/api/v1/openings')) });
  if (opened.isError && !opened.data) return <Failure error={opened.error} />;
  if (!opened.data) return null;
  return opened.data.day ? <Begun day={opened.data.day} papers={opened.data.papers} /> : <Begin what={opened.data.what} />;
}

type Body = { day: string } & Record<Of, Row[]>;

const none: Body = { day: '', items: [], contracts: [], goods: [], 'on-the-way': [], trial: [] };
const all = Object.keys(sections) as Of[];

/** What a row may be, by section. */
type What = Record<string, string[]>;

function Begin({ what }: { what: What }) {
  const say = useSnackbar();
  const posted = usePosted();
  const client = useQueryClient();
  const [form] = useState(() => new Form<Body>(none));
  const [now, setNow] = useState(form.body);
  const change = (part: Partial<Body>) => {
    form.change(() => part);
    setNow(form.body);
  };
  const command = useCommand({
    form,
    path: '/api/v1/openings',
    body: (b) =>
      b.day === '' || all.every((of) => b[of].length === 0)
        ? null
        : {
            day: b.day,
            items: b.items.map((r) => r.item),
            contracts: b.contracts.map((r) => r.contract),
            goods: b.goods.map((r) => r.goods),
            onTheWay: b['on-the-way'].map((r) => r.onTheWay),
            trial: b.trial.map((r) => r.trial),
          },
    done: () => {
      say('The firm has begun.');
      posted();
      void client.invalidateQueries();
    },
    refused: () => undefined,
  });
  const wrong = all.some((of) => now[of].some((r) => r.refusals.length > 0));
  const act = () => void command.act();
  usePrimary(wrong ? undefined : act);
  return (
    <>
      <Typography>
        Say through which day the old books went, and read what was open on it. Customers, suppliers, jobs and articles are read
        first, under Import. All of it is posted in one step, or none.
      </Typography>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <UnderstoodField
          kind="day"
          label="Last day of the old books"
          field="day"
          value={now.day}
          onChange={(day) => change({ day })}
          width={200}
        />
        <Leads to="/setup/import">Import</Leads>
        <span style={{ flex: 1 }} />
        <Button variant="contained" onClick={act} disabled={wrong || now.day === ''}>
          {command.confirming ? 'Begin all the same' : 'Begin with this'} <Key>Ctrl ↵</Key>
        </Button>
      </div>
      <Told text={command.told} />
      {all.map((of) => (
        <Section key={of} of={of} what={what[of]} rows={now[of]} onRows={(rows) => change({ [of]: rows })} />
      ))}
      <EffectView
        command={command}
        hint="What the opening does is shown here before it is posted: each register against opening balances, which the trial balance brings to nil."
      />
    </>
  );
}

const Head = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', '& h2': { flex: 1 } });

function Section({ of, what, rows, onRows }: { of: Of; what?: string[]; rows: Row[]; onRows: (rows: Row[]) => void }) {
  const { title, about, figures } = sections[of];
  const columns = useColumnsOf(of);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const [adding, setAdding] = useState(false);
  const read = async (file: File) => {
    try {
      const body = (await file.text()) as unknown as never;
      const found = await data(
        api.POST('/api/v1/openings/{of}', {
          params: { path: { of } },
          body,
          bodySerializer: (b: unknown) => b as string,
          headers: { 'Content-Type': 'text/csv' },
        }),
      );
      setRefusals([]);
      onRows(found.rows);
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  return (
    <section aria-label={title}>
      <Head>
        <Typography variant="h2">
          {title} {rows.length > 0 && `(${rows.length})`}
        </Typography>
        <Button component="a" href={under(`/api/v1/openings/${of}/template`)} download>
          Template
        </Button>
        <Button onClick={() => setAdding(true)}>Add a row</Button>
        {rows.length > 0 && <Button onClick={() => onRows([])}>Empty it</Button>}
        <FileField accept=".csv,text/csv" onFile={(f) => void read(f)}>
          Read a file
        </FileField>
      </Head>
      <Typography variant="body2" color="textSecondary">
        {about}
      </Typography>
      <Notices refusals={refusals} />
      {rows.length > 0 && (
        <div style={{ overflowX: 'auto' }}>
          <Table aria-label={title}>
            <TableHead>
              <TableRow>
                {columns.map((c, n) => (
                  <TableCell key={c} align={figures.includes(n) ? 'right' : 'left'}>
                    {c}
                  </TableCell>
                ))}
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((r, at) => (
                <TableRow key={at}>
                  {columns.map((c, n) => (
                    <TableCell
                      key={c}
                      align={figures.includes(n) ? 'right' : 'left'}
                      sx={{ whiteSpace: c === 'Name' || c === 'Text' ? 'normal' : 'nowrap' }}
                    >
                      {r.cells[n]}
                    </TableCell>
                  ))}
                  <TableCell align="right">
                    {r.refusals.length > 0 && (
                      <Typography color="error" variant="body2" role="alert">
                        {r.refusals.map((x) => x.text).join(' ')}
                      </Typography>
                    )}
                    <Button
                      size="small"
                      aria-label={`Take away row ${at + 1} of ${title}`}
                      onClick={() => onRows(rows.filter((_, n) => n !== at))}
                    >
                      Take away
                    </Button>
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </div>
      )}
      {adding && (
        <AddRow
          of={of}
          what={what}
          onClose={() => setAdding(false)}
          onRow={(r) => {
            onRows([...rows, r]);
            setAdding(false);
          }}
        />
      )}
    </section>
  );
}

const quoted = (s: string) => `"${s.replaceAll('"', '""')}"`;

/** A row by hand: understood as one of a file is. */
function AddRow({ of, what, onClose, onRow }: { of: Of; what?: string[]; onClose: () => void; onRow: (r: Row) => void }) {
  const { title } = sections[of];
  const columns = useColumnsOf(of);
  return (
    <RecordDialog<Record<string, string>>
      title={`${title}: one more`}
      initial={Object.fromEntries(columns.map((c) => [c, c === 'What' ? (what?.[0] ?? '') : '']))}
      saveLabel="Add"
      onClose={onClose}
      onSave={async (b) => {
        const csv = `${columns.join(',')}\n${columns.map((c) => quoted(b[c] ?? '')).join(',')}\n`;
        const found = await data(
          api.POST('/api/v1/openings/{of}', {
            params: { path: { of } },
            body: csv as unknown as never,
            bodySerializer: (x: unknown) => x as string,
            headers: { 'Content-Type': 'text/csv' },
          }),
        );
        const row = found.rows[0];
        if (!row) throw new Problem(422, 'refused', 'Fill in a field.', []);
        if (row.refusals.length > 0) throw new Problem(422, 'refused', row.refusals[0]!.text, row.refusals);
        onRow(row);
      }}
    >
      <RowFields of={of} what={what} />
    </RecordDialog>
  );
}

function RowFields({ of, what }: { of: Of; what?: string[] }) {
  const { body, change, refused } = useEditing<Record<string, string>>();
  return useColumnsOf(of).map((c, n) => {
    const field = { label: c, field: c, onChange: (v: string) => change({ [c]: v }), error: refused(c) || undefined };
    if (c === 'What' && what)
      return <Choice key={c} {...field} value={body[c] ?? ''} options={what.map((w) => ({ value: w, name: w }))} />;
    return <Text key={c} {...field} value={body[c]} autoFocus={n === (what ? 1 : 0)} />;
  });
}

/** The firm has begun: what it began with, and how that is undone. */
function Begun({ day, papers }: { day: string; papers: number }) {
  const say = useSnackbar();
  const posted = usePosted();
  const client = useQueryClient();
  const [form] = useState(() => new Form({ reason: '' }));
  const [reason, setReason] = useState('');
  const [undoing, setUndoing] = useState(false);
  const command = useCommand({
    form,
    path: '/api/v1/openings/undo',
    body: (b) => (undoing ? b : null),
    done: () => {
      say('The opening is undone.');
      posted();
      void client.invalidateQueries();
    },
    refused: () => undefined,
  });
  return (
    <>
      <Typography>
        The firm began with what stood in its old books on {showDay(day)}: {papers} papers.
      </Typography>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <Leads to="/papers?kind=opening" variant="outlined">
          Look at them
        </Leads>
        {undoing && (
          <Text
            label="Why is it undone?"
            field="reason"
            value={reason}
            onChange={(v) => {
              setReason(v);
              form.set('reason', v);
            }}
            autoFocus
          />
        )}
        <Button variant="outlined" onClick={() => (undoing ? void command.act() : setUndoing(true))}>
          {!undoing ? 'Undo the opening' : command.confirming ? 'Undo it all the same' : 'Undo all of it'}
        </Button>
      </div>
      <Told text={command.told} />
      {undoing && <EffectView command={command} hint="It goes as a whole, on its own day, while nothing stands on it." />}
    </>
  );
}
