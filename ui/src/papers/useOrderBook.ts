import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, data, type Order } from '../api/client';

/** Every order, with what became of its lines. */
export function useOrderBook(): Order[] {
  return (
    useQuery({
      queryKey: ['order-book', 'all'],
      queryFn: () => data(api.GET('/api/v1/order-book', { params: { query: { all: true } } })),
      placeholderData: keepPreviousData,
    }).data?.rows ?? []
  );
}
