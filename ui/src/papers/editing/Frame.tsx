import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState, useSyncExternalStore, type ReactNode } from 'react';
import { api, data } from '../../api/client';
import { useSnackbar } from '../../app/messages';
import { walk } from '../../parts/focus';
import { useLookingBack } from '../../parts/asOf';
import { Key } from '../../parts/Layout';
import { useMay } from '../../parts/may';
import { showDay } from '../../parts/show';
import { takeAlong } from '../../parts/takeAlong';
import type { Command } from './command';
import { forgetKept, type Draft } from './draft';
import type { Form } from './form';
import { InPlaceOf } from './InPlaceOf';
import { OfLine } from './OfLine';
import { Told, Trouble } from './Told';
import type { Refused } from './useForm';

const Ground = styled('div')(({ theme }) => ({
  backgroundColor: theme.vars!.palette.tally.second,
  minHeight: '100%',
  padding: '12px 20px 20px',
}));
const Head = styled('header')({ display: 'flex', alignItems: 'center', gap: 10, maxWidth: 800, margin: '0 auto 12px' });
const Step = styled(Button)({ minWidth: 30, padding: '2px 6px', fontSize: 17 });

type Body = Record<string, unknown>;

interface Props {
  title: string;
  kind: string;
  command: Command<Body>;
  draft: Draft<Body>;
  form: Form<Body>;
  refused: Refused;
  /** Whether all that the draft is about is settled meanwhile. */
  settled: boolean;
  onLeave: () => void;
  onReload: (id: number) => void;
  children: ReactNode;
}

/** The frame of every editor: title, saving, undoing, posting, and what stands in the way. */
export function Frame({ title, kind, command, draft, form, refused, settled, onLeave, onReload, children }: Props) {
  const told = useSyncExternalStore(draft.subscribe, () => draft.told);
  const trouble = useSyncExternalStore(draft.subscribe, () => draft.trouble);
  const [failed, setFailed] = useState('');
  const say = useSnackbar();
  const past = useLookingBack();
  const discard = async () => {
    setFailed('');
    try {
      await draft.discard();
      say('Thrown away.');
      onLeave();
    } catch (e) {
      setFailed(`It is not thrown away. ${e instanceof Error ? e.message : ''}`);
    }
  };
  const print = async () => {
    setFailed('');
    try {
      const { id } = await draft.settle();
      const file = await data(api.GET('/api/v1/drafts/{id}/pdf', { params: { path: { id } }, parseAs: 'blob' }));
      takeAlong(file, `${title}, draft.pdf`);
    } catch (e) {
      setFailed(e instanceof Error ? e.message : '');
    }
  };
  const onKeyDown = (e: React.KeyboardEvent<HTMLElement>) => {
    const z = e.key.toLowerCase() === 'z';
    if ((e.ctrlKey || e.metaKey) && (z || e.key === 'y')) {
      e.preventDefault();
      if (z && !e.shiftKey) form.undo();
      else form.redo();
      return;
    }
    walk(e);
  };
  const { word, agreed, others = [] } = command.effect ?? {};
  const posts = useMay().post(kind);
  return (
    <Ground
      data-editor
      aria-busy={command.sending || undefined}
      onKeyDown={onKeyDown}
      // What is typed while it is on its way could not come along.
      onKeyDownCapture={(e) => command.sending && !e.ctrlKey && e.key !== 'Tab' && e.preventDefault()}
    >
      <title>{`${title} – Clean Tally`}</title>
      <Head>
        <Typography variant="h2" component="h1">
          {title}
        </Typography>
        <Typography variant="body2" color="textSecondary" aria-live="polite">
          {told}
        </Typography>
        <span style={{ flex: 1 }} />
        <Step onClick={form.undo} aria-label="Undo" title="Undo (Ctrl Z)" aria-keyshortcuts="Control+Z">
          ↶
        </Step>
        <Step onClick={form.redo} aria-label="Do again" title="Do again (Ctrl Y)" aria-keyshortcuts="Control+Y">
          ↷
        </Step>
        <Button onClick={() => void print()}>PDF</Button>
        <Button onClick={() => void discard()}>Throw away</Button>
        {posts ? (
          <Button variant="contained" onClick={() => void command.act()} aria-keyshortcuts="Control+Enter">
            {command.confirming ? 'Post all the same' : 'Post'} <Key>Ctrl ↵</Key>
          </Button>
        ) : (
          <Typography variant="body2">
            {draft.id ? 'Kept as a draft: somebody who may posts it' : 'It becomes a draft: somebody who may posts it'}
          </Typography>
        )}
      </Head>
      {trouble && trouble.status !== 401 && (
        <Trouble role="alert">
          <span>{trouble.message}</span>
          {[404, 410, 412].includes(trouble.status) && <Button onClick={() => void draft.keepMine()}>Keep what is here</Button>}
          {trouble.status === 412 && (
            <Button
              onClick={() => {
                draft.close();
                forgetKept(draft.id);
                onReload(draft.id);
              }}
            >
              Take the other, and lose what is here
            </Button>
          )}
        </Trouble>
      )}
      {past && (
        <Trouble role="status" data-word>
          <span>You look back from {showDay(past)}. What is written here is written now, and its balances are those of now.</span>
        </Trouble>
      )}
      {settled && (
        <Trouble role="status" data-word>
          <span>What this draft is about is settled meanwhile: nothing is left to do here.</span>
          <Button onClick={() => void discard()}>Throw it away</Button>
        </Trouble>
      )}
      <Told text={failed || command.told} />
      {word && agreed && (
        <Trouble role="status" data-word>
          <span>{agreed} agreed to this: it can be posted.</span>
        </Trouble>
      )}
      {word && !agreed && (
        <Trouble data-word>
          <span>{word.text}</span>
          <TextField
            type="password"
            label={others.length > 0 ? 'The second person’s password' : 'Your own password, again'}
            data-field="word"
            autoComplete="off"
            defaultValue=""
            onChange={(e) => (command.word = e.target.value)}
            error={!!refused('word')}
          />
          {others.length > 0 && (
            <Button onClick={() => void command.ask()} title={`Have it wait for the word of ${others.join(' or ')}`}>
              Ask from their own screen
            </Button>
          )}
        </Trouble>
      )}
      <InPlaceOf />
      <OfLine />
      {children}
    </Ground>
  );
}
