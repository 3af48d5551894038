import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import ToggleButton from '@mui/material/ToggleButton';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { api, data, type DepositBody, type DistributeBody, type ReceiptBody } from '../api/client';
import { Filters } from '../parts/ListTable';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { isNil, show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { Field } from './Field';
import { MoneyFields } from './MoneyFields';
import { PaperEditor, type Editing } from './PaperEditor';
import { PartyFields } from './PartyFields';
import { Places, withOffered } from './Places';

const ShareBox = styled('section')(({ theme }) => ({
  borderTop: `1px solid ${theme.vars!.palette.tally.rule}`,
  marginTop: 14,
  paddingTop: 10,
}));
const Bar = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', marginBottom: 10 });

/**
 * Whose money is it? One transfer for several customers, or money that was
 * not identified when it came.
 */
export function DistributeEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  const from = Number(params.get('from') ?? 0);
  return (
    <PaperEditor<DistributeBody>
      kind="distribution"
      path="/api/v1/distributions"
      id={id}
      title={from ? 'Whose money is it?' : 'One transfer for several customers'}
      lead={
        from
          ? 'Money that was not identified becomes a deposit or a receipt of its owner; it can be shared, and a part sent back.'
          : 'Each share becomes a receipt or a deposit of its customer. The shares must come to the transfer.'
      }
      hint="Say whose it is: the entries of each share are shown here before anything is written."
      initial={{
        from,
        day: today,
        amount: '',
        bank: from ? 0 : 1,
        method: from ? '' : 'transfer',
        reference: '',
        receipts: [{ customer: Number(params.get('customer') ?? 0), arrived: params.get('amount') ?? '', onAccount: false }],
        deposits: [],
        sendBack: '',
      }}
      begun={(b) => !!(b.receipts?.some((r) => r.customer) || b.deposits?.some((d) => d.customer))}
      quiet={(b) => [
        ...(b.amount || b.from ? [] : ['amount']),
        ...(b.receipts ?? []).flatMap((r, i) => (r.arrived ? [] : [`receipts[${i}].arrived`])),
        ...(b.deposits ?? []).flatMap((d, i) => (d.amount ? [] : [`deposits[${i}].amount`])),
      ]}
      exact={(b, effect) => ({
        ...b,
        receipts: (b.receipts ?? []).map((r) => ({ ...r, placements: withOffered(r.placements, effect) })),
      })}
      posted="Money"
      then={() => () => '/desk'}
    >
      {(e) => <Fields {...e} />}
    </PaperEditor>
  );
}

type State = Editing<DistributeBody>;

function Fields(e: State) {
  const { body, change, effect, refused } = e;
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
          <Day {...e} />
        </FormGrid>
      ) : (
        <FormGrid>
          <Field on={{ body, change, refused }} kind="amount" label="The whole transfer" name="amount" autoFocus />
          <Day {...e} />
          <MoneyFields value={body} onChange={change} refused={refused} next="" brief />
        </FormGrid>
      )}
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
                change({ sendBack, bank: sendBack ? body.bank || 1 : 0, method: sendBack ? body.method || 'transfer' : '' })
              }
              error={refused('sendBack')}
            />
            <Button onClick={() => change({ sendBack: item?.open, receipts: [], deposits: [], bank: 1, method: 'transfer' })}>
              Send all of it back
            </Button>
            {!isNil(body.sendBack) && (
              <MoneyFields
                value={body}
                onChange={change}
                refused={refused}
                next=""
                out
                brief
                nextCheque={effect?.papers.find((p) => p.kind === 'refund')?.cheque}
              />
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

function Day({ body, change, refused }: State) {
  return <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />;
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
          refused={(f) => refused(at + f)}
          autoFocus={!!body.from && n === 0}
        >
          {(c) => <div>{c}</div>}
        </PartyFields>
        <UnderstoodField
          kind="amount"
          label="Share"
          field={`${at}arrived`}
          value={r.arrived ?? ''}
          onChange={(arrived) => set({ arrived })}
          error={refused(`${at}arrived`)}
          placeholder={offer && show(offer)}
        />
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
          <FormControlLabel
            data-field={`${at}onAccount`}
            control={<Checkbox size="small" checked={!!r.onAccount} onChange={(e) => set({ onAccount: e.target.checked })} />}
            label="What is not placed stays on account"
          />
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
          refused={(f) => refused(at + f)}
        >
          {(c, j) => (
            <>
              <div>{c}</div>
              <div>{j}</div>
            </>
          )}
        </PartyFields>
        <UnderstoodField
          kind="amount"
          label="Share"
          field={`${at}amount`}
          value={d.amount ?? ''}
          onChange={(amount) => set({ amount })}
          error={refused(`${at}amount`)}
          placeholder={offer && show(offer)}
        />
      </FormGrid>
    </ShareBox>
  );
}
