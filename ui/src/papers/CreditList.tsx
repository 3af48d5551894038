import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { CreditRow } from '../api/client';
import { Amount } from '../parts/Amount';
import { Empty } from '../parts/Layout';
import type { Active } from '../parts/ListFilters';
import { ListNote } from '../parts/ListNote';
import { ListTable, type Column } from '../parts/ListTable';
import { Margin } from '../parts/Margin';
import { useCustomer } from '../parts/records';
import { showDay } from '../parts/show';
import { PaperInEffect } from './PaperInEffect';
import { useAddress } from '../parts/useAddress';

const columns: Column<CreditRow>[] = [
  { id: 'day', title: 'Date', cell: (r) => showDay(r.day) },
  { id: 'number', title: 'Number', cell: (r) => r.number },
  { id: 'party', title: 'Customer', cell: (r) => r.customer, wide: true },
  { id: 'of', title: 'Invoice', cell: (r) => r.invoice || 'on its own' },
  { id: 'job', title: 'Job', cell: (r) => r.job, hidden: true },
  { id: 'cause', title: 'Why', cell: (r) => r.cause, share: 14 },
  { id: 'reason', title: 'In words', cell: (r) => r.reason, hidden: true },
  { id: 'reference', title: 'Reference', cell: (r) => r.reference, hidden: true },
  { id: 'state', title: 'State', cell: (r) => r.state, sort: false, hidden: true },
  { id: 'net', title: 'Net', cell: (r) => <Amount value={r.net} />, figure: true, hidden: true },
  { id: 'tax', title: 'Tax', cell: (r) => <Amount value={r.tax} />, figure: true, hidden: true },
  { id: 'total', title: 'Total', cell: (r) => <Amount value={r.total} />, figure: true },
  { id: 'open', title: 'Not used', cell: (r) => <Amount value={r.open} quietNil />, figure: true },
];

const states = [
  { value: '', name: 'All' },
  { value: 'waiting', name: 'Not used' },
  { value: 'used', name: 'Used up' },
  { value: 'reversed', name: 'Reversed' },
];

/** The columns that one can search alone. */
const searched = [
  { value: '', name: 'everywhere' },
  { value: 'number', name: 'in the number' },
  { value: 'customer', name: 'in the customer' },
  { value: 'invoice', name: 'in the invoice' },
  { value: 'job', name: 'in the job' },
  { value: 'reason', name: 'in the reason' },
  { value: 'reference', name: 'in the reference' },
  { value: 'line', name: 'in its lines' },
  { value: 'amount', name: 'as an amount' },
];

const causes = [
  { value: '', name: 'for any reason' },
  { value: 'return', name: 'goods came back' },
  { value: 'price', name: 'price' },
  { value: 'fault', name: 'fault' },
  { value: 'goodwill', name: 'goodwill' },
  { value: 'cancellation', name: 'called off' },
  { value: 'other', name: 'other' },
];

/** Every credit note, with what of it waits to be used. */
export function CreditList() {
  const [params, set] = useAddress();
  const go = useNavigate();
  const [looked, setLooked] = useState(0);
  const customer = useCustomer(Number(params.get('customer') ?? 0)).data;
  const choose = (name: string, label: string, options: { value: string; name: string }[], width: number) => (
    <TextField
      select
      value={params.get(name) ?? ''}
      onChange={(e) => set(name, e.target.value)}
      sx={{ width }}
      slotProps={{ select: { displayEmpty: true, inputProps: { 'aria-label': label } } }}
    >
      {options.map((o) => (
        <MenuItem key={o.value} value={o.value}>
          {o.name}
        </MenuItem>
      ))}
    </TextField>
  );
  const nameOf = (options: { value: string; name: string }[], param: string) =>
    options.find((o) => o.value === params.get(param))?.name ?? '';
  const active: (Active | false | null)[] = [
    params.has('customer') && { param: 'customer', name: `Customer: ${customer?.name ?? '…'}` },
    !!params.get('cause') && { param: 'cause', name: nameOf(causes, 'cause') },
    !!params.get('state') && { param: 'state', name: nameOf(states, 'state') },
    !!params.get('q') && { param: 'q', name: `“${params.get('q')}” ${nameOf(searched, 'in')}`.trim() },
    params.has('from') && { param: 'from', name: `from ${showDay(params.get('from')!)}` },
    params.has('to') && { param: 'to', name: `through ${showDay(params.get('to')!)}` },
  ];
  return (
    <>
      <ListTable<CreditRow>
        id="credit-notes"
        path="/api/v1/credit-notes"
        columns={columns}
        filters={{ param: 'state', options: states }}
        search="Find among them"
        extra={
          <>
            {choose('in', 'Which column is searched', searched, 132)}
            {choose('cause', 'Why', causes, 140)}
          </>
        }
        active={active.filter((a) => !!a)}
        onLook={(r) => setLooked(r.id)}
        to={(r) => `/papers/${r.id}`}
        empty={
          <Empty action="Credit note" onAction={() => go('/papers/new/credit_note')}>
            Here will be every credit note: of which invoice it is, why, and what of it is not used yet.
          </Empty>
        }
      />
      <Margin>
        {looked ? (
          <PaperInEffect id={looked} />
        ) : (
          <ListNote title="Credit notes">
            What is not used waits: set it against what the customer owes, or refund it. Search one column alone by choosing it
            beside the search. The columns are yours to choose; a filter can be kept by a name.
          </ListNote>
        )}
      </Margin>
    </>
  );
}
