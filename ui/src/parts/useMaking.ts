import { useEffect, useRef, useState } from 'react';

interface Named {
  id: number;
  name: string;
}

/** Sheets that are made one after another, with how far it is; it can be stopped at any time. */
export interface Making<T> {
  made: T[];
  of: number;
  /** Whose is being made; '' while none is. */
  now: string;
  /** Whether there was nothing to make. */
  nothing: boolean;
  error: unknown;
  run: () => Promise<void>;
  stop: () => void;
}

/** Makes a sheet of each that is found. Whoever leaves stops it. */
export function useMaking<T>(find: () => Promise<Named[]>, make: (id: number) => Promise<T>): Making<T> {
  const [made, setMade] = useState<T[]>([]);
  const [of, setOf] = useState(0);
  const [now, setNow] = useState('');
  const [nothing, setNothing] = useState(false);
  const [error, setError] = useState<unknown>(null);
  const stopped = useRef(false);
  useEffect(() => () => void (stopped.current = true), []);
  const run = async () => {
    stopped.current = false;
    setMade([]);
    setError(null);
    setNow('…');
    try {
      const all = await find();
      setOf(all.length);
      setNothing(all.length === 0);
      const done: T[] = [];
      for (const one of all) {
        if (stopped.current) break;
        setNow(one.name);
        done.push(await make(one.id));
        setMade([...done]);
      }
    } catch (e) {
      setError(e);
    }
    setNow('');
  };
  return { made, of, now, nothing, error, run, stop: () => void (stopped.current = true) };
}
