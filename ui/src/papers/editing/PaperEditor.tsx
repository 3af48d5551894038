import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { Suspense, useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Blank } from '../../api/client';
import { EffectView } from '../../app/EffectView';
import { useSnackbar } from '../../app/messages';
import { goToFirst } from '../../parts/focus';
import { useBack, usePrimary } from '../../parts/keys';
import { useMay } from '../../parts/may';
import { useLeave } from '../../parts/leave';
import { focusField } from '../../parts/Notices';
import { paperQuery } from '../../parts/records';
import { PaperSheet } from '../../parts/Sheet';
import { Draft, forgetKept, keptOf } from './draft';
import { EditingPlace } from './Editing';
import { Form, same } from './form';
import { Frame } from './Frame';
import type { InPlace } from './InPlaceOf';
import { afterLine, lineQuery, ofLine, type FromBank } from './OfLine';
import type { AnyKind, Known } from './kind';
import { usePosted } from './posted';
import { FormPlace, refusedBy, useCommand } from './useForm';
import { WithAttachments } from './WithAttachments';

interface Props {
  kind: AnyKind;
  known: Known;
  given: Blank;
  /** The draft that is gone on with. */
  saved?: { id: number; etag: string; body: object; settled: boolean };
  /** What another paper was written as. */
  copied?: object;
  /** Names the step in the history. */
  step: string;
  /** Whether what the place knew is to be looked at first. */
  said: boolean;
  /** Opens the draft as it is saved. */
  onReload: (id: number) => void;
}

type Body = Record<string, unknown>;

/** An editor of a paper: it saves itself, shows its Effect, posts. */
export function PaperEditor({ kind: k, known, given, saved, copied, step, said, onReload }: Props) {
  const client = useQueryClient();
  const [{ form, draft }] = useState(() => {
    let kept = keptOf(saved?.id ?? 0, step);
    // The last save on the way out may have come, with nobody left to hear it.
    if (kept && saved && same(kept.body, saved.body)) {
      forgetKept(saved.id);
      kept = null;
    }
    const form = new Form<Body>({ ...k.blank(given, known), ...ofLine(given, known), ...copied, ...saved?.body, ...kept?.body });
    // What was kept goes on from where it was: another's save in between is noticed.
    const draft = new Draft<Body>(form, k.id, saved?.id ?? 0, kept?.etag || saved?.etag || '', step, () => {
      for (const of of ['desk', 'drafts']) void client.invalidateQueries({ queryKey: [of], refetchType: 'none' });
    });
    if (kept) form.edits++;
    return { form, draft };
  });
  useEffect(() => draft.open(), [draft]);
  const go = useNavigate();
  const say = useSnackbar();
  const posted = usePosted();
  const leave = useLeave('/papers');
  const title = k.title(known);
  const command = useCommand<Body>({
    form,
    path: k.path,
    draft,
    body: (b) => {
      const body = { ...(k.body?.(b) ?? b) } as Body;
      delete body.again; // said beside the body
      delete body.bankLine;
      return body;
    },
    query: (b): Record<string, string> => {
      const again = b.again as InPlace | undefined;
      return {
        ...(again ? { again: String(again.paper), againDay: again.day, againReason: again.reason } : {}),
        ...lineQuery(b.bankLine as FromBank | undefined),
      };
    },
    done: (p) => {
      // What comes next is asked for first.
      if (!k.after) void client.prefetchQuery(paperQuery(p.paper));
      draft.close();
      say(`${k.posted ?? title} ${p.number} is posted.`);
      posted();
      const line = form.body.bankLine as FromBank | undefined;
      const next = line ? afterLine(line, p.paper) : (k.after?.(form.body, p.paper) ?? `/papers/${p.paper}`);
      void go(next, { replace: true });
    },
    refused: (refusals) => focusField(refusals[0]?.field ?? ''),
  });
  const may = useMay();
  usePrimary(may.post(k.id) ? () => void command.act() : undefined);
  useBack(leave);
  const { effect, refusals, strict } = command;
  const quiet = k.quiet?.(form.body) ?? [];
  const open = quiet.join(' ');
  const refused = useMemo(
    () => refusedBy(refusals, effect?.refusals ?? [], open.split(' '), strict),
    [refusals, effect, open, strict],
  );
  const place = useMemo(
    () => ({ form, command, known, refused, effect, kind: k.id }),
    [form, command, known, refused, effect, k.id],
  );
  // The fields follow what they show by themselves.
  const fields = useMemo(
    () => (
      <Suspense fallback={null}>
        <k.Fields />
        <FirstFocus said={said} />
      </Suspense>
    ),
    [k, said],
  );
  return (
    <FormPlace.Provider value={form}>
      <EditingPlace.Provider value={place}>
        <Frame
          title={title}
          kind={k.id}
          command={command}
          draft={draft}
          form={form}
          refused={refused}
          onLeave={leave}
          onReload={onReload}
          settled={!!saved?.settled}
        >
          <WithAttachments draft={draft} several={k.several}>
            <PaperSheet>
              {k.ownSheet ? (
                fields
              ) : (
                <>
                  <Typography variant="h1" component="h2">
                    {title}
                  </Typography>
                  <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
                    {k.lead(known)}
                  </Typography>
                  {fields}
                </>
              )}
            </PaperSheet>
          </WithAttachments>
        </Frame>
        <EffectView command={command} quiet={quiet} hint={k.hint} nothing={k.postsNothing} />
      </EditingPlace.Provider>
    </FormPlace.Provider>
  );
}

/** Puts the cursor where one begins, once the fields are there. */
function FirstFocus({ said }: { said: boolean }) {
  useEffect(() => goToFirst(document.querySelector('[data-editor]'), said), [said]);
  return null;
}
