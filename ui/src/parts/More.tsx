import Button from '@mui/material/Button';
import { useEffect, useRef } from 'react';

/** Loads what follows when it comes into sight, or when pressed. */
export function More({ busy, onMore, left }: { busy: boolean; onMore: () => void; left?: number }) {
  const ref = useRef<HTMLButtonElement>(null);
  const latest = useRef(onMore);
  useEffect(() => {
    latest.current = onMore;
  });
  useEffect(() => {
    const seen = new IntersectionObserver(([entry]) => entry?.isIntersecting && latest.current(), { rootMargin: '300px' });
    if (ref.current) seen.observe(ref.current);
    return () => seen.disconnect();
  }, [busy]);
  return (
    <Button ref={ref} onClick={onMore} disabled={busy} className="no-print" style={{ alignSelf: 'flex-start' }}>
      {left ? `Show more: ${left} left` : 'Show more'}
    </Button>
  );
}
