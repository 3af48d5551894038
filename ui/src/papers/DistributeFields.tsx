import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import ToggleButton from '@mui/material/ToggleButton';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { api, data, type DepositBody, type DistributeBody, type ReceiptBody } from '../api/client';
import { Filters } from '../parts/ListFilters';
import { FormGrid } from '../parts/RecordDialog';
import { isNil, show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useEditing, type Editing } from './editing/Editing';
import { Check, Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';
import { PartyFields } from './PartyFields';
import { Places } from './Places';

const ShareBox = styled('section')(({ theme }) => ({
  borderTop: `1px solid ${theme.vars!.palette.tally.rule}`,
  marginTop: 14,
  paddingTop: 10,
}));
const Bar = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', marginBottom: 10 });

type State = Editing<DistributeBody>;

export default function DistributeFields() {
  const e = useEditing<DistributeBody>();
  const { body, change, effect, form } = e;
  const blank = useQuery({ queryKey: ['blank'], queryFn: () => data(api.GET('/api/v1/blank')) }).data;
  const by = { bank: blank?.bank, method: blank?.method };
  const found = useQuery({
    queryKey: ['unidentified', body.from],
    queryFn: () =>
      data(api.GET('/api/v1/registers/{register}', { params: { path: { register: 'unidentified' }, query: { limit: 500 } } })),
    enabled: !!body.from,
  }).data;
  const item = found?.rows.find((i) => i.id === body.from);
  const left = effect?.balances.find((b) => b.kind === 'item' && b.id === body.from)?.after ?? item?.open;
  const fits = { customer: 0, arrived: '', onAccount: false };
  return (
    <>
      {body.from ? (
        <FormGrid>
          <Typography sx={{ alignSelf: 'center' }}>
            {found && !item && 'This money is identified already. Look at it under Papers.'}
            {item && (
              <>
                <b>{item.number}</b>, {showDay(item.day)}, {item.reference || 'no reference'}: {show(item.open)}
                <br />
                {show(left)} will stay not identified
              </>
            )}
          </Typography>
          <Figure kind="day" label="Date" name="day" />
        </FormGrid>
      ) : (
        <FormGrid>
          <Figure kind="amount" label="The whole transfer" name="amount" />
          <Figure kind="day" label="Date" name="day" />
          <MoneyFields brief />
        </FormGrid>
      )}
      {!!body.from && <Guesses {...e} />}
      {(body.receipts ?? []).map((r, n) => (
        <ReceiptShare key={`r${n}`} {...e} receipt={r} n={n} offer={body.from ? (left ?? '') : ''} />
      ))}
      {(body.deposits ?? []).map((d, n) => (
        <DepositShare key={`d${n}`} {...e} deposit={d} n={n} offer={body.from ? (left ?? '') : ''} />
      ))}
      {!!body.from && (
        <ShareBox aria-label="Sent back">
          <FormGrid>
            <UnderstoodField
              kind="amount"
              label="Sent back to where it came from"
              field="sendBack"
              value={body.sendBack ?? ''}
              onChange={(sendBack) =>
                form.change(
                  (now) =>
                    sendBack
                      ? { sendBack, bank: now.bank || by.bank, method: now.method || by.method }
                      : { sendBack, bank: 0, method: '' },
                  'sendBack',
                )
              }
              error={e.refused('sendBack')}
            />
            <Button onClick={() => change({ sendBack: item?.open, receipts: [], deposits: [], ...by })}>
              Send all of it back
            </Button>
            {!isNil(body.sendBack) && (
              <MoneyFields out brief nextCheque={effect?.papers.find((p) => p.kind === 'refund')?.cheque} />
            )}
          </FormGrid>
        </ShareBox>
      )}
      <Bar sx={{ mt: 2 }} data-field="receipts">
        <Button variant="outlined" onClick={() => change((now) => ({ receipts: [...(now.receipts ?? []), { ...fits }] }))}>
          Another customer
        </Button>
      </Bar>
    </>
  );
}

/** Whose it may be, with what speaks for it; taken by a person alone. */
function Guesses({ body, change }: State) {
  const { data: found } = useQuery({
    queryKey: ['whose', body.from],
    queryFn: () => data(api.GET('/api/v1/unidentified/{item}/whose', { params: { path: { item: body.from ?? 0 } } })),
  });
  const first = body.receipts?.[0];
  if (!found || !first || first.customer || (body.receipts?.length ?? 0) > 1 || body.deposits?.length) return null;
  if (found.rows.length === 0)
    return <Typography color="textSecondary">Nothing in its text or amount says whose it is.</Typography>;
  return (
    <ShareBox aria-label="Whose it may be">
      {found.rows.map((g) => (
        <Bar key={g.id}>
          <Button variant="outlined" onClick={() => change({ receipts: [{ ...first, customer: g.id }] })}>
            {g.name}
          </Button>
          <Typography variant="body2" color="textSecondary">
            {g.reasons.join(' · ')}
          </Typography>
        </Bar>
      ))}
    </ShareBox>
  );
}

/** What a share becomes, and taking it out. */
function Kind({ deposit, onTurn, onDrop }: { deposit: boolean; onTurn: () => void; onDrop: () => void }) {
  return (
    <Bar>
      <Filters
        exclusive
        size="small"
        value={deposit}
        onChange={(_, v) => v !== null && v !== deposit && onTurn()}
        aria-label="What it is"
      >
        <ToggleButton value={false}>for what is owed</ToggleButton>
        <ToggleButton value={true}>a deposit</ToggleButton>
      </Filters>
      <span style={{ flex: 1 }} />
      <Button onClick={onDrop}>Take out</Button>
    </Bar>
  );
}

function ReceiptShare({
  body,
  change,
  effect,
  refused,
  receipt: r,
  n,
  offer,
}: State & { receipt: ReceiptBody; n: number; offer: string }) {
  const set = (part: Partial<ReceiptBody> | ((now: ReceiptBody) => Partial<ReceiptBody>)) =>
    change((now) => ({
      receipts: (now.receipts ?? []).map((x, i) => (i === n ? { ...x, ...(typeof part === 'function' ? part(x) : part) } : x)),
    }));
  const drop = (now: DistributeBody) => (now.receipts ?? []).filter((_, i) => i !== n);
  const at = `receipts[${n}].`;
  return (
    <ShareBox aria-label={`Share ${n + 1}`}>
      <Kind
        deposit={false}
        onTurn={() =>
          change((now) => ({
            receipts: drop(now),
            deposits: [...(now.deposits ?? []), { customer: r.customer, amount: r.arrived }],
          }))
        }
        onDrop={() => change((now) => ({ receipts: drop(now) }))}
      />
      <FormGrid>
        <PartyFields
          customer={r.customer ?? 0}
          job={r.job ?? 0}
          onChange={(customer, job) =>
            set((now) => ({ customer, job, placements: customer === now.customer ? now.placements : [] }))
          }
          refused={refused}
          prefix={at}
        >
          {(c) => <div>{c}</div>}
        </PartyFields>
        <Figure kind="amount" label="Share" name={`${at}arrived`} placeholder={offer && show(offer)} />
      </FormGrid>
      {!!r.customer && (
        <>
          <Places
            customer={r.customer}
            amount={r.arrived || offer}
            reference={body.reference ?? ''}
            job={r.job}
            day={body.day ?? ''}
            prefix={at}
            placements={r.placements ?? []}
            onChange={(to) => set((now) => ({ placements: to(now.placements ?? []) }))}
            effect={effect}
            refused={refused}
          />
          <Check name={`${at}onAccount`} label="What is set against nothing stays on account" />
        </>
      )}
    </ShareBox>
  );
}

function DepositShare({ change, refused, deposit: d, n, offer }: State & { deposit: DepositBody; n: number; offer: string }) {
  const set = (part: Partial<DepositBody>) =>
    change((now) => ({ deposits: (now.deposits ?? []).map((x, i) => (i === n ? { ...x, ...part } : x)) }));
  const drop = (now: DistributeBody) => (now.deposits ?? []).filter((_, i) => i !== n);
  const at = `deposits[${n}].`;
  return (
    <ShareBox aria-label={`Deposit ${n + 1}`}>
      <Kind
        deposit
        onTurn={() =>
          change((now) => ({
            deposits: drop(now),
            receipts: [...(now.receipts ?? []), { customer: d.customer, arrived: d.amount, onAccount: false }],
          }))
        }
        onDrop={() => change((now) => ({ deposits: drop(now) }))}
      />
      <FormGrid>
        <PartyFields
          customer={d.customer ?? 0}
          job={d.job ?? 0}
          onChange={(customer, job) => set({ customer, job })}
          refused={refused}
          prefix={at}
        >
          {(c, j) => (
            <>
              <div>{c}</div>
              <div>{j}</div>
            </>
          )}
        </PartyFields>
        <Figure kind="amount" label="Share" name={`${at}amount`} placeholder={offer && show(offer)} />
      </FormGrid>
    </ShareBox>
  );
}
