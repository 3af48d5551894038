import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useEffect } from 'react';

/** What a page is asked for by: where it begins, and the total of those before it. */
export interface From {
  after?: number;
  carried?: string;
}

/**
 * What is worked out customer by customer, page by page: the first stand there at
 * once, the rest follows by itself. The last page has the total of all so far.
 */
export function useByPages<P extends { next?: number; total: string }>(
  key: readonly unknown[],
  read: (from: From) => Promise<P>,
) {
  const { data, hasNextPage, isFetching, isError, error, fetchNextPage } = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => read(pageParam),
    initialPageParam: {} as From,
    getNextPageParam: (p): From | undefined => (p.next ? { after: p.next, carried: p.total } : undefined),
    placeholderData: keepPreviousData,
  });
  useEffect(() => {
    if (hasNextPage && !isFetching && !isError) void fetchNextPage();
  }, [hasNextPage, isFetching, isError, fetchNextPage]);
  const pages = data?.pages ?? [];
  return { pages, last: pages.at(-1), whole: pages.length > 0 && !hasNextPage, error: isError ? error : undefined };
}

/** Does something to some at a time, and says how many are done: all at once are too many for one answer. */
export async function inTurns<T>(
  all: T[],
  most: number,
  act: (some: T[]) => Promise<number>,
  tell?: (done: number) => void,
): Promise<number> {
  let sum = 0;
  for (let n = 0; n < all.length; n += most) {
    tell?.(n);
    sum += await act(all.slice(n, n + most));
  }
  return sum;
}
