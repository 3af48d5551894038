import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { OpenItem, ShareBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { useToday } from '../parts/records';
import { kindName, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import type { Refused } from './editing/useForm';

const Name = styled(TableCell)({ maxWidth: 270, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' });
const Head = styled('div')({ display: 'flex', alignItems: 'end', justifyContent: 'space-between', marginTop: 18, minHeight: 34 });

interface Props {
  /** What the list is called, and what to do with a row of it. */
  title: string;
  verb: string;
  /** The name of the list in the body: what its refusals are called by. */
  side: string;
  items: OpenItem[];
  shares: ShareBody[];
  onChange: (change: (now: ShareBody[]) => ShareBody[]) => void;
  refused: Refused;
  nothing: string;
  /** Whether each row says its customer. */
  withCustomer?: boolean;
  /** How many there are in all, and looking for others, where not all are here. */
  count?: number;
  onFind?: (text: string) => void;
}

const shownAtFirst = 40;

/** Open items, of each of which a part or all is taken. */
export function Shares({
  title,
  verb,
  side,
  items,
  shares,
  onChange,
  refused,
  nothing,
  withCustomer,
  count = items.length,
  onFind,
}: Props) {
  const today = useToday();
  const [find, setFind] = useState('');
  const fits = (i: OpenItem) =>
    shares.some((s) => s.item === i.id) ||
    `${i.number} ${i.title} ${i.job} ${i.open} ${i.customer}`.toLowerCase().includes(find.toLowerCase());
  const shown = items.filter(fits).slice(0, Math.max(shownAtFirst, shares.length));
  const set = (item: number, amount: string | null) =>
    onChange((now) => {
      if (amount === null) return now.filter((s) => s.item !== item);
      return now.some((s) => s.item === item)
        ? now.map((s) => (s.item === item ? { item, amount } : s))
        : [...now, { item, amount }];
    });
  return (
    <>
      <Head>
        <Typography variant="h2">{title}</Typography>
        {(count > 8 || find) && (
          <TextField
            label="Find among them"
            value={find}
            onChange={(e) => {
              setFind(e.target.value);
              onFind?.(e.target.value);
            }}
            style={{ width: 170 }}
          />
        )}
      </Head>
      {items.length === 0 && !find ? (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }} data-field={side}>
          {nothing}
        </Typography>
      ) : (
        <Table aria-label={title} data-field={side}>
          <TableHead>
            <TableRow>
              <TableCell>Paper</TableCell>
              <TableCell>{shown.some((i) => i.due) ? 'Due date' : 'Date'}</TableCell>
              <TableCell align="right">Open</TableCell>
              <TableCell align="right">Taken</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {shown.map((i) => {
              const at = shares.findIndex((s) => s.item === i.id);
              return (
                <TableRow key={i.id}>
                  <Name title={i.title}>
                    <b>{i.number}</b> {withCustomer ? `${i.customer} · ${i.title}` : i.title || kindName(i.kind)}
                    {i.instalment > 0 && `, part ${i.instalment}`}
                    {i.register === 'retention' && ', kept back'}
                  </Name>
                  <TableCell sx={{ whiteSpace: 'nowrap' }}>{showDay(i.due || i.day, today)}</TableCell>
                  <TableCell align="right">
                    <Amount value={i.open} code={i.currency} tone={i.register === 'deposits' ? 'held' : undefined} />
                  </TableCell>
                  <TableCell align="right" sx={{ width: 130 }}>
                    <UnderstoodField
                      kind="amount"
                      label={`Taken of ${i.number}${i.instalment > 0 ? `, part ${i.instalment}` : ''}`}
                      field={at < 0 ? `${side}.${i.id}` : `${side}[${at}].amount`}
                      value={at < 0 ? '' : (shares[at]?.amount ?? '')}
                      onChange={(v) => set(i.id, v === '' ? null : v)}
                      onSheet
                      error={at >= 0 ? refused(`${side}[${at}].amount`) : ''}
                    />
                  </TableCell>
                  <TableCell align="right" sx={{ width: 96 }}>
                    {at < 0 ? (
                      <Button onClick={() => set(i.id, i.open)}>{verb}</Button>
                    ) : (
                      <Button onClick={() => set(i.id, null)}>Take off</Button>
                    )}
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      )}
      {count > shown.length && (
        <Typography variant="body2" color="textSecondary">
          and {count - shown.length} more: find them by number, job or amount
        </Typography>
      )}
    </>
  );
}
