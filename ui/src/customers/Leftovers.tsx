import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { Leads } from '../parts/may';
import { api, data, type OpenItem } from '../api/client';
import { useToday } from '../parts/records';
import { show } from '../parts/show';
import type { Pair } from './BenchLinks';

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
  /** Sets pairs up, as a proposal. */
  onPropose: (pairs: Pair[]) => void;
}

// More pairs than these cannot be looked over.
const mostPairs = 20;

/** What else can become of what was taken up: what is left over is not left hanging. */
export function Leftovers({ customer, debit, credit, onPropose }: Props) {
  const today = useToday();
  const step = (name: string, to: string) => (
    <Leads variant="outlined" to={to}>
      {name}
    </Leads>
  );
  const propose = async (c: OpenItem) => {
    const query = { amount: c.open, reference: c.reference || undefined, job: c.jobId || undefined, day: today };
    const found = await data(api.GET('/api/v1/customers/{id}/proposal', { params: { path: { id: customer }, query } }));
    onPropose(
      found.rows
        .filter((r) => r.register === 'receivables')
        .slice(0, mostPairs)
        .map((r) => ({ debit: r.item, credit: c.id, amount: '' })),
    );
  };
  if (credit)
    return (
      <Bar aria-label={`What becomes of ${credit.number}`}>
        <span>
          {show(credit.open)} of {credit.number}: set it against something, or
        </span>
        {credit.kind !== 'supplier bill' && (
          <Button variant="outlined" onClick={() => void propose(credit)}>
            Propose
          </Button>
        )}
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
