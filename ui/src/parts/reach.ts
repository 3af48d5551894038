import { useEffect, useSyncExternalStore } from 'react';
import { callOut, heard, isAway } from '../api/client';

const every = 1500;

/** Whether the program is away. While it is, it is called until it answers. */
export function useAway(): boolean {
  const away = useSyncExternalStore((on) => {
    heard.addEventListener('away', on);
    heard.addEventListener('answers', on);
    return () => {
      heard.removeEventListener('away', on);
      heard.removeEventListener('answers', on);
    };
  }, isAway);
  useEffect(() => {
    if (!away) return;
    const timer = setInterval(() => void callOut(), every);
    return () => clearInterval(timer);
  }, [away]);
  return away;
}
