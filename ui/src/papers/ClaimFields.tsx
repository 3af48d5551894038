import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { api, data, type ClaimBody, type ClaimLineBody, type Order } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { useFirm, useJob } from '../parts/records';
import { isNil, show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { PaperRate } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';
import { PartyFields } from './PartyFields';
import { ShareField } from './ShareField';

/** How much of a job's contract is done to date, and what comes of it. */
export default function ClaimFields() {
  const { body, change, effect, refused } = useEditing<ClaimBody>();
  const job = useJob(body.job ?? 0).data;
  const p = effect?.paper;
  const byLines = !!body.lines;
  const own = useFirm().data?.currency ?? '';
  const orders =
    useQuery({
      queryKey: ['order-book', body.job, undefined],
      queryFn: () => data(api.GET('/api/v1/order-book', { params: { query: { job: body.job, all: true } } })),
      enabled: !!body.job,
    }).data?.rows ?? [];
  // The contract is in the currency of its orders; the firm's is "".
  const code = orders[0]?.currency ?? '';
  return (
    <>
      <FormGrid>
        <PartyFields
          customer={body.customer ?? 0}
          job={body.job ?? 0}
          // A rate that was typed was of the other job's contract.
          onChange={(customer, job) => change({ customer, job, ...(job !== body.job && { rate: '' }) })}
          refused={refused}
        />
        {!byLines && (
          <ShareField
            label="Done to date"
            field="percent"
            percent={body.percent ?? ''}
            amount={body.toDate ?? ''}
            onChange={(percent, toDate) => change({ percent, toDate })}
            error={refused('percent') || refused('toDate')}
          />
        )}
        {orders.length > 0 && (
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={byLines}
                onChange={(e) => change(e.target.checked ? { lines: [], percent: '', toDate: '' } : { lines: undefined })}
              />
            }
            label="By the lines of its orders"
          />
        )}
        <Figure kind="amount" label="Certified of this claim, net" name="certified" placeholder="all of it" />
        <Figure kind="day" label="Invoice date" name="day" />
        <Figure kind="due" label="Due date" name="due" offered={p?.due} paper={body.day} />
        <Text label="Reference" name="reference" />
        <Text label="Number (empty: the next)" name="number" placeholder={p?.number} optional />
        <Check className="wide" name="recover" label="Deduct what was billed in advance, share by share" />
        <Check className="wide" name="credit" label="If less is done than was claimed, credit the latest claims" />
        <Text label="Note to the customer" name="note" className="wide" multiline />
        {code && (
          <div className="wide">
            <PaperRate code={code} day={body.day} />
          </div>
        )}
      </FormGrid>
      {byLines && <OrderLines orders={orders} />}
      {job && (
        <Typography sx={{ mt: 1 }} color="textSecondary">
          Contract {show(job.contract)}, claimed before {show(job.billed)}, left {show(job.leftToBill)}, all net
          {code && `, in ${own}`}.
        </Typography>
      )}
      {p && !isNil(p.before) && (
        <Table aria-label="What this claim comes to" sx={{ mt: 1, maxWidth: 460 }}>
          <TableBody>
            <Sum name="This claim, net" value={p.net} />
            {(p.taxes ?? []).map((t) => (
              <Sum key={t.code + t.percent} name={`Tax ${t.percent} %`} value={t.tax} />
            ))}
            <Sum name="With tax" value={p.before} />
            {(p.deductions ?? []).map((d) => (
              <Sum key={d.text + d.percent} name={d.text} value={d.off} />
            ))}
            {!isNil(p.retained) && <Sum name="Kept back by them" value={p.keptOff} />}
            <Sum name="Due now" value={p.left} final />
          </TableBody>
        </Table>
      )}
    </>
  );
}

/** What is done to date of each line: a share, or a quantity. */
function OrderLines({ orders }: { orders: Order[] }) {
  const { body, change, refused } = useEditing<ClaimBody>();
  const lines = body.lines ?? [];
  const set = (order: number, line: number, to: Partial<ClaimLineBody> | null) =>
    change((now) => {
      const rest = (now.lines ?? []).filter((l) => l.order !== order || l.line !== line);
      return { lines: to ? [...rest, { order, line, ...to }] : rest };
    });
  return (
    <Table aria-label="Lines of the orders" sx={{ mt: 2 }} data-field="lines">
      <TableHead>
        <TableRow>
          <TableCell>What</TableCell>
          <TableCell align="right">Ordered</TableCell>
          <TableCell align="right">Billed</TableCell>
          <TableCell align="right">Done to date, %</TableCell>
          <TableCell align="right">or a quantity</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {orders.flatMap((o) =>
          o.lines.map((l) => {
            const at = lines.findIndex((x) => x.order === o.id && x.line === l.position);
            const figure = (name: 'percent' | 'quantity', label: string) => (
              <TableCell align="right" sx={{ width: 120 }}>
                <UnderstoodField
                  kind={name}
                  label={`${label} of ${l.text}`}
                  field={at < 0 ? `lines.${o.id}.${l.position}.${name}` : `lines[${at}].${name}`}
                  value={lines[at]?.[name] ?? ''}
                  onChange={(v) => set(o.id, l.position, v ? { [name]: v } : null)}
                  onSheet
                  error={at < 0 ? '' : refused(`lines[${at}].${name}`)}
                />
              </TableCell>
            );
            return (
              <TableRow key={`${o.id} ${l.position}`}>
                <TableCell>{l.text}</TableCell>
                <TableCell align="right">
                  {show(l.ordered)} {l.unit}
                </TableCell>
                <TableCell align="right">{show(l.billed)}</TableCell>
                {figure('percent', 'Done')}
                {figure('quantity', 'Quantity')}
              </TableRow>
            );
          }),
        )}
      </TableBody>
    </Table>
  );
}

function Sum({ name, value, final }: { name: string; value: string; final?: boolean }) {
  return (
    <TableRow>
      <TableCell>{final ? <b>{name}</b> : name}</TableCell>
      <TableCell align="right">
        <Amount value={value} final={final} />
      </TableCell>
    </TableRow>
  );
}
