import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import type { Cost, InvoiceBody, InvoiceLineBody } from '../api/client';
import { show } from '../parts/show';
import { costLine, costsTogether, useCosts } from './costLines';
import { usePaperForm } from './editing/Editing';
import { useValue } from './editing/useForm';
import { isBlank } from './invoiceLines';

const Row = styled('div')(({ theme }) => ({
  display: 'flex',
  flexWrap: 'wrap',
  gap: '0 14px',
  alignItems: 'baseline',
  fontSize: 13.5,
  color: theme.vars!.palette.text.secondary,
}));

/** What was bought for the customer and is not billed: each cost is taken with one key, or all together. */
export function FromCosts() {
  const form = usePaperForm<InvoiceBody>();
  const customer = useValue(form, (b) => b.customer ?? 0);
  const job = useValue(form, (b) => b.job ?? 0);
  const taken = useValue(form, (b) => (b.lines ?? []).flatMap((l) => (l.costs ?? []).map((c) => `${c.paper}.${c.line}`)).join());
  const costs = useCosts(customer).filter(
    (c) => !c.taken && !taken.split(',').includes(`${c.paper}.${c.line}`) && (!job || c.jobId === job),
  );
  if (costs.length === 0) return null;
  const take = (lines: InvoiceLineBody[], of: Cost) =>
    form.change((now) => ({ job: now.job || of.jobId, lines: [...(now.lines ?? []).filter((l) => !isBlank(l)), ...lines] }));
  return (
    <Row>
      Bought for them and not billed:
      {costs.slice(0, 4).map((c) => (
        <Button key={c.id} onClick={() => take([costLine(c)], c)}>
          {c.text}, {show(c.free)}
        </Button>
      ))}
      {costs.length > 1 && (
        <>
          <Button onClick={() => take(costs.map(costLine), costs[0]!)}>all {costs.length}</Button>
          <Button onClick={() => take(costsTogether(costs), costs[0]!)}>all in one line</Button>
        </>
      )}
    </Row>
  );
}
