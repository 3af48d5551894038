import { useCallback } from 'react';
import { useNavigate } from 'react-router';

/** The way back: to where one came from, or, where one came by an address, to the place that this belongs to. */
export function useLeave(home: string): () => void {
  const go = useNavigate();
  return useCallback(() => {
    const step = (window.history.state as { idx?: number } | null)?.idx ?? 0;
    void (step > 0 ? go(-1) : go(home, { replace: true }));
  }, [go, home]);
}
