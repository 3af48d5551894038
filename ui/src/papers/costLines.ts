import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data, type Cost, type InvoiceBody, type InvoiceLineBody } from '../api/client';
import { usePaperForm } from './editing/Editing';
import { useValue } from './editing/useForm';

/** What a cost is called in the list of them. */
export const costId = (c: { paper: number; line: number }): number => c.paper * 1000 + c.line;

/** The costs that an address names, if it names any one by one. */
export const chosenCosts = (costs: string): number[] | undefined =>
  costs && costs !== 'all' ? costs.split(',').map(Number).filter(Boolean) : undefined;

/** The line that bills a cost: all that waits of it, with the markup that it was bought with. */
export const costLine = (c: Cost): InvoiceLineBody => ({
  text: c.text,
  taxCode: c.passOn === 'supply' ? c.taxCode : undefined,
  costs: [{ paper: c.paper, line: c.line }],
});

/** Several costs in one line, those on the customer's behalf in one of their own. */
export function costsTogether(costs: Cost[]): InvoiceLineBody[] {
  return (['supply', 'behalf'] as const)
    .map((how) => costs.filter((c) => c.passOn === how))
    .filter((some) => some.length > 0)
    .map((some) => ({
      text: some.length === 1 ? some[0]!.text : some[0]!.passOn === 'behalf' ? 'Paid on your behalf' : 'Costs passed on',
      taxCode: some[0]!.passOn === 'supply' ? some[0]!.taxCode : undefined,
      costs: some.map((c) => ({ paper: c.paper, line: c.line })),
    }));
}

/** Every cost of the invoice's customer that is not billed, also what drafts have taken. */
export function useCosts(customer: number): Cost[] {
  return (
    useQuery({
      queryKey: ['costs', 'of', customer],
      queryFn: () => data(api.GET('/api/v1/costs', { params: { query: { customer, state: 'waiting', limit: 200 } } })),
      enabled: customer > 0,
      placeholderData: keepPreviousData,
    }).data?.rows ?? []
  ).filter((c) => c.customerId === customer);
}

/** The costs that a line bills, as far as they are known. */
export function useCostsOf(line: InvoiceLineBody): Cost[] {
  const form = usePaperForm<InvoiceBody>();
  const customer = useValue(form, (b) => b.customer ?? 0);
  const all = useCosts(line.costs?.length ? customer : 0);
  return all.filter((c) => line.costs?.some((x) => x.paper === c.paper && x.line === c.line));
}
