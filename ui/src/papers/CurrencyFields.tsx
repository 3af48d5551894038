import { styled } from '@mui/material/styles';
import { useContext, useEffect } from 'react';
import type { OpenItem } from '../api/client';
import { rateSaid, useBankCurrency, useCurrencyOptions } from '../parts/currencies';
import { useCustomer, useFirm, useRate } from '../parts/records';
import { isNil, show } from '../parts/show';
import { EditingPlace, usePaperForm } from './editing/Editing';
import { Choice, Figure, useField } from './editing/fields';
import { UnderstoodField } from '../parts/UnderstoodField';

const Beside = styled('div')(({ theme }) => ({
  display: 'flex',
  gap: 14,
  alignItems: 'baseline',
  flexWrap: 'wrap',
  color: theme.vars!.palette.text.secondary,
  fontSize: 13.5,
  minHeight: 28,
  marginTop: 6,
}));

/** In which currency a record is; nothing where the firm has but its own. */
export function CurrencyChoice({ label }: { label: string }) {
  const options = useCurrencyOptions();
  const { value, set, refused } = useField<string | undefined>('currency');
  const own = options[0]!.value;
  if (options.length < 2 && !value) return null;
  return (
    <Choice
      label={label}
      field="currency"
      value={value || own}
      options={value && !options.some((o) => o.value === value) ? [...options, { value, name: value }] : options}
      onChange={(v) => set(v === own ? '' : v)}
      error={refused}
    />
  );
}

interface Props {
  /** Whose currency it begins in. */
  party: number;
  day: string | undefined;
  /** It follows a paper, and is in that one's. */
  follows?: boolean;
}

/**
 * In which currency a paper is, at which rate, and what it is worth: the
 * customer's until another is chosen, the rate of the day until another is typed.
 */
export function PaperCurrency({ party, day, follows }: Props) {
  const options = useCurrencyOptions();
  const own = useFirm().data?.currency ?? '';
  const home = useCustomer(party).data;
  const { value, refused } = useField<string | undefined>('currency');
  const form = usePaperForm<{ currency?: string; rate?: string }>();
  const { effect } = useContext(EditingPlace)!.command;
  const begun = follows ? effect?.paper?.currency : home?.id === party ? home.currency : '';
  const code = value || begun || own;
  if (options.length < 2 && code === own) return null;
  return (
    <Beside>
      <Choice
        onSheet
        label="Currency"
        field="currency"
        width={72}
        value={code}
        options={options.some((o) => o.value === code) ? options : [...options, { value: code, name: code }]}
        onChange={(v) => form.change({ currency: v, rate: '' })}
        error={refused}
      />
      {code !== own && <RateField name="rate" currency={code} day={day} onTyped={() => form.change({ currency: code })} />}
      <WorthIt />
    </Beside>
  );
}

/** What a paper comes to in its currency and in the firm's. */
function WorthIt() {
  const own = useFirm().data?.currency ?? '';
  const p = useContext(EditingPlace)!.command.effect?.paper;
  if (!p?.base || isNil(p.total)) return null;
  return (
    <span>
      {p.currency} {show(p.total)} = {own} {show(p.base)}
      {!isNil(p.baseTax) && `, of it tax ${show(p.baseTax)}`}
    </span>
  );
}

/** The rate of a paper that is in another's currency, and what it is worth. */
export function PaperRate({ code, day }: { code: string; day: string | undefined }) {
  return (
    <Beside>
      <RateField name="rate" currency={code} day={day} />
      <WorthIt />
    </Beside>
  );
}

interface RateProps {
  name: string;
  currency: string;
  day: string | undefined;
  /** A rate that is typed is of this currency, whatever is chosen beside it. */
  onTyped?: () => void;
}

/** What one unit is worth: the newest rate through the day stands there, with its age, until another is typed. */
export function RateField({ name, currency, day, onTyped }: RateProps) {
  const own = useFirm().data?.currency ?? '';
  const rate = useRate(currency, day).data;
  const { value, set, refused } = useField<string | undefined>(name);
  return (
    <>
      <span>
        1 {currency} ={' '}
        <UnderstoodField
          kind="rate"
          field={name}
          label={`Rate of ${currency}`}
          value={value || rate?.rate || ''}
          onChange={(v) => {
            set(v);
            if (v) onTyped?.();
          }}
          error={refused}
          onSheet
          width={104}
        />{' '}
        {own}
      </span>
      <span>{rateSaid(value, rate)}</span>
    </>
  );
}

/** In which currency a paper is that is written: chosen, or its customer's; empty for the firm's own. */
export function usePaperIn(party: number): string {
  const own = useFirm().data?.currency ?? '';
  const home = useCustomer(party).data;
  const chosen = useField<string | undefined>('currency').value;
  const code = chosen || (home?.id === party ? home.currency : '') || '';
  return code === own ? '' : code;
}

interface AtBankProps {
  /** Of the fields' paths: 'refund.'. */
  prefix?: string;
  /** In which currency that is which the money is for; empty: that of the bank account. */
  of?: string;
  day?: string;
  /** Money that goes out. */
  out?: boolean;
  /** Whether another rate than that of the day may be said. */
  rated?: boolean;
}

/** What moves on a bank account of another currency, and what one unit of that is worth. */
export function AtBank({ prefix = '', of, day, out, rated }: AtBankProps) {
  const own = useFirm().data?.currency ?? '';
  const code = useBankCurrency(useField<number | undefined>(`${prefix}bank`).value);
  const other = !!of && of !== code;
  const foreign = !!rated && code !== own;
  const moved = useField<string | undefined>(`${prefix}atBank`);
  const rate = useField<string | undefined>(`${prefix}rate`);
  // What is not asked any more is not said any more.
  useEffect(() => {
    if (!code || !own) return;
    if (!other && moved.value) moved.set('');
    if (!foreign && rate.value) rate.set('');
  });
  return (
    <>
      {other && (
        <Figure
          kind="amount"
          name={`${prefix}atBank`}
          label={out ? `What leaves the account, ${code}` : `What arrives on the account, ${code}`}
        />
      )}
      {foreign && code && (
        <Beside className="wide">
          <RateField name={`${prefix}rate`} currency={code} day={day} />
        </Beside>
      )}
    </>
  );
}

/** In which currency the items are of which a part is taken, the firm's own too; empty where none is. */
export function useOf(items: OpenItem[] | undefined, shares: { item: number }[] | undefined): string {
  const own = useFirm().data?.currency ?? '';
  const first = (items ?? []).find((i) => shares?.some((s) => s.item === i.id));
  return first ? first.currency || own : '';
}
