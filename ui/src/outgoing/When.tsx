import { Problem } from '../api/client';
import { useEditing } from '../papers/editing/Editing';
import { Chosen, Figure, Text } from '../papers/editing/fields';
import { momentOf } from './moment';

/** When mails go, as it is written. */
export interface When {
  when: string;
  day: string;
  time: string;
}

/** What is proposed: at once; for another time, this morning's. */
export const atOnce = (today: string): When => ({ when: 'at once', day: today, time: '08:00' });

/** When mails go, as Go takes it; what is no time is refused. */
export function whenOf({ when, day, time }: When): { at?: string; byHand?: boolean } {
  if (when === 'by hand') return { byHand: true };
  if (when !== 'at a time') return {};
  const at = momentOf(day, time);
  if (at) return { at };
  const text = 'Say the time at which it goes, 8:00 for one.';
  throw new Problem(422, 'refused', text, [{ field: 'time', rule: 'no such time', text, limit: '' }]);
}

const whens = ['at once', 'at a time', 'by hand'].map((value) => ({
  value,
  name: value === 'by hand' ? 'later, by hand' : value,
}));

/** When they go: at once, at a time, or when somebody sends them. */
export function WhenFields({ label = 'It goes' }: { label?: string }) {
  const { body } = useEditing<When>();
  return (
    <>
      <Chosen name="when" label={label} options={whens} />
      {body.when === 'at a time' && (
        <div style={{ display: 'flex', gap: 8 }}>
          <Figure kind="day" name="day" label="On" width={130} />
          <Text name="time" label="At" sx={{ width: 90 }} />
        </div>
      )}
    </>
  );
}
