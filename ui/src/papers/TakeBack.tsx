import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { CommandPath, Paper } from '../api/client';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { focusField } from '../parts/Notices';
import { useToday } from '../parts/records';
import { EditingPlace } from './editing/Editing';
import { Check, Figure, Text } from './editing/fields';
import { Form } from './editing/form';
import { knownOf } from './editing/kind';
import { usePosted } from './editing/posted';
import { FormPlace, refusedBy, useCommand } from './editing/useForm';
import { Told } from './editing/Told';

export const Panel = styled('div')(({ theme }) => ({
  display: 'flex',
  gap: 10,
  alignItems: 'flex-start',
  flexWrap: 'wrap',
  padding: '12px 12px 18px',
  backgroundColor: theme.vars!.palette.tally.second,
  borderLeft: `3px solid ${theme.vars!.palette.primary.main}`,
  '& .why': { flex: '1 1 220px' },
  '& .MuiButton-root': { minHeight: 38 },
}));

export type PanelKind = 'reverse' | 'returned' | 'dispute';

interface Wording {
  path: CommandPath;
  why: string;
  act: string;
  done: (number: string) => string;
}

function wording(kind: PanelKind, p: Paper): Wording {
  switch (kind) {
    case 'reverse':
      return {
        path: '/api/v1/reversals',
        why: `Why is ${p.number} reversed?`,
        act: 'Reverse',
        done: (n) => `${p.number} is reversed by ${n}.`,
      };
    case 'returned':
      return {
        path: '/api/v1/returned-payments',
        why: 'What the bank says',
        act: 'Take back',
        done: (n) => `${p.number} was returned by the bank: ${n}.`,
      };
    case 'dispute':
      return {
        path: '/api/v1/disputes',
        why: p.disputed ? `Disputed: ${p.disputed}` : `Why is ${p.number} disputed?`,
        act: p.disputed ? 'End the dispute' : 'Mark as disputed',
        done: () => (p.disputed ? `${p.number} is no longer disputed.` : `${p.number} is disputed.`),
      };
  }
}

interface Body {
  day: string;
  reason: string;
  fee: string;
  passOn: boolean;
  unfounded: boolean;
}

interface Props {
  kind: PanelKind;
  paper: Paper;
  onClose: () => void;
}

const nothing = knownOf(new URLSearchParams());

/** Takes a posted paper back, or marks it, with the Effect beside it: reversed, returned by the bank, disputed. */
export function TakeBack({ kind, paper, onClose }: Props) {
  const today = useToday();
  // The line of the bank that says so, where one comes from there.
  const [asked] = useSearchParams();
  const line = kind === 'returned' ? (asked.get('bankLine') ?? '') : '';
  const [form] = useState(
    () =>
      new Form<Body>({
        day: (line && asked.get('day')) || today,
        reason: '',
        fee: (line && asked.get('fee')) || '',
        passOn: false,
        unfounded: false,
      }),
  );
  const go = useNavigate();
  const say = useSnackbar();
  const posted = usePosted();
  const w = wording(kind, paper);
  const item = paper.parts.find((x) => x.nature === '' && !x.credit)?.itemId ?? 0;
  const command = useCommand<Body>({
    form,
    path: w.path,
    body: ({ day, reason, fee, passOn, unfounded }) =>
      ({
        reverse: { paper: paper.id, day, reason },
        returned: { paper: paper.id, day, reason, fee, passOn },
        dispute: { item, day, reason, end: !!paper.disputed, unfounded: unfounded || undefined },
      })[kind],
    query: () => (line ? { bankLine: line } : ({} as Record<string, string>)),
    done: (p) => {
      say(w.done(p.number));
      onClose();
      if (line) void go(`/bank/${asked.get('bank')}`);
      else if (p.paper) void go(`/papers/${p.paper}`);
      posted();
    },
    refused: (r) => focusField(r[0]?.field ?? ''),
  });
  usePrimary(() => void command.act());
  const { effect, refusals, strict } = command;
  const place = useMemo(
    () => ({ form, command, known: nothing, refused: refusedBy(refusals, effect?.refusals ?? [], [], strict), effect }),
    [form, command, refusals, effect, strict],
  );
  return (
    <FormPlace.Provider value={form}>
      <EditingPlace.Provider value={place}>
        <Panel className="no-print" role="group" aria-label={w.act}>
          <Text className="why" label={w.why} name="reason" autoFocus disabled={kind === 'dispute' && !!paper.disputed} />
          {kind === 'returned' && <Figure kind="amount" label="The bank’s fee" name="fee" width={120} />}
          <Figure kind="day" label={kind === 'returned' ? 'Value date' : 'Date'} name="day" width={140} />
          {kind === 'dispute' && !!paper.disputed && (
            <Check name="unfounded" label="it was unfounded: late charges count its days" />
          )}
          {kind === 'returned' && <Check name="passOn" label="the customer owes the fee" />}
          <Button variant="contained" onClick={() => void command.act()}>
            {command.confirming ? `${w.act} all the same` : w.act} <Key>Ctrl ↵</Key>
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </Panel>
        <Told text={command.told} />
        <EffectView
          command={command}
          hint={kind === 'dispute' ? 'Marking what is disputed posts nothing. It has its own line in the ageing.' : undefined}
        />
      </EditingPlace.Provider>
    </FormPlace.Provider>
  );
}
