import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useNavigate } from 'react-router';
import type { OpenItem } from '../api/client';
import { show } from '../parts/show';

const Bar = styled('div')(({ theme }) => ({
  display: 'flex',
  gap: 8,
  alignItems: 'center',
  color: theme.vars!.palette.text.secondary,
  fontSize: 14,
}));

interface Props {
  customer: number;
  debit: OpenItem | undefined;
  credit: OpenItem | undefined;
}

/** What else can become of what was taken up: what is left over is not left hanging. */
export function Leftovers({ customer, debit, credit }: Props) {
  const go = useNavigate();
  const step = (name: string, to: string) => (
    <Button variant="outlined" onClick={() => go(to)}>
      {name}
    </Button>
  );
  if (credit)
    return (
      <Bar aria-label={`What becomes of ${credit.number}`}>
        <span>
          {show(credit.open)} of {credit.number}: set it against something, or
        </span>
        {credit.money && step('Refund', `/papers/new/refund?customer=${customer}&credit=${credit.id}`)}
        {credit.money && step('Move', `/papers/new/transfer?customer=${customer}&credit=${credit.id}`)}
        {credit.register === 'deposits' &&
          step('Keep a part', `/papers/new/deposit_split?customer=${customer}&credit=${credit.id}`)}
      </Bar>
    );
  if (debit)
    return (
      <Bar aria-label={`What becomes of ${debit.number}`}>
        <span>
          {show(debit.open)} of {debit.number}: settle it, or
        </span>
        {step('Receipt', `/papers/new/receipt?customer=${customer}`)}
        {step('Write off', `/papers/new/write-off?customer=${customer}&item=${debit.id}`)}
        {step(debit.disputed ? 'Disputed: look at it' : 'Dispute', `/papers/${debit.paperId}`)}
      </Bar>
    );
  return null;
}
