import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { api, Problem } from '../api/client';
import type { components } from '../api/schema';
import type { DraftRef } from '../parts/preview';

export type DraftKind = components['schemas']['DraftBody']['kind'];

export interface DraftState<B> {
  body: B | undefined;
  /** Changes a part; a function is given what was typed up to this moment, which a render may not have seen yet. */
  change: (part: Partial<B> | ((now: B) => Partial<B>)) => void;
  /** What the title says of its saving. */
  told: string;
  /** Why it cannot be saved, and the way out. */
  trouble: Problem | null;
  /** Waits until what was typed is saved; answers the draft, ID 0 when there is none. */
  settle: () => Promise<DraftRef>;
  /** Nothing is saved from here on: it was posted or thrown away. */
  close: () => void;
  id: number;
  reload: () => void;
}

const pause = 600;
const keep = (kind: string, id: number) => `draft:${kind}:${id || 'new'}`;

/**
 * A draft that saves itself. What could not be saved, for the session was over
 * or the program away, is kept in the browser and comes back.
 */
export function useDraft<B extends object>(
  kind: DraftKind,
  firstID: number,
  initial: B,
  begun: (b: B) => boolean,
): DraftState<B> {
  const [body, setBody] = useState<B>();
  const [told, setTold] = useState('');
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const [id, setID] = useState(firstID);
  const [round, setRound] = useState(0);
  const live = useRef({
    id: firstID,
    etag: '',
    body: undefined as B | undefined,
    dirty: false,
    closed: false,
    saving: undefined as Promise<void> | undefined,
    timer: 0,
  });
  const start = useRef(initial);
  const begins = useRef(begun);
  const client = useQueryClient();

  const save = useCallback(async () => {
    const l = live.current;
    clearTimeout(l.timer);
    while (l.saving) await l.saving;
    if (!l.dirty || l.closed || !l.body || !begins.current(l.body)) return;
    l.dirty = false;
    setTold('saving');
    const run = async () => {
      const sent = { kind, body: l.body as Record<string, unknown> };
      try {
        const answer = l.id
          ? await api.PUT('/api/v1/drafts/{id}', {
              params: { path: { id: l.id }, header: { 'If-Match': l.etag } },
              body: sent,
              keepalive: true,
            })
          : await api.POST('/api/v1/drafts', { body: sent, keepalive: true });
        sessionStorage.removeItem(keep(kind, l.id));
        l.etag = answer.response.headers.get('ETag') ?? '';
        if (!l.id && answer.data) {
          l.id = answer.data.id;
          setID(l.id);
          window.history.replaceState(window.history.state, '', `/papers/drafts/${l.id}`);
        }
        setTrouble(null);
        setTold('saved');
        void client.invalidateQueries({ queryKey: ['desk'] });
        void client.invalidateQueries({ queryKey: ['drafts'] });
      } catch (e) {
        l.dirty = true;
        setTold('not saved, kept in this browser');
        if (e instanceof Problem) setTrouble(e);
      }
    };
    l.saving = run().finally(() => (l.saving = undefined));
    await l.saving;
  }, [kind, client]);

  useEffect(() => {
    const l = live.current;
    l.closed = false;
    const begin = (b: B, etag: string) => {
      const kept = sessionStorage.getItem(keep(kind, l.id));
      l.etag = etag;
      l.body = kept ? (JSON.parse(kept) as B) : b;
      l.dirty = kept !== null;
      setBody(l.body);
      if (kept) l.timer = window.setTimeout(() => void save(), pause);
    };
    if (!l.id) begin(start.current, '');
    else
      api
        .GET('/api/v1/drafts/{id}', { params: { path: { id: l.id } } })
        .then((answer) => begin({ ...start.current, ...(answer.data?.body as B) }, answer.response.headers.get('ETag') ?? ''))
        .catch((e) => e instanceof Problem && setTrouble(e));
    const leave = () => {
      if (l.dirty && l.body && !l.closed) void save();
    };
    window.addEventListener('pagehide', leave);
    return () => {
      window.removeEventListener('pagehide', leave);
      leave();
    };
  }, [kind, save, round]);

  return {
    body,
    told,
    trouble,
    id,
    change: (part) => {
      const l = live.current;
      if (!l.body) return;
      l.body = { ...l.body, ...(typeof part === 'function' ? part(l.body) : part) };
      l.dirty = true;
      setBody(l.body);
      sessionStorage.setItem(keep(kind, l.id), JSON.stringify(l.body));
      clearTimeout(l.timer);
      l.timer = window.setTimeout(() => void save(), pause);
    },
    settle: async () => {
      const l = live.current;
      clearTimeout(l.timer);
      while (l.saving) await l.saving;
      return { id: l.id, etag: l.etag };
    },
    close: () => {
      const l = live.current;
      l.closed = true;
      l.dirty = false;
      clearTimeout(l.timer);
      sessionStorage.removeItem(keep(kind, l.id));
      sessionStorage.removeItem(keep(kind, 0));
    },
    reload: () => {
      const l = live.current;
      sessionStorage.removeItem(keep(kind, l.id));
      l.dirty = false;
      setTrouble(null);
      setRound((n) => n + 1);
    },
  };
}
