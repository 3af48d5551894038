import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { ReturnBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useArticles } from '../parts/records';
import { show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useEditing } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';
import { SerialsField } from './SerialsField';
import { OrderChoice, useOrder } from './OrderChoice';

/** How much of each line of an order came back, and what of it goes to stock. */
export default function ReturnFields() {
  const { body, change, effect, refused } = useEditing<ReturnBody>();
  const articles = useArticles().data?.rows ?? [];
  const order = useOrder(body.order ?? 0);
  const lines = body.lines ?? [];
  const set = (position: number, part: { quantity?: string; back?: string }) =>
    change((now) => {
      const was = (now.lines ?? []).find((l) => l.position === position) ?? { position, quantity: '' };
      const rest = (now.lines ?? []).filter((l) => l.position !== position);
      const line = { ...was, ...part };
      return { lines: line.quantity ? [...rest, line].sort((a, b) => a.position - b.position) : rest };
    });
  return (
    <>
      <FormGrid>
        <OrderChoice order={order} />
        <Figure kind="day" label="Date" name="day" />
        <Text label="Why did it come back?" name="reason" className="wide" />
        <Text label="Reference of the return" name="reference" optional />
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        <Check name="swap" label="It is swapped: the same goes out again" />
        <Check name="cancel" label="It is not delivered again: the order is lowered" />
        <Text label="Note to the customer" name="note" className="wide" multiline optional />
      </FormGrid>
      {order && (
        <Table aria-label="Lines of the order" sx={{ mt: 2 }} data-field="lines">
          <TableHead>
            <TableRow>
              <TableCell>What</TableCell>
              <TableCell align="right">Delivered</TableCell>
              <TableCell align="right">Billed</TableCell>
              <TableCell align="right">Came back</TableCell>
              <TableCell align="right">To stock</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {order.lines.map((l) => {
              const at = lines.findIndex((x) => x.position === l.position);
              const article = articles.find((a) => a.id === l.article);
              const figure = (name: 'quantity' | 'back', label: string) => (
                <UnderstoodField
                  kind="quantity"
                  label={`${label} of ${l.text}`}
                  field={at < 0 ? `lines.${l.position}.${name}` : `lines[${at}].${name}`}
                  value={lines[at]?.[name] ?? ''}
                  onChange={(v) => set(l.position, { [name]: v })}
                  onSheet
                  error={at < 0 ? '' : refused(`lines[${at}].${name}`)}
                />
              );
              return (
                <TableRow key={l.position}>
                  <TableCell>
                    {l.text}
                    {article?.serial && at >= 0 && (
                      <>
                        <SerialsField
                          name={`lines[${at}].serials`}
                          label={`Numbers of the pieces of ${l.text} that go to stock`}
                        />
                        {body.swap && (
                          <SerialsField name={`lines[${at}].instead`} label={`Numbers of the pieces of ${l.text} that go out`} />
                        )}
                      </>
                    )}
                  </TableCell>
                  {[l.delivered, l.billed].map((q, i) => (
                    <TableCell key={i} align="right">
                      {show(q)} {i === 0 && l.unit}
                    </TableCell>
                  ))}
                  <TableCell align="right" sx={{ width: 120 }}>
                    {figure('quantity', 'Came back')}
                  </TableCell>
                  <TableCell align="right" sx={{ width: 120 }}>
                    {article?.stocked && at >= 0 ? figure('back', 'To stock') : ''}
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      )}
    </>
  );
}
