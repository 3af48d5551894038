import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { api, type Effect } from '../api/client';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { useBack, usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { usePost, type CommandPath } from '../parts/preview';
import type { DraftState } from './useDraft';

const Ground = styled('div')(({ theme }) => ({
  backgroundColor: theme.vars!.palette.tally.second,
  minHeight: '100%',
  padding: '12px 20px 20px',
}));
const Head = styled('header')({ display: 'flex', alignItems: 'center', gap: 10, maxWidth: 800, margin: '0 auto 12px' });
const Trouble = styled('div')(({ theme }) => ({
  maxWidth: 800,
  margin: '0 auto 12px',
  padding: '8px 12px',
  display: 'flex',
  gap: 12,
  alignItems: 'center',
  backgroundColor: theme.vars!.palette.tally.paper,
  borderLeft: `3px solid ${theme.vars!.palette.error.main}`,
}));

const SecondWord = styled(Trouble)(({ theme }) => ({
  borderLeftColor: theme.vars!.palette.tally.kept,
  '& > span': { flex: 1 },
  '& .MuiTextField-root': { width: 250 },
}));

interface Props<B extends object> {
  title: string;
  path: CommandPath;
  draft: DraftState<B>;
  effect: Effect | undefined;
  /** What is posted: what was typed, without what was left empty. */
  body: object;
  posted: string;
  /** Where to go once it is posted; the paper itself when left out. */
  then?: (paper: number) => string;
  children: (refused: (field: string) => boolean) => ReactNode;
  hint: string;
  /** Fields that are still empty: what is said of them waits until Post. */
  quiet?: string[];
}

/** The frame of every editor: title, saving, posting, the Effect beside it. */
export function EditorFrame<B extends object>({
  title,
  path,
  draft,
  effect,
  body,
  posted,
  then,
  children,
  hint,
  quiet = [],
}: Props<B>) {
  const go = useNavigate();
  const say = useSnackbar();
  const client = useQueryClient();
  const { post, posting, confirming, refused, changed } = usePost(path, (p) => {
    draft.close();
    say(`${posted} ${p.number} is posted.`);
    void go(then ? then(p.paper) : `/papers/${p.paper}`, { replace: true });
  });
  const [word, setWord] = useState('');
  const act = async () => post(body, await draft.settle(), word || undefined);
  usePrimary(() => void act());
  useBack(() => go(-1));
  const discard = async () => {
    const { id } = await draft.settle();
    draft.close();
    if (id) await api.DELETE('/api/v1/drafts/{id}', { params: { path: { id } } });
    await client.invalidateQueries();
    void go(-1);
  };
  const shown = refused?.refusals ?? [];
  const refusedField = (field: string) =>
    shown.some((r) => r.field === field) ||
    (effect?.refusals ?? []).some((r) => r.field === field && r.rule !== 'missing' && !quiet.includes(field));
  return (
    <Ground onChange={changed}>
      <Head>
        <Typography variant="h2" component="h1">
          {title}
        </Typography>
        <Typography variant="body2" color="textSecondary" aria-live="polite">
          {draft.told}
        </Typography>
        <span style={{ flex: 1 }} />
        <Button onClick={discard}>Throw away</Button>
        <Button variant="contained" onClick={act} disabled={posting}>
          {confirming ? 'Post all the same' : 'Post'} <Key>Ctrl ↵</Key>
        </Button>
      </Head>
      {draft.trouble && draft.trouble.status !== 401 && (
        <Trouble role="alert">
          <span>{draft.trouble.message}</span>
          {draft.trouble.status === 412 && <Button onClick={draft.reload}>Load what is there</Button>}
        </Trouble>
      )}
      {effect?.word && (
        <SecondWord>
          <span>{effect.word.text}</span>
          <TextField
            type="password"
            label="The second person’s password"
            data-field="word"
            autoComplete="off"
            value={word}
            onChange={(e) => setWord(e.target.value)}
            error={refusedField('word')}
          />
        </SecondWord>
      )}
      {children(refusedField)}
      <EffectView effect={effect} strict={refused !== null} quiet={quiet} hint={hint} />
    </Ground>
  );
}
