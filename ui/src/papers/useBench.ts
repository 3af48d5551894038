import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data } from '../api/client';
import { useAgain } from './editing/useForm';

interface Narrow {
  find?: string;
  job?: number;
  /** Items that are told all the same: those that were taken. */
  pinned?: number[];
  /** Papers whose items are told all the same. */
  papers?: number[];
  /** What we owe a supplier, in place of what a customer owes. */
  payable?: boolean;
}

/** What a customer owes and keeps back, what can settle it, and what we owe; the oldest of each, narrowed down. */
export function useBench(customer: number, { find = '', job = 0, pinned = [], papers = [], payable = false }: Narrow = {}) {
  const query = {
    again: useAgain() || undefined,
    papers: papers.length ? papers : undefined,
    limit: 24,
    q: find || undefined,
    job: job || undefined,
    pinned: pinned.length ? pinned : undefined,
  };
  return useQuery({
    queryKey: ['bench', customer, payable, query],
    queryFn: () =>
      payable
        ? data(api.GET('/api/v1/suppliers/{id}/bench', { params: { path: { id: customer }, query } }))
        : data(api.GET('/api/v1/customers/{id}/bench', { params: { path: { id: customer }, query } })),
    enabled: customer > 0,
    placeholderData: (old, of) => (of?.queryKey[1] === customer ? keepPreviousData(old) : undefined),
  }).data;
}
