import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data, type Creditable, type SupplierCreditBody } from '../api/client';
import { Amount } from '../parts/Amount';
import { FormGrid } from '../parts/RecordDialog';
import { useArticles, useBanks, useFirm } from '../parts/records';
import { isNil, show } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';
import { PaperCurrency } from './CurrencyFields';
import { useEditing } from './editing/Editing';
import { Check, Choice, Figure, Text } from './editing/fields';
import { useAgain } from './editing/useForm';
import { AccountField, AnyJobField, EntryLines } from './Lines';
import { SerialsField } from './SerialsField';
import { SupplierField } from './SupplierField';
import { TaxCodeField } from './TaxCodeField';

type Line = NonNullable<SupplierCreditBody['lines']>[number];

/** What a supplier gives back: of a bill, line by line, or on its own. */
export default function SupplierCreditFields() {
  const { body, change, effect, refused } = useEditing<SupplierCreditBody>();
  const paper = body.paper ?? 0;
  const again = useAgain() || undefined;
  const banks = (useBanks().data?.rows ?? []).filter((b) => !b.inactive);
  const { data: of } = useQuery({
    queryKey: ['creditable', paper, again, body.day],
    queryFn: () => data(api.GET('/api/v1/papers/{id}/creditable', { params: { path: { id: paper }, query: { again } } })),
    enabled: paper > 0,
    placeholderData: keepPreviousData,
  });
  return (
    <>
      <FormGrid>
        {paper ? (
          <Typography className="wide">
            Of <Link to={`/papers/${paper}`}>{of?.number}</Link>, {of?.customer}
          </Typography>
        ) : (
          <SupplierField
            value={body.supplier ?? 0}
            onPick={(supplier) => change({ supplier })}
            error={refused('party')}
            placeholder="Who gives it back?"
          />
        )}
        <Text label="Why is it given back?" name="reason" className="wide" />
        <Figure kind="day" label="Date" name="day" />
        <Text label="Their number" name="reference" />
        {!!paper && (
          <Choice
            label="Where it goes"
            field="bank"
            value={body.bank || (body.open ? -1 : 0)}
            onChange={(v) =>
              change({ bank: Math.max(Number(v), 0), method: Number(v) > 0 ? 'transfer' : undefined, open: Number(v) === -1 })
            }
            options={[
              { value: 0, name: 'against its bill, the rest waits' },
              { value: -1, name: 'it waits, to be used' },
              ...banks.map((b) => ({ value: b.id ?? 0, name: `comes back to ${b.name}` })),
            ]}
          />
        )}
        <Text label="Number (empty: the next)" name="number" placeholder={effect?.paper?.number} optional />
      </FormGrid>
      {!paper && <PaperCurrency party={body.supplier ?? 0} day={body.day} />}
      {paper ? of && <OfBill of={of} /> : <OnItsOwn />}
      {effect?.paper && !isNil(effect.paper.total) && (
        <Typography align="right" sx={{ mt: 1 }}>
          Net {show(effect.paper.net)} · tax {show(effect.paper.tax)} · <b>{show(effect.paper.total)}</b> given back
        </Typography>
      )}
    </>
  );
}

