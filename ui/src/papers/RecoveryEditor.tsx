import { useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { api, data, type RecoveryBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { RecordPicker } from '../parts/RecordPicker';
import { useToday } from '../parts/records';
import { show, showDay } from '../parts/show';
import { Field } from './Field';
import { MoneyFields } from './MoneyFields';
import { PaperEditor } from './PaperEditor';

async function findWriteOffs(text: string) {
  const found = await data(
    api.GET('/api/v1/papers', { params: { query: { kind: 'write-off', q: text || undefined, limit: 8 } } }),
  );
  return (found.rows ?? [])
    .filter((p) => p.state !== 'reversed')
    .map((p) => ({ id: p.id, label: `${p.number} ${p.customer}`, detail: `${show(p.total)}, ${showDay(p.day)}` }));
}

/** Money came for a debt that was given up. */
export function RecoveryEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  return (
    <PaperEditor<RecoveryBody>
      kind="recovery"
      path="/api/v1/recoveries"
      id={id}
      title="Recovery"
      lead="Money that comes for a debt that was written off, with the tax that came back then."
      hint="Choose the write-off and say how much came: what that does is shown here before anything is written."
      initial={{
        writeOff: Number(params.get('writeOff') ?? 0),
        day: today,
        amount: '',
        bank: 1,
        method: 'transfer',
        reference: '',
      }}
      begun={(b) => !!b.amount}
      quiet={(b) => (b.amount ? [] : ['amount'])}
    >
      {({ body, change, effect, refused }) => (
        <FormGrid>
          <WriteOffField value={body.writeOff ?? 0} onChange={(writeOff) => change({ writeOff })} error={refused('writeOff')} />
          <Field on={{ body, change, refused }} kind="amount" label="Arrived" name="amount" autoFocus={params.has('writeOff')} />
          <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
          <MoneyFields value={body} onChange={change} refused={refused} next={effect?.paper?.number ?? ''} />
        </FormGrid>
      )}
    </PaperEditor>
  );
}

function WriteOffField({ value, onChange, error }: { value: number; onChange: (id: number) => void; error: boolean }) {
  const known = useQuery({
    queryKey: ['paper', value],
    queryFn: () => data(api.GET('/api/v1/papers/{id}', { params: { path: { id: value } } })),
    enabled: value > 0,
  }).data;
  return (
    <div className="wide">
      <RecordPicker
        label="Write-off"
        field="writeOff"
        value={value && known?.id === value ? { id: value, label: `${known.number} ${known.customer}` } : null}
        onPick={(o) => onChange(o?.id ?? 0)}
        find={findWriteOffs}
        findKey={['write-off']}
        error={error}
        placeholder="Which debt was it?"
      />
    </div>
  );
}
