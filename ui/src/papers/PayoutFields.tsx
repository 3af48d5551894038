import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { api, data, type PayoutBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { useBanks, useToday } from '../parts/records';
import { kindName, show, showDay } from '../parts/show';
import { useEditing } from './editing/Editing';
import { Chosen, Figure, Text } from './editing/fields';
import { useAgain } from './editing/useForm';

/** Takings that wait: those that are ticked are what the gateway paid out. */
export default function PayoutFields() {
  const { body, change, effect } = useEditing<PayoutBody>();
  const today = useToday();
  const banks = (useBanks().data?.rows ?? []).filter((b) => !b.takings && (!b.inactive || b.id === body.bank));
  const taken = body.takings ?? [];
  const again = useAgain() || undefined;
  const asked = useDeferredValue({ chosen: taken, through: body.day && body.day < today ? body.day : undefined, again });
  const waiting = useQuery({
    queryKey: ['card-takings', asked],
    queryFn: () => data(api.GET('/api/v1/card-takings', { params: { query: asked } })),
    placeholderData: keepPreviousData,
  }).data;
  const rows = waiting?.rows ?? [];
  const gone = taken.filter((id) => !rows.some((r) => r.paperId === id));
  const take = (papers: number[], on: boolean) =>
    change((now) => ({
      takings: [...(now.takings ?? []).filter((id) => !papers.includes(id)), ...(on ? papers : [])],
    }));
  // The fee that would make the sums agree, as Go says.
  const fee = effect?.refusals.find((r) => r.field === 'fee' && r.rule === 'sums differ')?.limit;
  return (
    <>
      <FormGrid>
        <Figure kind="amount" label="Amount received" name="arrived" />
        <Figure kind="amount" label="Fee" name="fee" />
        <Figure kind="day" label="Date" name="day" />
        <Chosen name="bank" label="Into" options={banks.map((b) => ({ value: b.id ?? 0, name: b.name ?? '' }))} />
        <Text name="reference" label="Reference of the payout" />
        <Text name="number" label="Number (empty: the next)" placeholder={effect?.paper?.number} optional />
        <Text name="note" label="Note" className="wide" multiline optional />
      </FormGrid>
      {fee && (
        <Button variant="outlined" sx={{ mt: 1 }} onClick={() => change({ fee })}>
          The fee is {show(fee)}
        </Button>
      )}
      {waiting && gone.length > 0 && (
        <Button sx={{ mt: 1 }} onClick={() => take(gone, false)}>
          Leave out what waits no more
        </Button>
      )}
      {waiting && rows.length === 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }} data-field="takings">
          Nothing waits in card takings. What customers pay by card does, when it is recorded as received there.
        </Typography>
      )}
      {rows.length > 0 && (
        <>
          <Button
            sx={{ mt: 1 }}
            onClick={() =>
              take(
                rows.map((r) => r.paperId),
                taken.length < rows.length,
              )
            }
          >
            {taken.length >= rows.length
              ? 'Take none'
              : rows.length === waiting?.count
                ? `Take all, ${show(waiting.sum)}`
                : `Take these ${rows.length}`}
          </Button>
          <Table aria-label="What waits in card takings" data-field="takings">
            <TableHead>
              <TableRow>
                <TableCell padding="checkbox" />
                <TableCell>Date</TableCell>
                <TableCell>Paper</TableCell>
                <TableCell>Customer</TableCell>
                <TableCell>Reference</TableCell>
                <TableCell align="right">Amount</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map((r) => (
                <TableRow key={r.paperId}>
                  <TableCell padding="checkbox">
                    <Checkbox
                      size="small"
                      checked={taken.includes(r.paperId)}
                      onChange={(e) => take([r.paperId], e.target.checked)}
                      slotProps={{ input: { 'aria-label': `Paid out: ${r.number}` } }}
                    />
                  </TableCell>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(r.day, today)}</TableCell>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>
                    <b>{r.number}</b> {r.kind !== 'receipt' && kindName(r.kind)}
                  </TableCell>
                  <TableCell>{r.customer}</TableCell>
                  <TableCell>{r.reference}</TableCell>
                  <TableCell align="right">
                    <Amount value={r.amount} />
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          <Typography align="right" sx={{ mt: 1 }}>
            {taken.length} of {waiting?.count} · <b>{show(waiting?.chosen)}</b>
          </Typography>
        </>
      )}
    </>
  );
}
