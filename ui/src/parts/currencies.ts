import type { Rate } from '../api/client';
import { useBanks, useCurrencies, useFirm } from './records';
import { showDay, showDays } from './show';

/** The firm's own currency, and those beside it that are in use, as options of a choice. */
export function useCurrencyOptions(): { value: string; name: string }[] {
  const own = useFirm().data?.currency ?? '';
  const rows = useCurrencies().data?.rows ?? [];
  return [own, ...rows.filter((c) => !c.inactive).map((c) => c.code)].map((code) => ({ value: code, name: code }));
}

/** In which currency a bank account is: its code, the firm's own too. */
export function useBankCurrency(bank: number | undefined): string {
  const own = useFirm().data?.currency ?? '';
  return useBanks().data?.rows.find((b) => b.id === bank)?.currency || own;
}

/** The name of a bank account, with its currency where that is not the firm's. */
export const bankNamed = (b: { name?: string; currency?: string }) => (b.currency ? `${b.name}, ${b.currency}` : (b.name ?? ''));

/** What a field is called where its amount is in another currency than the firm's. */
export function useNamed(currency: string): (label: string) => string {
  const own = useFirm().data?.currency ?? '';
  return (label) => (currency && currency !== own ? `${label}, ${currency}` : label);
}

/** Whether the firm has other currencies than its own. */
export const useAbroad = () => (useCurrencies().data?.rows.length ?? 0) > 0;

/** What a paper says of its currency to be in that of another: nothing where the firm has but its own. */
export function useAlike(): (of: { currency?: string }) => { currency?: string } {
  const own = useFirm().data?.currency ?? '';
  const abroad = useAbroad();
  return (of) => (abroad ? { currency: of.currency || own } : {});
}

/** What is said beside a rate: of which day it is and how old, or that it was typed. */
export function rateSaid(typed: string | undefined, rate: Rate | undefined): string {
  if (typed && typed !== rate?.rate) return 'as typed';
  if (!rate?.rate) return 'no rate yet: say one here or in the setup';
  return `of ${showDay(rate.day)}${rate.age ? `, ${showDays(rate.age)} old` : ''}`;
}
