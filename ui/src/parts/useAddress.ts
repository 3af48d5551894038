import { useCallback } from 'react';
import { useSearchParams } from 'react-router';

/**
 * What the address says, and how a part of it is set, or with '' taken off. It
 * begins from the address as it is: what was set a moment ago counts, though it
 * is not drawn yet.
 */
export function useAddress(): [URLSearchParams, (name: string, value: string) => void] {
  const [params, setParams] = useSearchParams();
  const set = useCallback(
    (name: string, value: string) => {
      const now = new URLSearchParams(window.location.search);
      if (value) now.set(name, value);
      else now.delete(name);
      setParams(now, { replace: true });
    },
    [setParams],
  );
  return [params, set];
}
