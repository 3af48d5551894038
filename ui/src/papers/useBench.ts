import { useQuery } from '@tanstack/react-query';
import { api, data } from '../api/client';

/** What a customer owes and keeps back, what can settle it, and what we owe. */
export function useBench(customer: number) {
  return useQuery({
    queryKey: ['bench', customer],
    queryFn: () => data(api.GET('/api/v1/customers/{id}/bench', { params: { path: { id: customer } } })),
    enabled: customer > 0,
  }).data;
}
