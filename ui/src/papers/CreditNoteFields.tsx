import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, data, type Creditable, type CreditBody, type CreditLineBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { isNil, show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useEditing } from './editing/Editing';
import { Check, Choice, Chosen, Figure, Text } from './editing/fields';
import { useAgain } from './editing/useForm';
import { SerialsField } from './SerialsField';
import { Shares } from './Shares';
import { useBench } from './useBench';

const causes = [
  { value: 'return', name: 'Goods came back' },
  { value: 'price', name: 'The price' },
  { value: 'fault', name: 'A fault' },
  { value: 'goodwill', name: 'Goodwill' },
  { value: 'cancellation', name: 'Called off' },
  { value: 'other', name: 'Another reason' },
];

/** What of an invoice is taken back, why, and what that is set against. */
export default function CreditNoteFields() {
  const { body, change, effect, refused } = useEditing<CreditBody>();
  const again = useAgain() || undefined;
  const of = useQuery({
    queryKey: ['creditable', body.paper, body.day, again],
    queryFn: () =>
      data(
        api.GET('/api/v1/papers/{id}/creditable', {
          params: { path: { id: body.paper ?? 0 }, query: { day: body.day || undefined, again } },
        }),
      ),
    enabled: !!body.paper,
    placeholderData: keepPreviousData,
  }).data;
  return (
    <>
      <FormGrid>
        <Typography className="wide" component="div" data-field="paper">
          {of ? (
            <>
              Of <Link to={`/papers/${of.id}`}>{of.number}</Link>, {of.customer}
              {!isNil(of.held) && <>, which keeps back {show(of.held)}</>}.
              {of.locked && <> Its period is closed through {showDay(of.locked)}: the credit is dated after it.</>}
            </>
          ) : (
            'Begin with the invoice that is credited: its page has the step.'
          )}
        </Typography>
        <Chosen
          label="Why is it credited?"
          name="cause"
          options={[...(body.cause ? [] : [{ value: '', name: 'Say why' }]), ...causes]}
        />
        <Text label="In a few words" name="text" />
        <Figure kind="day" label="Date" name="day" />
        <Text label="Reference of the return" name="reference" optional />
        <Choice
          label="What of it?"
          field="what"
          value={body.what ?? 'all'}
          options={[
            { value: 'all', name: 'All that is left' },
            { value: 'lines', name: 'Some of its lines' },
            { value: 'work', name: 'A part of the work' },
          ]}
          onChange={(v) => change({ what: v as CreditBody['what'] })}
          error={refused('what')}
        />
        {(body.what ?? 'all') === 'all' && of?.lines.some((l) => l.stocked && !isNil(l.out)) && (
          <Check
            className="wide"
            name="goodsBack"
            label="Its goods go back to stock, at the cost at which they left; else they are scrapped, or stay"
          />
        )}
        {body.what === 'work' && (
          <Figure kind="amount" label="Of the work, net" name="work" placeholder={of && `of ${show(of.work)}`} />
        )}
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
        <Text label="Note to the customer" name="note" className="wide" multiline />
      </FormGrid>
      {body.what === 'lines' && of && <Lines of={of} />}
      <FormGrid sx={{ mt: 1 }}>
        {of?.ofOrder && (
          <Check
            className="wide"
            name="billAgain"
            label="What it takes of an order may be billed again; else the order and the contract are lowered"
          />
        )}
        {of && !isNil(of.held) && <Check className="wide" name="fromRetention" label="All of it comes off what is kept back" />}
        <Check className="wide" name="own" label="Set it against what is open of the invoice itself" />
      </FormGrid>
      {of && <Against customer={of.partyId} />}
    </>
  );
}

type LineFigure = 'quantity' | 'amount' | 'price';

