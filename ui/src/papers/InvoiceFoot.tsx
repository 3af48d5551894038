import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { flushSync } from 'react-dom';
import type { Effect, InvoiceBody, OpenItem, UseBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { Totals, Two } from '../parts/Sheet';
import { useFirm } from '../parts/records';
import { isNil, show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { Check, Chosen } from './editing/fields';
import type { Form } from './editing/form';
import { useValue, type Refused } from './editing/useForm';
import { formNames } from './formNames';
import { written } from './invoiceLines';
import { useUsed } from './useUsed';
import { LessField } from './LessField';
import { Deductions, KeptBack } from './InvoiceTakenOff';

const Ways = styled('div')(({ theme }) => ({
  marginTop: 12,
  display: 'flex',
  flexDirection: 'column',
  gap: 6,
  fontSize: 13.5,
  color: theme.vars!.palette.text.secondary,
}));
const steps = [{ value: '', name: 'not at all' }, ...['0.05', '0.10', '1'].map((s) => ({ value: s, name: s }))];

const Way = styled('label')({ display: 'flex', gap: 8, alignItems: 'baseline' });

interface Props {
  form: Form<InvoiceBody>;
  effect: Effect | undefined;
  credits: OpenItem[];
  refused: Refused;
}

const none: UseBody[] = [];
// Credits that are offered before one asks for all of them.
const offeredAtFirst = 6;

const forms = [{ value: '', name: 'Invoice' }, ...Object.entries(formNames).map(([value, name]) => ({ value, name }))];

/** Lines that are no work of their own: carriage, or an adjustment with its own word; no discount is taken of them. */
function Apart({ form }: { form: Form<InvoiceBody> }) {
  const taxCode = useFirm().data?.taxCode ?? 0;
  const add = (text: string, at: Element) => {
    const n = written(form.body.lines ?? []).length;
    const sheet = at.closest('[data-editor]');
    flushSync(() => form.change((now) => ({ lines: [...written(now.lines ?? []), { text, taxCode, apart: true }] })));
    sheet?.querySelector<HTMLElement>(`[data-line="${n}"]`)?.focus();
  };
  return (
    <Way as="div">
      {['Carriage', 'Adjustment'].map((text) => (
        <Button
          key={text}
          size="small"
          sx={{ p: '0 2px', minHeight: 24, fontSize: 13 }}
          onClick={(e) => add(text, e.currentTarget)}
        >
          + {text.toLowerCase()}
        </Button>
      ))}
    </Way>
  );
}

/** How the lines are read: discount on the paper, tax inside; of an invoice its name and its rounding too. */
export function WaysOf({ form, refused, invoice }: { form: Form<InvoiceBody>; refused: Refused; invoice?: boolean }) {
  const percent = useValue(form, (b) => b.discountPercent ?? '');
  const discount = useValue(form, (b) => b.discount ?? '');
  const includes = useValue(form, (b) => !!b.includes);
  const roundTo = useValue(form, (b) => b.roundTo ?? '');
  const used = useUsed();
  return (
    <Ways>
      {invoice && <Apart form={form} />}
      {(used('discount') || percent || discount) && (
        <Way>
          Discount on the paper
          <LessField
            label="Discount on the paper"
            field="discount"
            percent={percent}
            amount={discount}
            onChange={(discountPercent, discount) => form.change({ discountPercent, discount }, 'discount')}
            error={refused('discount')}
          />
        </Way>
      )}
      {(used('includes') || includes) && (
        <Check name="includes" label={<span style={{ fontSize: 13.5 }}>Prices include tax</span>} />
      )}
      {invoice && (
        <>
          {(used('roundTo') || roundTo) && (
            <Way>
              Round the total to
              <Chosen name="roundTo" label="Round the total to" onSheet width={110} options={steps} />
            </Way>
          )}
          <Way>
            It is called
            <Chosen name="form" label="It is called" onSheet width={124} options={forms} />
          </Way>
        </>
      )}
    </Ways>
  );
}

/** What the lines come to, before anything is taken off. */
export function Sums({ paper: p }: { paper: Effect['paper'] }) {
  return (
    <>
      {!isNil(p?.discount) && (
        <tr>
          <td>Discount</td>
          <td>
            <Amount value={p?.off} />
          </td>
        </tr>
      )}
      <tr>
        <td>Net</td>
        <td>
          <Amount value={p?.net} />
        </td>
      </tr>
      {(p?.taxes ?? []).map((t) => (
        <tr key={t.code + t.percent}>
          <td>Tax {t.percent} %</td>
          <td>
            <Amount value={t.tax} />
          </td>
        </tr>
      ))}
      {!isNil(p?.rounding) && (
        <tr>
          <td>Rounding</td>
          <td>
            <Amount value={p?.rounding} />
          </td>
        </tr>
      )}
      <tr className="total">
        <td>Total</td>
        <td>
          <Amount value={p?.before} />
        </td>
      </tr>
    </>
  );
}

/** What the invoice comes to, less what is set against it, left to pay. */
export function InvoiceFoot({ form, effect, credits, refused }: Props) {
  const p = effect?.paper;
  const uses = useValue(form, (b) => b.setAgainst ?? none);
  const job = useValue(form, (b) => b.job ?? 0);
  const day = useValue(form, (b) => b.day);
  const [whole, setWhole] = useState(false);
  // What is taken, and what is of the same job, stands first.
  const place = (c: OpenItem) =>
    uses.some((u) => u.credit === c.id) ? 0 : c.jobId === job || (!c.jobId && c.kind !== 'deposit') ? 1 : 2;
  const sorted = [...credits].sort((a, b) => place(a) - place(b));
  const shown = whole ? sorted : sorted.slice(0, Math.max(offeredAtFirst, uses.length));
  const set = (credit: number, amount: string | null) =>
    form.change(({ setAgainst }) => {
      const now = setAgainst ?? [];
      if (amount === null) return { setAgainst: now.filter((u) => u.credit !== credit) };
      if (now.some((u) => u.credit === credit))
        return { setAgainst: now.map((u) => (u.credit === credit ? { credit, amount } : u)) };
      return { setAgainst: [...now, { credit, amount }] };
    }, `setAgainst.${credit}`);
  return (
    <Two>
      <WaysOf form={form} refused={refused} invoice />
      <Totals>
        <tbody>
          <Sums paper={p} />
          <Deductions form={form} paper={p} day={day} refused={refused} />
          <KeptBack form={form} paper={p} refused={refused} />
          {shown.map((c) => {
            const at = uses.findIndex((u) => u.credit === c.id);
            const offered = (effect?.pairs ?? []).filter((x) => x.credit === c.id).map((x) => x.amount);
            const name = `${c.kind === 'deposit' ? 'Deposit' : 'On account'} ${c.number}, ${showDay(c.day, day)}`;
            return (
              <tr key={c.id} className={c.kind === 'deposit' ? 'held' : ''}>
                <td>
                  {name}{' '}
                  {at < 0 ? (
                    <Button onClick={() => set(c.id, '')} aria-label={`set against it: ${c.number}`}>
                      set against
                    </Button>
                  ) : (
                    <Button onClick={() => set(c.id, null)} aria-label={`take off: ${c.number}`}>
                      take off
                    </Button>
                  )}
                </td>
                <td>
                  {at < 0 ? (
                    <Typography component="span" color="textSecondary" variant="body2">
                      {show(c.open)} {c.kind === 'deposit' ? 'held' : 'open'}
                    </Typography>
                  ) : (
                    <UnderstoodField
                      kind="amount"
                      label={`Amount of ${c.number}`}
                      field={`setAgainst[${at}].amount`}
                      value={uses[at]?.amount || (offered.length === 1 ? (offered[0] ?? '') : '')}
                      placeholder={offered.length > 1 ? 'all of it' : ''}
                      onChange={(v) => set(c.id, v)}
                      onSheet
                      error={refused(`setAgainst[${at}].amount`)}
                      width={110}
                    />
                  )}
                </td>
              </tr>
            );
          })}
          {sorted.length > shown.length && (
            <tr>
              <td colSpan={2}>
                <Button onClick={() => setWhole(true)}>All {sorted.length} credits of this customer</Button>
              </td>
            </tr>
          )}
          <tr className="left">
            <td>
              {p?.parts && p.parts.length > 1
                ? `Left to pay in ${p.parts.length} parts`
                : p?.due
                  ? `Left to pay by ${showDay(p.due, day)}`
                  : 'Left to pay'}
            </td>
            <td>
              <Typography variant="figure">
                <Amount value={p?.left} final />
              </Typography>
            </td>
          </tr>
        </tbody>
      </Totals>
    </Two>
  );
}
