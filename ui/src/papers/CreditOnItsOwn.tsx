import type { CreditBody } from '../api/client';
import { useFirm } from '../parts/records';
import { useEditing } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { AccountField, EntryLines } from './Lines';
import { TaxCodeField } from './TaxCodeField';

type Line = NonNullable<CreditBody['written']>[number];

/** A line that says nothing yet. */
export const freshEntry = (taxCode: number): Line => ({ text: '', account: 0, amount: '', taxCode });

/** What is given with no invoice behind it: a rebate, goodwill. */
export function CreditOnItsOwn() {
  const { body, change, refused } = useEditing<CreditBody>();
  const taxCode = useFirm().data?.taxCode ?? 0;
  const fresh = () => freshEntry(taxCode);
  return (
    <EntryLines<Line>
      label="Lines of the credit"
      name="written"
      heads={[
        { title: 'What' },
        { title: 'Account', width: 180 },
        { title: 'Tax', width: 128 },
        { title: 'Net', figure: true, width: 116 },
      ]}
      lines={body.written ?? []}
      fresh={fresh}
      pasted={{
        kinds: ['text', 'account', 'amount'],
        line: ([text, account, amount]) => ({ ...fresh(), text, account: Number(account || 0), amount }),
      }}
      onChange={(to) => change((now) => ({ written: to(now.written ?? []) }))}
    >
      {(l, n, set) => [
        <Text key="text" variant="standard" fullWidth name={`written[${n}].text`} label={`What, line ${n + 1}`} />,
        <AccountField
          key="account"
          label={`Account, line ${n + 1}`}
          field={`written[${n}].account`}
          value={l.account ?? 0}
          onPick={(account) => set({ account })}
          error={refused(`written[${n}].account`)}
          types={['income', 'contra income']}
          offered="sales"
        />,
        <TaxCodeField key="tax" label={`Tax, line ${n + 1}`} name={`written[${n}].taxCode`} value={l.taxCode ?? 0} onSheet />,
        <Figure
          key="net"
          kind="amount"
          label={`Net, line ${n + 1}`}
          name={`written[${n}].amount`}
          said={`written[${n}].unitPrice`}
          onSheet
        />,
      ]}
    </EntryLines>
  );
}
