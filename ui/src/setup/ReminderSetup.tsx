import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useQuery } from '@tanstack/react-query';
import { api, data, readAt } from '../api/client';
import type { components } from '../api/schema';
import { Boxed } from '../parts/UnderstoodField';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';

type Stage = components['schemas']['ReminderStage'];
type Edited = Omit<Stage, 'days'> & { days: string };

const save = ({ days, ...s }: Edited) => {
  const body = { ...s, days: Number(days) || 0 };
  return data(
    s.id
      ? api.PUT('/api/v1/reminder-stages/{id}', { params: { path: { id: s.id }, header: readAt(s.version) }, body })
      : api.POST('/api/v1/reminder-stages', { body }),
  );
};

/** The stages by which customers are reminded. */
export function ReminderSetup() {
  const stages = useQuery({ queryKey: ['reminder-stages'], queryFn: () => data(api.GET('/api/v1/reminder-stages')) });
  const rows = stages.data?.rows.map((s) => ({ ...s, days: String(s.days) }));
  return (
    <RecordTable<Edited>
      kind="reminder-stages"
      what="stage"
      alone
      rows={rows}
      nameOf={(s) => s.name}
      blank={{ name: '', days: '', words: '' }}
      empty="Without a stage nobody is reminded."
      columns={[
        { title: 'Name', cell: (s) => s.name, text: (s) => s.name },
        { title: 'Days overdue', cell: (s) => s.days, text: (s) => s.days, figure: true },
        { title: 'Late charge', cell: (s) => (s.charge ? 'before it' : 'no'), text: (s) => (s.charge ? 'before it' : 'no') },
        { title: 'In use', cell: used, text: used },
      ]}
      save={save}
      form={(s, change, refused) => (
        <>
          <Text
            label="Name"
            field="name"
            value={s.name}
            onChange={(name) => change({ name })}
            error={refused('name')}
            autoFocus
          />
          <Text
            label="From so many days overdue on"
            field="days"
            value={s.days}
            onChange={(days) => change({ days })}
            error={refused('days')}
          />
          <Boxed
            className="wide"
            label="Words"
            data-field="words"
            multiline
            minRows={4}
            value={s.words}
            onChange={(e) => change({ words: e.target.value })}
            error={!!refused('words')}
            helperText={refused('words') || undefined}
          />
          <FormControlLabel
            control={<Checkbox size="small" checked={!!s.charge} onChange={(e) => change({ charge: e.target.checked })} />}
            label="A late charge goes before it"
          />
          <InUse inactive={s.inactive} onChange={(inactive) => change({ inactive })} />
        </>
      )}
    />
  );
}
