import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Paper } from '../api/client';
import { EffectView } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { usePost, usePreview, type CommandPath } from '../parts/preview';
import { useToday } from '../parts/records';
import { UnderstoodField } from '../parts/UnderstoodField';

const Panel = styled('div')(({ theme }) => ({
  display: 'flex',
  gap: 10,
  alignItems: 'flex-start',
  flexWrap: 'wrap',
  padding: 12,
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

interface Props {
  kind: PanelKind;
  paper: Paper;
  onClose: () => void;
}

/** Takes a posted paper back, or marks it, with the Effect beside it: reversed, returned by the bank, disputed. */
export function TakeBack({ kind, paper, onClose }: Props) {
  const today = useToday();
  const [day, setDay] = useState(today);
  const [reason, setReason] = useState('');
  const [fee, setFee] = useState('');
  const [passOn, setPassOn] = useState(false);
  const go = useNavigate();
  const say = useSnackbar();
  const w = wording(kind, paper);
  const item = paper.parts.find((x) => x.nature === '' && !x.credit)?.itemId ?? 0;
  const body = {
    reverse: { paper: paper.id, day, reason },
    returned: { paper: paper.id, day, reason, fee, passOn },
    dispute: { item, day, reason, end: !!paper.disputed },
  }[kind];
  const effect = usePreview(w.path, body);
  const { post, posting, confirming, refused } = usePost(w.path, (posted) => {
    say(w.done(posted.number));
    onClose();
    if (posted.paper) void go(`/papers/${posted.paper}`);
  });
  const act = () => post(body);
  usePrimary(act);
  const wrong = (field: string) => refused?.refusals.some((r) => r.field === field);
  return (
    <>
      <Panel className="no-print">
        <TextField
          className="why"
          label={w.why}
          data-field="reason"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          autoFocus
          disabled={kind === 'dispute' && !!paper.disputed}
          error={wrong('reason')}
        />
        {kind === 'returned' && (
          <UnderstoodField
            kind="amount"
            label="The bank’s fee"
            field="fee"
            value={fee}
            onChange={setFee}
            width={120}
            error={wrong('fee')}
          />
        )}
        <UnderstoodField
          kind="day"
          label={kind === 'returned' ? 'The bank’s day' : 'Day'}
          field="day"
          value={day}
          onChange={setDay}
          width={140}
          error={wrong('day')}
        />
        {kind === 'returned' && (
          <FormControlLabel
            control={<Checkbox size="small" checked={passOn} onChange={(e) => setPassOn(e.target.checked)} />}
            label="the customer owes the fee"
          />
        )}
        <Button variant="contained" onClick={act} disabled={posting}>
          {confirming ? `${w.act} all the same` : w.act} <Key>Ctrl ↵</Key>
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </Panel>
      <EffectView
        effect={effect}
        strict={refused !== null}
        hint={kind === 'dispute' ? 'Marking what is disputed posts nothing. It has its own line in the ageing.' : undefined}
      />
    </>
  );
}
