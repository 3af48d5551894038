import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data } from '../api/client';
import { useAgain } from './editing/useForm';

/** What a next invoice of a customer could take: of orders, and of what was billed in advance. */
export function useBillable(customer: number) {
  const again = useAgain() || undefined;
  return useQuery({
    queryKey: ['billable', customer, again],
    queryFn: () => data(api.GET('/api/v1/billable', { params: { query: { customer, again } } })),
    enabled: customer > 0,
    placeholderData: (old, of) => (of?.queryKey[1] === customer ? keepPreviousData(old) : undefined),
  }).data;
}
