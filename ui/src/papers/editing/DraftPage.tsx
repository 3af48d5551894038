import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { here } from '../../api/at';
import { loadPaper } from '../../app/pages';
import { api, data } from '../../api/client';
import { Empty, Failure, Page } from '../../parts/Layout';
import { kinds } from '../kinds';
import { stepHere } from '../../parts/step';
import { chosenCosts } from '../costLines';
import type { DraftKind } from './draft';
import { knownOf, newPaper, type AnyKind } from './kind';
import { PaperEditor } from './PaperEditor';

/** A paper that is being written, new or gone on with. */
export default function DraftPage() {
  const { kind: named, id: routed } = useParams();
  const [params] = useSearchParams();
  const { key } = useLocation();
  const go = useNavigate();
  const [round, setRound] = useState(0);
  const [first] = useState(key);
  // A draft that began here has its own address by now, which the router was not told.
  const [given] = useState(() => routed ?? /^\/papers\/drafts\/(\d+)$/.exec(here())?.[1]);
  const step = useStep(key);
  // What is posted is shown: its page is there by then.
  useEffect(() => void loadPaper().catch(() => {}), []);
  const id = Number((routed ?? (key === first ? given : undefined)) || 0);
  const draft = useQuery({
    queryKey: ['draft', id, key, round],
    queryFn: async () => {
      const answer = await api.GET('/api/v1/drafts/{id}', { params: { path: { id } } });
      return {
        id,
        etag: answer.response.headers.get('ETag') ?? '',
        kind: answer.data!.kind,
        body: (answer.data!.body ?? {}) as object,
        settled: !!answer.data!.settled,
      };
    },
    enabled: id > 0,
    retry: false,
    staleTime: Infinity,
    gcTime: 0,
  });
  const is = named?.replaceAll('_', ' ') ?? draft.data?.kind;
  const k: AnyKind | undefined = is === undefined ? undefined : kinds[is as DraftKind];
  const known = useMemo(() => knownOf(params), [params]);
  const items = id ? [] : [known.credit, known.item, known.from, ...known.items.split(',').map(Number)].filter(Boolean);
  const blank = useQuery({
    queryKey: ['blank', k?.id, params.toString(), key, round],
    queryFn: () =>
      data(
        api.GET('/api/v1/blank', {
          params: {
            query: {
              kind: k?.id,
              customer: known.customer || undefined,
              job: known.job || undefined,
              order: known.order || undefined,
              quote: known.quote || undefined,
              told: known.told || undefined,
              bankLine: known.bankLine || undefined,
              part: known.part || undefined,
              finish: known.finish || undefined,
              costs: chosenCosts(known.costs),
              items,
            },
          },
        }),
      ),
    enabled: k !== undefined,
    staleTime: Infinity,
    gcTime: 0,
  });
  const source = known.again || known.copy;
  const copied = useQuery({
    queryKey: ['draft', 'copy', source, key],
    queryFn: () =>
      data(
        api.GET('/api/v1/papers/{id}/copy', {
          params: { path: { id: source }, query: { again: known.again > 0 || undefined } },
        }),
      ),
    enabled: !id && source > 0,
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
  });
  // A claim is posted as an invoice, and written again as a claim.
  const written = copied.data?.kind;
  const otherwise = written !== undefined && written !== is;
  useEffect(() => {
    if (otherwise) void go(`${newPaper(written)}?${params.toString()}`, { replace: true });
  }, [otherwise, written, params, go]);
  // The same loose end goes on with the same draft.
  const about = id ? 0 : (blank.data?.draft ?? 0);
  useEffect(() => {
    if (about) void go(`/papers/drafts/${about}`, { replace: true });
  }, [about, go]);
  if (draft.isError && !draft.data)
    return (
      <Page>
        <Failure error={draft.error} />
        <Empty action="Look at the drafts" onAction={() => go('/papers?state=draft')}>
          The draft that was here was posted or thrown away.
        </Empty>
      </Page>
    );
  if (is === undefined || about || otherwise) return null;
  if (!k)
    return (
      <Page>
        <Empty action="What happened?" onAction={() => window.dispatchEvent(new KeyboardEvent('keydown', { key: 'w' }))}>
          There is no such kind of paper.
        </Empty>
      </Page>
    );
  if (copied.isError || (blank.isError && !blank.data))
    return (
      <Page>
        <Failure error={copied.error ?? blank.error} />
      </Page>
    );
  if (!blank.data || (!id && source && !copied.data)) return null;
  return (
    <PaperEditor
      key={`${id} ${key} ${round}`}
      kind={k}
      known={known}
      given={blank.data}
      saved={draft.data}
      copied={
        copied.data && {
          ...(copied.data.body as object),
          ...(known.again ? { again: { paper: known.again, day: copied.data.day, reason: '' } } : {}),
          ...(copied.data.line ? { bankLine: { line: copied.data.line, bank: copied.data.bank } } : {}),
        }
      }
      step={step}
      said={params.has('said')}
      onReload={(now) => (now === id ? setRound((n) => n + 1) : void go(`/papers/drafts/${now}`, { replace: true }))}
    />
  );
}

/** The name of the step of the history that key came with. */
function useStep(key: string): string {
  const [step, setStep] = useState(() => ({ key, name: stepHere() }));
  if (step.key === key) return step.name;
  const now = { key, name: stepHere() };
  setStep(now);
  return now.name;
}
