import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import type { CancellationBody, DeliveryBody } from '../api/client';
import { useContext } from 'react';
import { FormGrid } from '../parts/RecordDialog';
import { paperQuery, useBanks } from '../parts/records';
import { show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { EditingPlace, useEditing } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';
import { useBench } from './useBench';
import { OrderChoice, useOrder } from './OrderChoice';

type Body = DeliveryBody & CancellationBody;

/** How much of each line of an order is handed over, or cancelled. */
export default function OrderShareFields() {
  const { body, change, effect, refused } = useEditing<Body>();
  const cancels = useContext(EditingPlace)!.kind === 'cancellation';
  const order = useOrder(body.order ?? 0);
  const lines = body.lines ?? [];
  const set = (position: number, quantity: string) =>
    change((now) => {
      const rest = (now.lines ?? []).filter((l) => l.position !== position);
      return { lines: quantity ? [...rest, { position, quantity }].sort((a, b) => a.position - b.position) : rest };
    });
  return (
    <>
      <FormGrid>
        <OrderChoice order={order} />
        <Figure kind="day" label="Date" name="day" />
        {cancels ? (
          <Text label="Why is it called off?" name="reason" className="wide" />
        ) : (
          <Text label="Reference" name="reference" />
        )}
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        {!cancels && <Text label="Note to the customer" name="note" className="wide" multiline />}
      </FormGrid>
      {order && (
        <Table aria-label="Lines of the order" sx={{ mt: 2 }} data-field="lines">
          <TableHead>
            <TableRow>
              <TableCell>What</TableCell>
              <TableCell align="right">Ordered</TableCell>
              <TableCell align="right">Delivered</TableCell>
              <TableCell align="right">Billed</TableCell>
              <TableCell align="right">{cancels ? 'Left to cancel' : 'Left to deliver'}</TableCell>
              <TableCell align="right">{cancels ? 'Cancelled now' : 'Delivered now'}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {order.lines.map((l) => {
              const at = lines.findIndex((x) => x.position === l.position);
              return (
                <TableRow key={l.position}>
                  <TableCell>{l.text}</TableCell>
                  {[l.ordered, l.delivered, l.billed, cancels ? l.leftToCancel : l.leftToDeliver].map((q, i) => (
                    <TableCell key={i} align="right">
                      {show(q)} {i === 0 && l.unit}
                    </TableCell>
                  ))}
                  <TableCell align="right" sx={{ width: 130 }}>
                    <UnderstoodField
                      kind="quantity"
                      label={`${cancels ? 'Cancelled' : 'Delivered'} of ${l.text}`}
                      field={at < 0 ? `lines.${l.position}` : `lines[${at}].quantity`}
                      value={lines[at]?.quantity ?? ''}
                      onChange={(v) => set(l.position, v)}
                      onSheet
                      error={at < 0 ? '' : refused(`lines[${at}].quantity`)}
                    />
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      )}
      {cancels && <Advances />}
      {cancels && order && <Deposits customer={order.customerId} job={order.jobId} />}
    </>
  );
}

/** What becomes of what was billed of the order in advance: credited, but for what is kept. */
function Advances() {
  const { body } = useEditing<Body>();
  const advances = body.advances ?? [];
  if (advances.length === 0) return null;
  return (
    <Table aria-label="What becomes of what was billed in advance" sx={{ mt: 2 }} data-field="advances">
      <TableHead>
        <TableRow>
          <TableCell>Billed in advance</TableCell>
          <TableCell align="right">Not deducted, with tax</TableCell>
          <TableCell align="right">Kept of it, net</TableCell>
          <TableCell>What is kept</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {advances.map((a, n) => (
          <Advance key={a.paper} n={n} paper={a.paper ?? 0} />
        ))}
      </TableBody>
    </Table>
  );
}

/** What becomes of the deposits that are held for the job of the order: given back, kept; the rest stays held. */
function Deposits({ customer, job }: { customer: number; job: number }) {
  const { body, change, refused } = useEditing<Body>();
  const bank = (useBanks().data?.rows ?? []).find((b) => !b.inactive)?.id ?? 0;
  const ends = body.deposits ?? [];
  const held = (useBench(customer, { job, pinned: ends.map((d) => d.deposit ?? 0) })?.credits ?? []).filter(
    (i) => i.register === 'deposits' && (i.jobId === job || !i.jobId),
  );
  if (held.length === 0) return null;
  const set = (deposit: number, refund: string, keep: string) =>
    change((now) => {
      const rest = (now.deposits ?? []).filter((d) => d.deposit !== deposit);
      if (!refund && !keep) return { deposits: rest };
      return {
        deposits: [
          ...rest,
          {
            deposit,
            ...(refund ? { refund: { amount: refund, bank, method: 'transfer' } } : {}),
            ...(keep ? { forfeit: { amount: keep } } : {}),
          },
        ],
      };
    });
  return (
    <Table aria-label="What becomes of the deposits" sx={{ mt: 2 }} data-field="deposits">
      <TableHead>
        <TableRow>
          <TableCell>Deposit</TableCell>
          <TableCell align="right">Held</TableCell>
          <TableCell align="right">Given back, by transfer</TableCell>
          <TableCell align="right">Kept</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {held.map((i) => {
          const at = ends.findIndex((d) => d.deposit === i.id);
          const refund = ends[at]?.refund?.amount ?? '';
          const keep = ends[at]?.forfeit?.amount ?? '';
          return (
            <TableRow key={i.id}>
              <TableCell>
                {i.number}, {showDay(i.day)}
              </TableCell>
              <TableCell align="right">{show(i.open)}</TableCell>
              <TableCell align="right" sx={{ width: 150 }}>
                <UnderstoodField
                  kind="amount"
                  label={`Given back of ${i.number}`}
                  field={at < 0 ? `deposits.${i.id}.refund` : `deposits[${at}].refund`}
                  value={refund}
                  onChange={(v) => set(i.id, v, keep)}
                  onSheet
                  error={at < 0 ? '' : refused(`deposits[${at}].refund`)}
                />
              </TableCell>
              <TableCell align="right" sx={{ width: 130 }}>
                <UnderstoodField
                  kind="amount"
                  label={`Kept of ${i.number}`}
                  field={at < 0 ? `deposits.${i.id}.forfeit` : `deposits[${at}].forfeit`}
                  value={keep}
                  onChange={(v) => set(i.id, refund, v)}
                  onSheet
                  error={at < 0 ? '' : refused(`deposits[${at}].forfeit`)}
                />
              </TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}

function Advance({ n, paper }: { n: number; paper: number }) {
  const { data: p } = useQuery(paperQuery(paper));
  const number = p?.number ?? '';
  return (
    <TableRow>
      <TableCell>{number}, credited</TableCell>
      <TableCell align="right">{show(p?.advanceLeft)}</TableCell>
      <TableCell align="right" sx={{ width: 130 }}>
        <Figure kind="amount" label={`Kept of ${number}, net`} name={`advances[${n}].keep`} onSheet />
      </TableCell>
      <TableCell>
        <Check name={`advances[${n}].outsideTax`} label="bears no tax" />
      </TableCell>
    </TableRow>
  );
}
