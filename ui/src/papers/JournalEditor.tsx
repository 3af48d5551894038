import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useSearchParams } from 'react-router';
import type { JournalBody } from '../api/client';
import { RecordPicker } from '../parts/RecordPicker';
import { FormGrid } from '../parts/RecordDialog';
import { findParties, useCustomer, useToday } from '../parts/records';
import { show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { AccountField, EntryLines } from './Lines';
import { Field } from './Field';
import { PaperEditor } from './PaperEditor';

type Line = NonNullable<JournalBody['lines']>[number];

const fresh = (): Line => ({ account: 0, debit: '', credit: '', party: 0 });

/** An entry by hand, never unbalanced. */
export function JournalEditor({ id }: { id: number }) {
  const [params] = useSearchParams();
  const today = useToday();
  return (
    <PaperEditor<JournalBody>
      kind="journal"
      path="/api/v1/journal-entries"
      id={id}
      title="Journal entry"
      lead="An entry by hand. On receivables and payables it names a customer or supplier; the other control accounts move by their own papers alone."
      hint="Each line takes an account and one side: the entry is shown here, and whether it balances."
      initial={{ day: today, text: '', lines: [{ ...fresh(), account: Number(params.get('account') ?? 0) }, fresh()] }}
      begun={(b) => !!(b.text || (b.lines ?? []).some((l) => l.debit || l.credit))}
      quiet={(b) => ((b.lines ?? []).some((l) => l.debit || l.credit) ? [] : ['lines[0].debit', 'lines[1].debit'])}
    >
      {({ body, change, effect, refused }) => (
        <>
          <FormGrid>
            <TextField
              label="What it is for"
              data-field="text"
              value={body.text ?? ''}
              onChange={(e) => change({ text: e.target.value })}
              error={refused('text')}
              autoFocus
              slotProps={{ htmlInput: { 'data-walk': '' } }}
            />
            <Field on={{ body, change, refused }} kind="day" label="Day" name="day" />
          </FormGrid>
          <EntryLines<Line>
            label="Lines of the entry"
            heads={[
              { title: 'Account', width: 230 },
              { title: 'Customer or supplier' },
              { title: 'Debit', figure: true, width: 120 },
              { title: 'Credit', figure: true, width: 120 },
            ]}
            lines={body.lines ?? []}
            fresh={fresh}
            onChange={(to) => change((now) => ({ lines: to(now.lines ?? []) }))}
          >
            {(l, n, set) => [
              <AccountField
                key="account"
                label={`Account, line ${n + 1}`}
                field={`lines[${n}].account`}
                value={l.account ?? 0}
                onPick={(account) => set({ account })}
                error={refused(`lines[${n}].account`)}
              />,
              <PartyField
                key="party"
                label={`Customer or supplier, line ${n + 1}`}
                field={`lines[${n}].party`}
                value={l.party ?? 0}
                onPick={(party) => set({ party })}
                error={refused(`lines[${n}].party`)}
              />,
              <UnderstoodField
                key="debit"
                kind="amount"
                label={`Debit, line ${n + 1}`}
                field={`lines[${n}].debit`}
                value={l.debit ?? ''}
                onChange={(debit) => set({ debit, ...(debit ? { credit: '' } : {}) })}
                error={refused(`lines[${n}].debit`)}
                onSheet
              />,
              <UnderstoodField
                key="credit"
                kind="amount"
                label={`Credit, line ${n + 1}`}
                field={`lines[${n}].credit`}
                value={l.credit ?? ''}
                onChange={(credit) => set({ credit, ...(credit ? { debit: '' } : {}) })}
                onSheet
              />,
            ]}
          </EntryLines>
          {effect && (
            <Typography align="right" sx={{ mt: 1 }} aria-live="polite">
              {effect.debit === effect.credit
                ? `${show(effect.debit)} on both sides`
                : `debits ${show(effect.debit)}, credits ${show(effect.credit)}`}
            </Typography>
          )}
        </>
      )}
    </PaperEditor>
  );
}

interface PartyProps {
  label: string;
  field: string;
  value: number;
  onPick: (id: number) => void;
  error: boolean;
}

function PartyField(p: PartyProps) {
  const known = useCustomer(p.value).data;
  return (
    <RecordPicker
      label={p.label}
      field={p.field}
      value={p.value && known?.id === p.value ? { id: p.value, label: known.name } : null}
      onPick={(o) => p.onPick(o?.id ?? 0)}
      find={findParties}
      findKey={['party']}
      onSheet
      error={p.error}
      placeholder="none"
    />
  );
}
