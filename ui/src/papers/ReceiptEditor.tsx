import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { api, data, type OpenItem, type ReceiptBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { usePreview } from '../parts/preview';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { PaperSheet } from '../parts/Sheet';
import { isNil, show, showDay, showDays } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { EditorFrame } from './EditorFrame';
import { MoneyFields } from './MoneyFields';
import { PartyFields } from './PartyFields';
import { useDraft } from './useDraft';
import { walk } from './walk';

type Placement = NonNullable<ReceiptBody['placements']>[number];

const Foot = styled('div')({
  display: 'flex',
  justifyContent: 'space-between',
  alignItems: 'center',
  marginTop: 8,
  minHeight: 40,
});

/** They paid what we billed: a receipt, placed on invoices. */
export function ReceiptEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  const draft = useDraft<ReceiptBody>(
    'receipt',
    id,
    {
      customer: Number(params.get('customer') ?? 0),
      job: 0,
      day: today,
      arrived: '',
      kept: '',
      bank: 1,
      method: 'transfer',
      reference: '',
      placements: [],
      onAccount: false,
    },
    (b) => !!(b.arrived || (b.customer && b.reference)),
  );
  const body = draft.body ?? {};
  const effect = usePreview('/api/v1/receipts', draft.body ?? null);
  const bench = useQuery({
    queryKey: ['bench', body.customer ?? 0],
    queryFn: () => data(api.GET('/api/v1/customers/{id}/bench', { params: { path: { id: body.customer ?? 0 } } })),
    enabled: !!body.customer,
  });
  if (!draft.body) return null;
  const placements = body.placements ?? [];
  const set = (item: number, amount: string | null) =>
    draft.change((b) => {
      const now = b.placements ?? [];
      if (amount === null) return { placements: now.filter((p) => p.item !== item) };
      if (now.some((p) => p.item === item)) return { placements: now.map((p) => (p.item === item ? { item, amount } : p)) };
      return { placements: [...now, { item, amount }] };
    });
  // What is posted is what was shown: amounts that Go offered are sent along.
  const shown = (p: Placement) => p.amount || effect?.pairs?.find((x) => x.debit === p.item)?.amount || '';
  const exact = { ...body, placements: placements.map((p) => ({ item: p.item, amount: shown(p) })) };
  const left = effect?.paper?.unplaced;
  return (
    <EditorFrame
      title="Receipt"
      path="/api/v1/receipts"
      draft={draft}
      effect={effect}
      body={exact}
      posted="Receipt"
      quiet={body.arrived ? [] : ['arrived']}
      then={() => `/customers/${body.customer}`}
      hint="Say who paid and how much, and place it: what that does is shown here before anything is written."
    >
      {(refused) => (
        <PaperSheet>
          <Typography variant="h1">Receipt</Typography>
          <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
            Money for what is owed. What is not placed stays on account only when you say so.
          </Typography>
          <div onKeyDown={walk}>
            <FormGrid>
              <PartyFields
                customer={body.customer ?? 0}
                job={body.job ?? 0}
                onChange={(customer, job) =>
                  draft.change({ customer, job, placements: customer === body.customer ? placements : [] })
                }
                refused={refused}
                autoFocus
              >
                {(customer) => <div className="wide">{customer}</div>}
              </PartyFields>
              <UnderstoodField
                kind="amount"
                label="Arrived"
                field="arrived"
                value={body.arrived ?? ''}
                onChange={(arrived) => draft.change({ arrived })}
                error={refused('arrived')}
                autoFocus={params.has('customer')}
              />
              <UnderstoodField
                kind="amount"
                label="The bank kept"
                field="kept"
                value={body.kept ?? ''}
                onChange={(kept) => draft.change({ kept })}
                error={refused('kept')}
              />
              <UnderstoodField
                kind="day"
                label="Day"
                field="day"
                value={body.day ?? ''}
                onChange={(day) => draft.change({ day })}
                error={refused('day')}
              />
              <MoneyFields value={body} onChange={draft.change} refused={refused} next={effect?.paper?.number ?? ''} />
            </FormGrid>
            {!!body.customer && (
              <Places
                owed={bench.data?.owed ?? []}
                placements={placements}
                amountOf={(item) => {
                  const p = placements.find((x) => x.item === item);
                  return p ? shown(p) : '';
                }}
                onSet={set}
                refused={refused}
                today={today}
              />
            )}
            <Foot>
              <FormControlLabel
                data-field="onAccount"
                control={
                  <Checkbox
                    size="small"
                    checked={!!body.onAccount}
                    onChange={(e) => draft.change({ onAccount: e.target.checked })}
                  />
                }
                label="What is not placed stays on account"
              />
              {left !== undefined && !isNil(effect?.paper?.total) && (
                <Typography>
                  {isNil(left)
                    ? 'All of it is placed'
                    : body.onAccount
                      ? `${show(left)} on account`
                      : `${show(left)} not placed yet`}
                </Typography>
              )}
            </Foot>
          </div>
        </PaperSheet>
      )}
    </EditorFrame>
  );
}

interface PlacesProps {
  owed: OpenItem[];
  placements: Placement[];
  amountOf: (item: number) => string;
  onSet: (item: number, amount: string | null) => void;
  refused: (field: string) => boolean;
  today: string;
}

function Places({ owed, placements, amountOf, onSet, refused, today }: PlacesProps) {
  if (owed.length === 0)
    return (
      <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }}>
        This customer owes nothing now. The receipt can stay on account.
      </Typography>
    );
  return (
    <Table aria-label="What it is placed on" sx={{ mt: 2 }}>
      <TableHead>
        <TableRow>
          <TableCell>Owed</TableCell>
          <TableCell>Due</TableCell>
          <TableCell align="right">Open</TableCell>
          <TableCell align="right">Placed</TableCell>
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {owed.map((i) => {
          const at = placements.findIndex((p) => p.item === i.id);
          return (
            <TableRow key={i.id}>
              <TableCell sx={{ maxWidth: 260, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
                <b>{i.number}</b> {i.title}
                {i.part > 0 && `, part ${i.part}`}
              </TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>
                {showDay(i.due, today)}
                {i.age > 0 && `, ${showDays(i.age)} over`}
              </TableCell>
              <TableCell align="right">
                <Amount value={i.open} />
              </TableCell>
              <TableCell align="right" sx={{ width: 130 }}>
                <UnderstoodField
                  kind="amount"
                  label={`Placed on ${i.number}`}
                  field={at < 0 ? `place.${i.id}` : `placements[${at}].amount`}
                  value={amountOf(i.id)}
                  onChange={(v) => onSet(i.id, v === '' ? null : v)}
                  onSheet
                  error={at >= 0 && refused(`placements[${at}].amount`)}
                />
              </TableCell>
              <TableCell align="right" sx={{ width: 84 }}>
                {at < 0 ? (
                  <Button onClick={() => onSet(i.id, '')}>Place</Button>
                ) : (
                  <Button onClick={() => onSet(i.id, null)}>Take off</Button>
                )}
              </TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}
