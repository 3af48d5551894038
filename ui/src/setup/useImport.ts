import { useCallback, useRef, useState } from 'react';
import { api, data, type Notice } from '../api/client';
import type { components } from '../api/schema';
import { toNotices } from '../parts/Notices';

type Import = components['schemas']['Import'];
type Progress = components['schemas']['ImportProgress'];
export type Kind = 'customers' | 'jobs' | 'articles' | 'accounts' | 'taxcodes' | 'terms' | 'banks';

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** Sends a file to be looked at or imported, and tells how far it is; it can be stopped at any time. */
export function useImport() {
  const [progress, setProgress] = useState<Progress | null>(null);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const [next, setNext] = useState(0); // the row to go on with, where one was stopped
  const stopper = useRef<AbortController | null>(null);
  const send = useCallback(async (kind: Kind, csv: string, preview: boolean, from = 0): Promise<Import | null> => {
    const as = crypto.randomUUID();
    const mine = new AbortController();
    stopper.current = mine;
    setRefusals([]);
    setNext(0);
    const state = { running: true };
    const ask = () => data(api.GET('/api/v1/import-progress/{as}', { params: { path: { as } } }));
    const follow = async () => {
      // What takes less than a moment needs no bar.
      for (await pause(300); state.running; await pause(300)) {
        const now = await ask().catch(() => null);
        if (state.running && now) setProgress(now);
      }
    };
    void follow();
    try {
      return await data(
        api.POST('/api/v1/import/{kind}', {
          params: { path: { kind }, query: { preview, as, from } },
          body: { csv },
          signal: mine.signal,
        }),
      );
    } catch (e) {
      if (!mine.signal.aborted) setRefusals(toNotices(e));
      else {
        const end = await endOf(ask);
        setRefusals([stopped(end?.why || (end ? 'It was all imported before it could be stopped.' : unsaid))]);
        setNext(end?.next ?? 0);
      }
      return null;
    } finally {
      state.running = false;
      setProgress(null);
    }
  }, []);
  return { progress, refusals, next, send, stop: () => stopper.current?.abort() };
}

/** Where a stopped import ended: it goes on to the end of what it is at. */
async function endOf(ask: () => Promise<Progress>): Promise<Progress | null> {
  for (let tries = 0; tries < 50; tries++) {
    const now = await ask().catch(() => null);
    if (now?.ended) return now;
    await pause(200);
  }
  return null;
}

const unsaid = 'It was told to stop, and has not said yet where it was. What is imported stands in the audit record.';
const stopped = (text: string): Notice => ({ field: 'csv', rule: 'stopped', text, limit: '' });
