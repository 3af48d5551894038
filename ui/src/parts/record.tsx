import { useMemo, useState, type ReactNode } from 'react';
import { Problem, type Notice } from '../api/client';
import { EditingPlace } from '../papers/editing/Editing';
import { Form } from '../papers/editing/form';
import { knownOf } from '../papers/editing/kind';
import { FormPlace, refusedBy } from '../papers/editing/useForm';
import { focusField, toNotices } from './Notices';

const nothing = knownOf(new URLSearchParams());

/** A record that is written: the same fields as on a paper, saved when one says so. */
export interface Written<B extends object> {
  form: Form<B>;
  refusals: Notice[];
  busy: boolean;
  submit: () => Promise<void>;
}

/** Writes a record. Saving waits until all that was typed is understood; what it throws is told at the fields. */
export function useRecord<B extends object>(initial: B, save: (b: B) => Promise<unknown>): Written<B> {
  const [form] = useState(() => new Form<B>(initial));
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    if (busy) return;
    setBusy(true);
    try {
      await form.settled();
      const unclear = [...form.unclear].map(([field, text]) => ({ field, text, rule: 'unclear', limit: '' }));
      if (unclear.length > 0) throw new Problem(422, 'refused', unclear[0]!.text, unclear);
      await save(form.body);
      setRefusals([]);
    } catch (e) {
      const found = toNotices(e);
      setRefusals(found);
      if (found[0]) focusField(found[0].field);
    } finally {
      setBusy(false);
    }
  };
  return { form, refusals, busy, submit };
}

/** The place of a record's fields. */
export function RecordPlace<B extends object>({ record, children }: { record: Written<B>; children: ReactNode }) {
  const { form, refusals } = record;
  const place = useMemo(
    () => ({ form, command: { effect: undefined }, known: nothing, refused: refusedBy(refusals, [], [], true) }),
    [form, refusals],
  );
  return (
    <FormPlace.Provider value={form}>
      <EditingPlace.Provider value={place}>{children}</EditingPlace.Provider>
    </FormPlace.Provider>
  );
}
