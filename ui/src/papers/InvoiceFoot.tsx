import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import type { Effect, InvoiceBody, OpenItem } from '../api/client';
import { Amount } from '../parts/Amount';
import { Totals, Two } from '../parts/Sheet';
import { isNil, show, showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { LessField } from './LessField';

const Ways = styled('div')(({ theme }) => ({
  marginTop: 12,
  display: 'flex',
  flexDirection: 'column',
  gap: 6,
  fontSize: 13.5,
  color: theme.vars!.palette.text.secondary,
}));
const Way = styled('label')({ display: 'flex', gap: 8, alignItems: 'baseline' });

interface Props {
  body: InvoiceBody;
  effect: Effect | undefined;
  credits: OpenItem[];
  onChange: (part: Partial<InvoiceBody> | ((now: InvoiceBody) => Partial<InvoiceBody>)) => void;
  refused: (field: string) => boolean;
}

/** What the invoice comes to, less what is set against it, left to pay. */
export function InvoiceFoot({ body, effect, credits, onChange, refused }: Props) {
  const p = effect?.paper;
  const uses = body.setAgainst ?? [];
  const ofJob = (c: OpenItem) => Number(c.jobId === body.job || (!c.jobId && c.kind !== 'deposit'));
  const sorted = [...credits].sort((a, b) => ofJob(b) - ofJob(a)).slice(0, 12);
  const set = (credit: number, amount: string | null) =>
    onChange(({ setAgainst }) => {
      const now = setAgainst ?? [];
      if (amount === null) return { setAgainst: now.filter((u) => u.credit !== credit) };
      if (now.some((u) => u.credit === credit))
        return { setAgainst: now.map((u) => (u.credit === credit ? { credit, amount } : u)) };
      return { setAgainst: [...now, { credit, amount }] };
    });
  return (
    <Two>
      <Ways>
        <Way>
          Discount on the paper
          <LessField
            label="Discount on the paper"
            field="discount"
            percent={body.discountPercent ?? ''}
            amount={body.discount ?? ''}
            onChange={(discountPercent, discount) => onChange({ discountPercent, discount })}
            error={refused('discount')}
          />
        </Way>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={!!body.includes}
              onChange={(e) => onChange({ includes: e.target.checked })}
              sx={{ padding: '2px 6px 2px 9px' }}
            />
          }
          label={<span style={{ fontSize: 13.5 }}>Prices include tax</span>}
        />
        <Way>
          Round the total to
          <Select
            variant="standard"
            disableUnderline
            value={body.roundTo ?? ''}
            displayEmpty
            onChange={(e) => onChange({ roundTo: e.target.value })}
            inputProps={{ 'aria-label': 'Round the total to' }}
            sx={{ fontSize: 13.5 }}
          >
            <MenuItem value="">not at all</MenuItem>
            {['0.05', '0.10', '1'].map((s) => (
              <MenuItem key={s} value={s}>
                {s}
              </MenuItem>
            ))}
          </Select>
        </Way>
      </Ways>
      <Totals>
        <tbody>
          {!isNil(p?.discount) && (
            <tr>
              <td>Discount</td>
              <td>
                <Amount value={`-${p?.discount}`} />
              </td>
            </tr>
          )}
          <tr>
            <td>Net</td>
            <td>
              <Amount value={p?.net ?? '0.00'} />
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
              <Amount value={p?.total ?? '0.00'} />
            </td>
          </tr>
          {sorted.map((c) => {
            const at = uses.findIndex((u) => u.credit === c.id);
            const offered = (effect?.pairs ?? []).filter((x) => x.credit === c.id).map((x) => x.amount);
            const name = `${c.kind === 'deposit' ? 'Deposit' : 'On account'} ${c.number}, ${showDay(c.day, body.day)}`;
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
          <tr className="left">
            <td>
              {p?.parts && p.parts.length > 1
                ? `Left to pay in ${p.parts.length} parts`
                : p?.due
                  ? `Left to pay by ${showDay(p.due, body.day)}`
                  : 'Left to pay'}
            </td>
            <td>
              <Typography variant="figure">
                <Amount value={p?.left ?? '0.00'} final />
              </Typography>
            </td>
          </tr>
        </tbody>
      </Totals>
    </Two>
  );
}
