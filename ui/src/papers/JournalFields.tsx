import Typography from '@mui/material/Typography';
import type { JournalBody } from '../api/client';
import { FormGrid } from '../parts/RecordDialog';
import { useFirm } from '../parts/records';
import { showIn } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { PaperCurrency } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { AccountField, EntryLines } from './Lines';
import { PartyField } from './PartyField';

type Line = NonNullable<JournalBody['lines']>[number];

const fresh = (): Line => ({ account: 0, debit: '', credit: '', party: 0 });

export default function JournalFields() {
  const { body, change, effect, refused } = useEditing<JournalBody>();
  // The entry is in the firm's currency, also of amounts in another.
  const own = useFirm().data?.currency;
  const inFirms = effect?.paper?.currency ? own : undefined;
  return (
    <>
      <FormGrid>
        <Text label="What it is for" name="text" />
        <Figure kind="day" label="Date" name="day" />
      </FormGrid>
      <PaperCurrency party={0} day={body.day} follows />
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
        pasted={{
          kinds: ['account', 'amount', 'amount'],
          line: ([account, debit, credit]) => ({ ...fresh(), account: Number(account || 0), debit, credit }),
        }}
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
            onSheet
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
            ? `${showIn(inFirms, effect.debit)} on both sides`
            : `debits ${showIn(inFirms, effect.debit)}, credits ${showIn(inFirms, effect.credit)}`}
        </Typography>
      )}
    </>
  );
}