/** How much of each line is credited: a quantity, an amount or a new price. */
function Lines({ of }: { of: Creditable }) {
  const { body, change, refused } = useEditing<CreditBody>();
  const lines = body.lines ?? [];
  const goods = of.lines.some((l) => l.stocked);
  const set = (position: number, to: CreditLineBody | null) =>
    change((now) => {
      const rest = (now.lines ?? []).filter((l) => l.position !== position);
      return { lines: to ? [...rest, to].sort((a, b) => a.position - b.position) : rest };
    });
  return (
    <Table aria-label="Lines of the invoice" sx={{ mt: 2 }} data-field="lines">
      <TableHead>
        <TableRow>
          <TableCell>What</TableCell>
          <TableCell align="right">Left</TableCell>
          <TableCell align="right">{of.includes ? 'Left with tax' : 'Left, net'}</TableCell>
          <TableCell align="right">Quantity back</TableCell>
          <TableCell align="right">or an amount</TableCell>
          <TableCell align="right">or a new price</TableCell>
          {goods && <TableCell align="right">To stock</TableCell>}
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {of.lines.map((l) => {
          const at = lines.findIndex((x) => x.position === l.position);
          const line = lines[at];
          const field = (name: LineFigure) => (at < 0 ? `lines.${l.position}.${name}` : `lines[${at}].${name}`);
          const figure = (name: LineFigure, kind: 'quantity' | 'amount', label: string) => (
            <TableCell align="right" sx={{ width: 104 }}>
              {!isNil(l.left) && !(l.takes && name !== 'amount') && (
                <UnderstoodField
                  kind={kind}
                  label={`${label} of ${l.text}`}
                  field={field(name)}
                  value={line?.[name] ?? ''}
                  onChange={(v) =>
                    set(
                      l.position,
                      v
                        ? {
                            position: l.position,
                            [name]: v,
                            ...(name === 'quantity' ? { back: line?.back, serials: line?.serials } : {}),
                          }
                        : null,
                    )
                  }
                  onSheet
                  error={at < 0 ? '' : refused(field(name))}
                />
              )}
            </TableCell>
          );
          return (
            <TableRow key={l.position}>
              <TableCell>
                {l.text}
                {l.numbered && line?.back && (
                  <SerialsField name={`lines[${at}].serials`} label={`Numbers of the pieces of ${l.text} that go to stock`} />
                )}
                {l.givenBack && line?.amount !== l.givenBack && (
                  <div>
                    <Button size="small" onClick={() => set(l.position, { position: l.position, amount: l.givenBack })}>
                      {show(l.givenBack)} was given back by the supplier: take it
                    </Button>
                  </div>
                )}
              </TableCell>
              <TableCell align="right">{l.takes ? '' : [show(l.quantity), l.unit].filter(Boolean).join(' ')}</TableCell>
              <TableCell align="right">
                <Amount value={l.left} />
              </TableCell>
              {figure('quantity', 'quantity', 'Quantity back')}
              {figure('amount', 'amount', 'Amount')}
              {figure('price', 'quantity', 'New price')}
              {goods && (
                <TableCell align="right" sx={{ width: 96 }}>
                  {l.stocked && line && !line.amount && !line.price && (
                    <UnderstoodField
                      kind="quantity"
                      label={`To stock of ${l.text}`}
                      field={`lines[${at}].back`}
                      value={line.back ?? ''}
                      placeholder={`of ${show(l.out)}`}
                      onChange={(back) => set(l.position, { ...line, back })}
                      onSheet
                      error={refused(`lines[${at}].back`)}
                    />
                  )}
                </TableCell>
              )}
              <TableCell align="right" sx={{ width: 56 }}>
                {isNil(l.left) ? (
                  'nothing left'
                ) : (
                  <Button
                    size="small"
                    variant={line && !line.quantity && !line.amount && !line.price ? 'contained' : 'outlined'}
                    aria-label={`All of ${l.text}`}
                    aria-pressed={!!line && !line.quantity && !line.amount && !line.price}
                    onClick={() =>
                      set(l.position, line && !line.quantity && !line.amount && !line.price ? null : { position: l.position })
                    }
                  >
                    All
                  </Button>
                )}
              </TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}

/** What else of the customer's the credit is set against. */
function Against({ customer }: { customer: number }) {
  const { body, change, refused } = useEditing<CreditBody>();
  const [find, setFind] = useState('');
  const bench = useBench(customer, { find, pinned: (body.setAgainst ?? []).map((s) => s.item) });
  const owed = (bench?.owed ?? []).filter((i) => i.paperId !== body.paper);
  if (owed.length === 0 && !find) return null;
  return (
    <Shares
      title="Set against others first"
      verb="Set against"
      side="setAgainst"
      items={owed}
      count={owed.length === bench?.owed.length ? bench.counts[0] : owed.length}
      onFind={setFind}
      shares={body.setAgainst ?? []}
      onChange={(to) => change((now) => ({ setAgainst: to(now.setAgainst ?? []) }))}
      refused={refused}
      nothing="Nothing fits."
    />
  );
}
