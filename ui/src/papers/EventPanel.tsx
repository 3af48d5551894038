import Button from '@mui/material/Button';
import { api, type Paper } from '../api/client';
import { useSnackbar } from '../app/messages';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { Notices } from '../parts/Notices';
import { RecordPlace, useRecord } from '../parts/record';
import { useCustomer } from '../parts/records';
import { Figure, Text } from './editing/fields';
import { usePosted } from './editing/posted';
import { Panel } from './TakeBack';

export type EventKind =
  'noted' | 'reminded' | 'promised' | 'put off' | 'addressed' | 'lost' | 'sent' | 'signed for' | 'handed back';

const wordings: Record<EventKind, { text: string; until?: string; act: string; done: string }> = {
  noted: { text: 'What is to be noted', act: 'Note it', done: 'is noted' },
  reminded: { text: 'How, and what they said', act: 'They are reminded', done: 'is reminded of' },
  promised: { text: 'Who promised it', until: 'Promised for', act: 'Note the promise', done: 'is promised' },
  'put off': { text: 'Why', until: 'Put off to', act: 'Put it off', done: 'is put off' },
  lost: { text: 'Why it was lost', act: 'It is lost', done: 'is noted as lost' },
  sent: { text: 'How, and to whom', act: 'It is sent', done: 'is noted as sent' },
  'signed for': { text: 'Signed for by', until: 'Signed on', act: 'It is signed for', done: 'is signed for' },
  'handed back': { text: 'Who gave it back', act: 'It came back', done: 'is handed back' },
  addressed: { text: 'Address on the paper', act: 'Print this address', done: 'bears the new address' },
};

interface Props {
  kind: EventKind;
  paper: Paper;
  onClose: () => void;
}

interface Body {
  text: string;
  reference: string;
  until: string;
}

/** Records what happened with a posted paper and posts nothing. */
export function EventPanel(props: Props) {
  const asks = props.kind === 'addressed';
  const customer = useCustomer(asks ? props.paper.customerId : 0).data;
  if (asks && !customer) return null;
  return <Asked {...props} known={asks ? (customer?.printed ?? '') : ''} />;
}

function Asked({ kind, paper, known, onClose }: Props & { known: string }) {
  const w = wordings[kind];
  const say = useSnackbar();
  const posted = usePosted();
  const record = useRecord<Body>({ text: known, reference: '', until: '' }, async (b) => {
    await api.POST('/api/v1/papers/{id}/events', { params: { path: { id: paper.id } }, body: { event: kind, ...b } });
    say(`${paper.number} ${w.done}.`);
    onClose();
    posted();
  });
  usePrimary(() => void record.submit());
  return (
    <>
      <RecordPlace record={record}>
        <Panel className="no-print" role="group" aria-label={w.act}>
          {w.until && <Figure kind="due" label={w.until} name="until" width={150} autoFocus placeholder="fri, 14 days" />}
          <Text className="why" label={w.text} name="text" autoFocus={!w.until} multiline={kind === 'addressed'} />
          {kind === 'noted' && <Text label="Reference" name="reference" sx={{ width: 160 }} />}
          <Button variant="contained" onClick={() => void record.submit()} disabled={record.busy}>
            {w.act} <Key>Ctrl ↵</Key>
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </Panel>
      </RecordPlace>
      <Notices refusals={record.refusals} />
    </>
  );
}
