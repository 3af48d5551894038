import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import type { Effect } from '../api/client';
import { usePreview, type CommandPath } from '../parts/preview';
import { PaperSheet } from '../parts/Sheet';
import { EditorFrame } from './EditorFrame';
import { useDraft, type DraftKind, type DraftState } from './useDraft';
import { walk } from './walk';

/** What the fields of an editor are given. */
export interface Editing<B> {
  body: B;
  change: DraftState<B>['change'];
  effect: Effect | undefined;
  refused: (field: string) => boolean;
}

interface Props<B extends object> {
  kind: DraftKind;
  path: CommandPath;
  id: number;
  /** What is on the sheet's head, and under it. */
  title: string;
  lead: string;
  hint: string;
  initial: B;
  /** Whether enough was typed to be worth keeping. */
  begun: (b: B) => boolean;
  /** Fields that are still empty: what is said of them waits until Post. */
  quiet?: (b: B) => string[];
  /** What is posted, where it is more than what was typed: amounts that Go offered. */
  exact?: (b: B, effect: Effect | undefined) => object;
  posted?: string;
  then?: (b: B) => (paper: number) => string;
  children: (e: Editing<B>) => ReactNode;
}

/** An editor of a paper on its sheet: it saves itself, shows its Effect, posts. */
export function PaperEditor<B extends object>(p: Props<B>) {
  const draft = useDraft<B>(p.kind, p.id, p.initial, p.begun);
  const effect = usePreview(p.path, draft.body ?? null, draft.id);
  const body = draft.body;
  if (!body) return null;
  return (
    <EditorFrame
      title={p.title}
      path={p.path}
      draft={draft}
      effect={effect}
      body={p.exact?.(body, effect) ?? body}
      posted={p.posted ?? p.title}
      quiet={p.quiet?.(body)}
      then={p.then?.(body)}
      hint={p.hint}
    >
      {(refused) => (
        <PaperSheet>
          <Typography variant="h1">{p.title}</Typography>
          <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
            {p.lead}
          </Typography>
          <div onKeyDown={walk}>{p.children({ body, change: draft.change, effect, refused })}</div>
        </PaperSheet>
      )}
    </EditorFrame>
  );
}
