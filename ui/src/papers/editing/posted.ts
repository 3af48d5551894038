import { useQueryClient } from '@tanstack/react-query';
import { useCallback } from 'react';
import { lastingKeys } from '../../parts/records';

// How long the page that comes has for itself, in milliseconds.
const untilRead = 200;

/**
 * Says that something was posted: what was read before is old. What is on
 * screen is read again at once, the rest when it is looked at.
 */
export function usePosted(): () => void {
  const client = useQueryClient();
  return useCallback(() => {
    const touched = { predicate: (q: { queryKey: readonly unknown[] }) => !lastingKeys.includes(q.queryKey[0] as string) };
    void client.invalidateQueries({ ...touched, refetchType: 'none' });
    // The page that is left need not be read again, and the next one comes first.
    setTimeout(() => void client.refetchQueries({ ...touched, type: 'active', stale: true }), untilRead);
  }, [client]);
}
