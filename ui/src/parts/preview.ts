import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useSnackbar } from '../app/messages';
import { Problem, type Answer, type Effect } from '../api/client';
import { focusField } from './Notices';

export type CommandPath =
  | '/api/v1/invoices'
  | '/api/v1/deposits'
  | '/api/v1/receipts'
  | '/api/v1/allocations'
  | '/api/v1/allocations/undo'
  | '/api/v1/reversals'
  | '/api/v1/unidentified'
  | '/api/v1/distributions'
  | '/api/v1/refunds'
  | '/api/v1/transfers'
  | '/api/v1/deposits/split'
  | '/api/v1/returned-payments'
  | '/api/v1/write-offs'
  | '/api/v1/recoveries'
  | '/api/v1/allowances'
  | '/api/v1/contras'
  | '/api/v1/disputes'
  | '/api/v1/supplier-bills'
  | '/api/v1/journal-entries';

/** A draft and the version of it that is on screen. */
export interface DraftRef {
  id: number;
  etag: string;
}

async function send(
  path: CommandPath,
  body: unknown,
  query: URLSearchParams,
  headers: Record<string, string> = {},
): Promise<Answer> {
  let response: Response;
  try {
    response = await fetch(`${path}?${query}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', ...headers },
      body: JSON.stringify(body),
    });
  } catch {
    throw new Problem(0, 'offline', 'The program does not answer. What you typed is kept; try again in a moment.');
  }
  const answer = await response.json().catch(() => ({}));
  if (!response.ok) {
    if (response.status === 401) (await import('../api/client')).signedOut.dispatchEvent(new Event('signedOut'));
    throw new Problem(
      response.status,
      answer.type ?? '',
      answer.detail ?? 'The server refused this.',
      answer.refusals,
      answer.warnings,
    );
  }
  return answer as Answer;
}

function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  const text = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(JSON.parse(text) as T), ms);
    return () => clearTimeout(timer);
  }, [text, ms]);
  return settled;
}

/** The effect of a command as it is being written; never in the way of typing. What the draft itself reserved counts as free. */
export function usePreview(path: CommandPath, body: object | null, draft = 0): Effect | undefined {
  const settled = useSettled(body, 60);
  const { data } = useQuery({
    queryKey: ['preview', path, settled],
    queryFn: () => send(path, settled, new URLSearchParams({ preview: 'true', ...(draft ? { draft: String(draft) } : {}) })),
    enabled: settled !== null,
    placeholderData: keepPreviousData,
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });
  return body === null ? undefined : data?.effect;
}

/**
 * Posts a command. A double press or a lost answer posts once: the key stays
 * the same until an answer came. Warnings are confirmed by a second press.
 */
export function usePost(path: CommandPath, done: (posted: NonNullable<Answer['posted']>) => void) {
  const client = useQueryClient();
  const say = useSnackbar();
  const key = useRef({ for: '', key: '' });
  const [seen, setSeen] = useState<string[]>([]);
  const [refused, setRefused] = useState<Problem | null>(null);
  const mutation = useMutation({
    mutationFn: async ({ body, draft, word }: { body: object; draft?: DraftRef; word?: string }) => {
      const text = JSON.stringify(body);
      if (key.current.for !== text) key.current = { for: text, key: crypto.randomUUID() };
      const query = new URLSearchParams();
      // Each warning that was shown is confirmed by its rule.
      for (const rule of seen) query.append('confirmed', rule);
      if (draft?.id) query.set('draft', String(draft.id));
      const headers: Record<string, string> = { 'Idempotency-Key': key.current.key };
      if (draft?.id) headers['If-Match'] = draft.etag;
      if (word) headers['Second-Word'] = encodeURIComponent(word);
      return send(path, body, query, headers);
    },
    onSuccess: (answer) => {
      setSeen([]);
      setRefused(null);
      key.current = { for: '', key: '' };
      void client.invalidateQueries();
      if (answer.posted) done(answer.posted);
    },
    onError: (error) => {
      if (!(error instanceof Problem)) return say('Something went wrong. Try again.');
      setSeen(error.type === 'unconfirmed' ? error.warnings.map((w) => w.rule) : []);
      setRefused(error.type === 'unconfirmed' ? null : error);
      // Something has changed since it was shown: what is shown follows.
      void client.invalidateQueries();
      if (error.refusals[0]) {
        const field = error.refusals[0].field;
        requestAnimationFrame(() => focusField(field));
      } else if (error.type !== 'unconfirmed') say(error.message);
    },
  });
  return {
    /** Posts it: the draft is gone then; word is the password of a second person, where one must agree. */
    post: (body: object, draft?: DraftRef, word?: string) => {
      if (!mutation.isPending) mutation.mutate({ body, draft, word });
    },
    posting: mutation.isPending,
    confirming: seen.length > 0,
    refused,
    /** What was changed since wants to be looked at again. */
    changed: () => {
      setSeen([]);
      setRefused(null);
    },
  };
}
