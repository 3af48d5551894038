import { styled } from '@mui/material/styles';
import type { InvoiceBody, InvoiceLineBody } from '../api/client';
import { show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useCostsOf } from './costLines';
import { usePaperForm } from './editing/Editing';
import type { Refused } from './editing/useForm';

const One = styled('div')(({ theme }) => ({
  display: 'flex',
  flexWrap: 'wrap',
  alignItems: 'baseline',
  gap: '0 8px',
  fontSize: 13,
  color: theme.vars!.palette.text.secondary,
}));

/** The costs that a line passes on: how much of each, and with which markup. */
export function CostsOfLine({ n, line, refused }: { n: number; line: InvoiceLineBody; refused: Refused }) {
  const form = usePaperForm<InvoiceBody>();
  const known = useCostsOf(line);
  const set = (i: number, part: { amount?: string; markup?: string }, field: string) =>
    form.change(
      (now) => ({
        lines: (now.lines ?? []).map((l, at) =>
          at === n ? { ...l, costs: (l.costs ?? []).map((c, x) => (x === i ? { ...c, ...part } : c)) } : l,
        ),
      }),
      field,
    );
  return (
    <>
      {(line.costs ?? []).map((c, i) => {
        const of = known.find((k) => k.paper === c.paper && k.line === c.line);
        const f = (name: string) => `lines[${n}].costs[${i}].${name}`;
        const name = of?.text ?? 'the cost';
        return (
          <One key={`${c.paper}.${c.line}`}>
            {(line.costs?.length ?? 0) > 1 && <span>{name}</span>}
            {of?.number}
            <UnderstoodField
              kind="amount"
              label={`Cost of ${name}, line ${n + 1}`}
              field={f('amount')}
              value={c.amount ?? ''}
              placeholder={of ? show(of.left) : 'all of it'}
              onChange={(amount) => set(i, { amount }, f('amount'))}
              onSheet
              error={refused(f('amount'))}
              width={84}
            />
            {of?.passOn !== 'behalf' && (
              <>
                + %
                <UnderstoodField
                  kind="percent"
                  label={`Markup on ${name}, line ${n + 1}`}
                  field={f('markup')}
                  value={c.markup ?? ''}
                  placeholder={of?.markup}
                  onChange={(markup) => set(i, { markup }, f('markup'))}
                  onSheet
                  error={refused(f('markup'))}
                  width={56}
                />
              </>
            )}
          </One>
        );
      })}
    </>
  );
}
