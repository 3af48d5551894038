import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { Effect, InvoiceBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { isNil, show, showDay, showIn } from '../parts/show';
import { Boxed, UnderstoodField } from '../parts/UnderstoodField';
import type { Form } from './editing/form';
import { useValue, type Refused } from './editing/useForm';
import { useBillable } from './useBillable';

interface Props {
  form: Form<InvoiceBody>;
  paper: Effect['paper'];
  refused: Refused;
}

const none: NonNullable<InvoiceBody['deductions']> = [];

/** What was billed in advance, to be taken off: each deposit invoice in whole or in part. */
export function Deductions({ form, paper, day, refused }: Props & { day: string | undefined }) {
  const customer = useValue(form, (b) => b.customer ?? 0);
  const job = useValue(form, (b) => b.job ?? 0);
  const taken = useValue(form, (b) => b.deductions ?? none);
  const advances = useBillable(customer)?.advances ?? [];
  // What is of another job is deducted all the same when it was taken.
  const offered = advances.filter((a) => taken.some((d) => d.paper === a.id) || !job || a.jobId === job || !a.jobId);
  const set = (id: number, amount: string | null) =>
    form.change(({ deductions }) => {
      const now = deductions ?? [];
      if (amount === null) return { deductions: now.filter((d) => d.paper !== id) };
      if (now.some((d) => d.paper === id)) return { deductions: now.map((d) => (d.paper === id ? { paper: id, amount } : d)) };
      return { deductions: [...now, { paper: id, amount }] };
    }, `deductions.${id}`);
  return (
    <>
      {offered.map((a) => {
        const at = taken.findIndex((d) => d.paper === a.id);
        return (
          <tr key={a.id}>
            <td>
              Deposit invoice {a.number}, {showDay(a.day, day)}{' '}
              <Button onClick={() => set(a.id, at < 0 ? '' : null)} aria-label={`${at < 0 ? 'deduct' : 'take off'}: ${a.number}`}>
                {at < 0 ? 'deduct' : 'take off'}
              </Button>
            </td>
            <td>
              {at < 0 ? (
                <Typography component="span" color="textSecondary" variant="body2">
                  {showIn(a.currency, a.left)} left
                </Typography>
              ) : (
                <UnderstoodField
                  kind="amount"
                  label={`Deducted of ${a.number}`}
                  field={`deductions[${at}].amount`}
                  value={taken[at]?.amount ?? ''}
                  placeholder={taken.length === 1 ? show(paper?.deducted) || 'all that fits' : 'all that fits'}
                  onChange={(v) => set(a.id, v)}
                  onSheet
                  error={refused(`deductions[${at}].amount`) || refused(`deductions[${at}].paper`)}
                  width={110}
                />
              )}
            </td>
          </tr>
        );
      })}
    </>
  );
}

/** What the customer keeps back by the job's terms, or another amount with its reason. */
export function KeptBack({ form, paper, refused }: Props) {
  const own = useValue(form, (b) => b.retention);
  const job = useValue(form, (b) => b.job ?? 0);
  if (!own && isNil(paper?.retained))
    return job ? (
      <tr>
        <td colSpan={2}>
          <Button onClick={() => form.change({ retention: { amount: '', reason: '' } })}>They keep something back</Button>
        </td>
      </tr>
    ) : null;
  return (
    <tr className="kept">
      <td>
        Kept back by them{' '}
        <Button
          onClick={() => form.change({ retention: own ? undefined : { amount: paper?.retained ?? '', reason: '' } })}
          aria-label={own ? 'keep back what the job says' : 'keep another amount back'}
        >
          {own ? 'as the job says' : 'another amount'}
        </Button>
        {own && (
          <Boxed
            variant="standard"
            placeholder="Why"
            value={own.reason ?? ''}
            onChange={(e) => form.set('retention.reason', e.target.value)}
            error={!!refused('retention.reason')}
            helperText={refused('retention.reason') || undefined}
            data-field="retention.reason"
            slotProps={{ htmlInput: { 'aria-label': 'Why another amount is kept back', maxLength: 400 } }}
            sx={{ width: 190 }}
          />
        )}
      </td>
      <td>
        {own ? (
          <UnderstoodField
            kind="amount"
            label="Kept back"
            field="retention.amount"
            value={own.amount ?? ''}
            onChange={(v) => form.set('retention.amount', v)}
            onSheet
            error={refused('retention.amount')}
            width={110}
          />
        ) : (
          <Amount value={paper?.keptOff} />
        )}
      </td>
    </tr>
  );
}
