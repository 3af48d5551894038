import { useQuery } from '@tanstack/react-query';
import { api, data, type RecoveryBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { RecordPicker } from '../parts/RecordPicker';
import { paperQuery, useFirm } from '../parts/records';
import { show, showDay } from '../parts/show';
import { AtBank } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Figure } from './editing/fields';
import { MoneyFields } from './MoneyFields';

async function findWriteOffs(text: string) {
  const found = await data(
    api.GET('/api/v1/papers', { params: { query: { kind: 'write-off', q: text || undefined, limit: 8 } } }),
  );
  return (found.rows ?? [])
    .filter((p) => p.state !== 'reversed')
    .map((p) => ({ id: p.id, label: `${p.number} ${p.customer}`, detail: `${show(p.total)}, ${showDay(p.day)}` }));
}

export default function RecoveryFields() {
  const { body, change, effect, refused } = useEditing<RecoveryBody>();
  const own = useFirm().data?.currency ?? '';
  const chosen = body.writeOff ?? 0;
  const known = useQuery({
    ...paperQuery(chosen),
    enabled: chosen > 0,
  }).data;
  return (
    <FormGrid>
      <div className="wide">
        <RecordPicker
          label="Write-off"
          field="writeOff"
          chosen={chosen}
          value={chosen && known?.id === chosen ? { id: chosen, label: `${known.number} ${known.customer}` } : null}
          onPick={(o) => change({ writeOff: o?.id ?? 0 })}
          find={findWriteOffs}
          findKey={['write-off']}
          error={refused('writeOff')}
          placeholder="Which debt was it?"
        />
      </div>
      <Figure kind="amount" label="Amount received" name="amount" />
      <Figure kind="day" label="Date" name="day" />
      {known?.id === chosen && <AtBank of={known.currency || own} day={body.day} rated />}
      <MoneyFields next={effect?.paper?.number} />
    </FormGrid>
  );
}
