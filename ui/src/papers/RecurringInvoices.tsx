import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { Leads } from '../parts/may';
import { api, data, readAt, type Recurring } from '../api/client';
import { useSnackbar } from '../app/messages';
import { Amount } from '../parts/Amount';
import { Empty, Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { RecordDialog } from '../parts/RecordDialog';
import { paperQuery } from '../parts/records';
import { show, showDay } from '../parts/show';
import { Chosen, Figure, Text } from './editing/fields';

const units = [
  { value: 'week', name: 'weeks' },
  { value: 'month', name: 'months' },
  { value: 'year', name: 'years' },
];

const often = (r: Recurring) => (r.every === 1 ? `every ${r.unit}` : `every ${r.every} ${r.unit}s`);

/** Invoices that recur: drafts are made of them by themselves, which someone posts; and what comes of them. */
export default function RecurringInvoices() {
  const [params, setParams] = useSearchParams();
  const [written, setWritten] = useState<Recurring | null>(null);
  const go = useNavigate();
  const say = useSnackbar();
  const client = useQueryClient();
  const all = useQuery({ queryKey: ['recurring'], queryFn: () => data(api.GET('/api/v1/recurring')) }).data;
  const paper = Number(params.get('paper')) || 0;
  const close = () => {
    setWritten(null);
    if (paper) setParams({}, { replace: true });
  };
  const save = async (r: Recurring) => {
    if (r.id) await api.PUT('/api/v1/recurring/{id}', { params: { path: { id: r.id }, header: readAt(r.version) }, body: r });
    else await api.POST('/api/v1/recurring', { body: r });
    await client.invalidateQueries();
  };
  const kept = async (r: Recurring) => {
    await save(r);
    say(`${r.name} recurs ${often(r)}.`);
    close();
  };
  const end = async (r: Recurring) => {
    await api.DELETE('/api/v1/recurring/{id}', { params: { path: { id: r.id ?? 0 } } });
    say(`${r.name} does not recur any more.`);
    await client.invalidateQueries();
  };
  return (
    <Page>
      <PageHead title="Invoices that recur">
        <Leads variant="outlined" to="/papers?state=draft">
          The drafts
        </Leads>
      </PageHead>
      {all && all.rows.length === 0 ? (
        <Empty action="Choose an invoice" onAction={() => go('/papers?kind=invoice')}>
          Here will be what you bill again and again. Open an invoice that was posted, and let it recur: a draft is made of it on
          each of its days.
        </Empty>
      ) : (
        <Table aria-label="Invoices that recur" sx={{ '& td:not(:first-of-type), & th': { whiteSpace: 'nowrap' } }}>
          <TableHead>
            <TableRow>
              <TableCell>Name</TableCell>
              <TableCell>Customer</TableCell>
              <TableCell>Recurs</TableCell>
              <TableCell>Next</TableCell>
              <TableCell align="right">Made</TableCell>
              <TableCell align="right">Total</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {(all?.rows ?? []).map((r) => (
              <TableRow key={r.id}>
                <TableCell>
                  <Button size="small" sx={{ px: 0, textAlign: 'left' }} onClick={() => setWritten(r)}>
                    {r.name}
                  </Button>
                </TableCell>
                <TableCell>
                  <Link to={`/customers/${r.partyId}`}>{r.customer}</Link>
                </TableCell>
                <TableCell>{r.state === 'recurs' ? often(r) : r.state}</TableCell>
                <TableCell>{r.state === 'recurs' ? showDay(r.next ?? '') : ''}</TableCell>
                <TableCell align="right">{r.made ?? 0}</TableCell>
                <TableCell align="right">
                  <Amount value={r.total} code={r.currency} />
                </TableCell>
                <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
                  {r.state !== 'ended' && (
                    <Button
                      size="small"
                      aria-label={`${r.paused ? 'Go on' : 'Pause'}: ${r.name}`}
                      onClick={() => void save({ ...r, paused: !r.paused })}
                    >
                      {r.paused ? 'Go on' : 'Pause'}
                    </Button>
                  )}
                  <Button size="small" aria-label={`End: ${r.name}`} onClick={() => void end(r)}>
                    End
                  </Button>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {(all?.coming ?? []).length > 0 && (
        <>
          <Typography variant="h2" sx={{ mt: 4, mb: 1 }}>
            What comes
          </Typography>
          <Table aria-label="What comes">
            <TableBody>
              {all!.coming.flatMap((m) => [
                <TableRow key={m.month}>
                  <TableCell colSpan={3}>
                    <b>{showDay(m.month).slice(2)}</b>
                  </TableCell>
                  <TableCell align="right">
                    <b>{show(m.total)}</b>
                  </TableCell>
                </TableRow>,
                ...m.rows.map((c) => (
                  <TableRow key={`${c.id} ${c.day}`}>
                    <TableCell>{showDay(c.day)}</TableCell>
                    <TableCell>{c.name}</TableCell>
                    <TableCell>{c.customer}</TableCell>
                    <TableCell align="right">
                      <Amount value={c.total} code={c.currency} />
                    </TableCell>
                  </TableRow>
                )),
              ])}
            </TableBody>
          </Table>
        </>
      )}
      <Margin>
        <ListNote title="Invoices that recur">
          On each of its days a draft is made, also of days on which the program did not run. Nothing is posted by itself.
        </ListNote>
      </Margin>
      {written && <Written r={written} onClose={close} onSave={kept} />}
      {paper > 0 && !written && <OfPaper paper={paper} onClose={close} onSave={kept} />}
    </Page>
  );
}

interface WrittenProps {
  r: Recurring;
  onClose: () => void;
  onSave: (r: Recurring) => Promise<unknown>;
}

/** As it is typed. */
type Typed = Omit<Recurring, 'every'> & { every: string };

function Written({ r, onClose, onSave }: WrittenProps) {
  return (
    <RecordDialog<Typed>
      title={r.id ? r.name : 'Let it recur'}
      initial={{ ...r, every: String(r.every) }}
      onClose={onClose}
      onSave={(b) => onSave({ ...b, every: Number(b.every) })}
    >
      <div className="wide">
        <Text label="What it is called" name="name" autoFocus fullWidth />
      </div>
      <Figure kind="quantity" label="Every" name="every" />
      <Chosen label="Weeks, months or years" name="unit" options={units} />
      <Figure kind="day" label={r.id ? 'First on' : 'First on (empty: one time after the invoice)'} name="first" />
      <Figure kind="day" label="Last on, if it ends" name="until" />
      <Typography variant="body2" color="textSecondary" className="wide">
        Its day of the month holds for all; where a month has no such day, its last one stands for it.
      </Typography>
    </RecordDialog>
  );
}

/** Lets a posted invoice recur. */
function OfPaper({ paper, ...rest }: { paper: number; onClose: () => void; onSave: (r: Recurring) => Promise<unknown> }) {
  const { data: p } = useQuery(paperQuery(paper));
  if (!p) return null;
  return <Written r={{ name: p.title, paper, every: 1, unit: 'month', first: '' }} {...rest} />;
}
