import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useContext } from 'react';
import { api, data, type ReceivedBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useArticles } from '../parts/records';
import { show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { EditingPlace, useEditing } from './editing/Editing';
import { Choice, Figure, Text } from './editing/fields';
import { SerialsField } from './SerialsField';

/** How much of each line of a purchase order came, or will not come any more. */
export default function GoodsReceivedFields() {
  const { body, change, effect, refused } = useEditing<ReceivedBody>();
  const cancels = useContext(EditingPlace)!.kind === 'purchase order cancelled';
  const articles = useArticles().data?.rows ?? [];
  const orders =
    useQuery({
      queryKey: ['purchase-orders'],
      queryFn: () => data(api.GET('/api/v1/purchase-orders')),
      placeholderData: keepPreviousData,
    }).data?.rows ?? [];
  const order = orders.find((o) => o.id === body.order);
  const lines = body.lines ?? [];
  const set = (position: number, quantity: string) =>
    change((now) => {
      const was = (now.lines ?? []).find((l) => l.position === position);
      const rest = (now.lines ?? []).filter((l) => l.position !== position);
      return { lines: quantity ? [...rest, { ...was, position, quantity }].sort((a, b) => a.position - b.position) : rest };
    });
  return (
    <>
      <FormGrid>
        <Choice
          label="Purchase order"
          field="order"
          value={body.order ?? 0}
          error={refused('order')}
          onChange={(v) => change({ order: Number(v), lines: [] })}
          options={[
            ...(body.order ? [] : [{ value: 0, name: 'Which order?' }]),
            ...orders.map((o) => ({ value: o.id, name: `${o.number}, ${o.supplier}, ${showDay(o.day)}` })),
          ]}
        />
        <Figure kind="day" label="Date" name="day" />
        {!cancels && <Text label="Number of their delivery note" name="reference" optional />}
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        <Text label={cancels ? 'Why will it not come?' : 'Note'} name="note" className="wide" multiline optional={!cancels} />
      </FormGrid>
      {order && (
        <Table aria-label="Lines of the order" sx={{ mt: 2 }} data-field="lines">
          <TableHead>
            <TableRow>
              <TableCell>What</TableCell>
              <TableCell align="right">Ordered</TableCell>
              <TableCell align="right">Came</TableCell>
              <TableCell align="right">Billed</TableCell>
              <TableCell align="right">To come</TableCell>
              <TableCell align="right">{cancels ? 'Not coming' : 'Came now'}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {order.lines.map((l) => {
              const at = lines.findIndex((x) => x.position === l.position);
              const numbered = !cancels && at >= 0 && articles.find((a) => a.id === l.article)?.serial;
              return (
                <TableRow key={l.position}>
                  <TableCell>
                    {l.text}
                    {numbered && <SerialsField name={`lines[${at}].serials`} label={`Numbers of the pieces of ${l.text}`} />}
                  </TableCell>
                  {[l.ordered, l.delivered, l.billed, l.leftToDeliver].map((q, i) => (
                    <TableCell key={i} align="right">
                      {show(q)} {i === 0 && l.unit}
                    </TableCell>
                  ))}
                  <TableCell align="right" sx={{ width: 120 }}>
                    <UnderstoodField
                      kind="quantity"
                      label={`${cancels ? 'Not coming' : 'Came'} of ${l.text}`}
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
    </>
  );
}