/** The lines of the bill: a quantity or an amount of each, goods going back or not. */
function OfBill({ of }: { of: Creditable }) {
  const { body, change, refused } = useEditing<SupplierCreditBody>();
  const articles = useArticles().data?.rows ?? [];
  const lines = body.lines ?? [];
  const set = (position: number, part: Partial<Line>) =>
    change((now) => {
      const was = (now.lines ?? []).find((l) => l.position === position) ?? { position };
      const is = { ...was, ...part };
      const rest = (now.lines ?? []).filter((l) => l.position !== position);
      return { lines: is.quantity || is.amount ? [...rest, is].sort((a, b) => (a.position ?? 0) - (b.position ?? 0)) : rest };
    });
  const bare = lines.length === 0;
  return (
    <>
      <Table aria-label="Lines of the bill" sx={{ mt: 2 }} data-field="lines">
        <TableHead>
          <TableRow>
            <TableCell>What</TableCell>
            <TableCell align="right">Left, pieces</TableCell>
            <TableCell align="right">Left, net</TableCell>
            <TableCell align="right">Pieces</TableCell>
            <TableCell align="right">Or net</TableCell>
            <TableCell>Goods</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {of.lines.map((l) => {
            const at = lines.findIndex((x) => x.position === l.position);
            const field = (name: 'quantity' | 'amount', kind: 'quantity' | 'amount') => (
              <UnderstoodField
                kind={kind}
                label={`${name === 'quantity' ? 'Pieces' : 'Net'} of ${l.text}`}
                field={at < 0 ? `lines.${l.position}.${name}` : `lines[${at}].${name}`}
                value={lines[at]?.[name] ?? ''}
                onChange={(v) => set(l.position, { [name]: v })}
                onSheet
                error={at < 0 ? '' : refused(`lines[${at}].${name}`)}
              />
            );
            return (
              <TableRow key={l.position}>
                <TableCell>{l.text}</TableCell>
                <TableCell align="right">
                  {show(l.quantity)} {l.unit}
                </TableCell>
                <TableCell align="right">
                  <Amount value={l.left} />
                </TableCell>
                <TableCell align="right" sx={{ width: 92 }}>
                  {field('quantity', 'quantity')}
                </TableCell>
                <TableCell align="right" sx={{ width: 110 }}>
                  {field('amount', 'amount')}
                </TableCell>
                <TableCell sx={{ width: 128 }}>
                  {l.stocked && at >= 0 && <Check name={`lines[${at}].back`} label="go back" />}
                  {l.stocked && at >= 0 && lines[at]?.back && articles.some((a) => a.serial) && (
                    <SerialsField name={`lines[${at}].serials`} label={`Numbers of the pieces of ${l.text}`} />
                  )}
                </TableCell>
              </TableRow>
            );
          })}
        </TableBody>
      </Table>
      {bare && (
        <Typography variant="body2" color="textSecondary">
          Nothing is written: all that is left is given back, without goods.
        </Typography>
      )}
    </>
  );
}

function OnItsOwn() {
  const { body, change, refused } = useEditing<SupplierCreditBody>();
  const taxCode = useFirm().data?.taxCode ?? 0;
  const fresh = (): Line => ({ text: '', account: 0, amount: '', taxCode });
  return (
    <EntryLines<Line>
      label="Lines of the credit"
      heads={[
        { title: 'What' },
        { title: 'Account', width: 150 },
        { title: 'Job', width: 120 },
        { title: 'Tax', width: 112 },
        { title: 'Net', figure: true, width: 110 },
      ]}
      lines={body.lines ?? []}
      fresh={fresh}
      pasted={{
        kinds: ['text', 'account', 'amount'],
        line: ([text, account, amount]) => ({ ...fresh(), text, account: Number(account || 0), amount }),
      }}
      onChange={(to) => change((now) => ({ lines: to(now.lines ?? []) }))}
    >
      {(l, n, set) => [
        <Text key="text" variant="standard" fullWidth name={`lines[${n}].text`} label={`What, line ${n + 1}`} />,
        <AccountField
          key="account"
          label={`Account, line ${n + 1}`}
          field={`lines[${n}].account`}
          value={l.account ?? 0}
          onPick={(account) => set({ account })}
          error={refused(`lines[${n}].account`)}
          types={['expense', 'asset']}
        />,
        <AnyJobField
          key="job"
          label={`Job, line ${n + 1}`}
          field={`lines[${n}].job`}
          value={l.job ?? 0}
          onPick={(job) => set({ job })}
        />,
        <TaxCodeField key="tax" label={`Tax, line ${n + 1}`} name={`lines[${n}].taxCode`} value={l.taxCode ?? 0} onSheet />,
        <Figure
          key="net"
          kind="amount"
          label={`Net, line ${n + 1}`}
          name={`lines[${n}].amount`}
          said={`lines[${n}].net`}
          onSheet
        />,
      ]}
    </EntryLines>
  );
}
