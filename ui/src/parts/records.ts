import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api, data } from '../api/client';
import type { Option } from './RecordPicker';

const lasting = { staleTime: 60_000 };

/** What is read of these is the same on every day, and a post does not touch it. */
export const lastingKeys = [
  'session',
  'firm',
  'taxcodes',
  'terms',
  'accounts',
  'banks',
  'articles',
  'groups',
  'currencies',
  'rate',
  'limits',
  'blank',
  'draft',
];

export const useFirm = () => useQuery({ queryKey: ['firm'], queryFn: () => data(api.GET('/api/v1/firm')), ...lasting });
export const useTaxCodes = () =>
  useQuery({ queryKey: ['taxcodes'], queryFn: () => data(api.GET('/api/v1/taxcodes')), ...lasting });
export const useTerms = () => useQuery({ queryKey: ['terms'], queryFn: () => data(api.GET('/api/v1/terms')), ...lasting });
export const useAccounts = () =>
  useQuery({ queryKey: ['accounts'], queryFn: () => data(api.GET('/api/v1/accounts')), ...lasting });
export const useBanks = () => useQuery({ queryKey: ['banks'], queryFn: () => data(api.GET('/api/v1/banks')), ...lasting });
export const useCurrencies = () =>
  useQuery({ queryKey: ['currencies'], queryFn: () => data(api.GET('/api/v1/currencies')), ...lasting });
export const useGroups = () => useQuery({ queryKey: ['groups'], queryFn: () => data(api.GET('/api/v1/groups')), ...lasting });
export const useLetterheads = () =>
  useQuery({ queryKey: ['letterheads'], queryFn: () => data(api.GET('/api/v1/letterheads')), ...lasting });
export const useArticles = () =>
  useQuery({ queryKey: ['articles'], queryFn: () => data(api.GET('/api/v1/articles')), ...lasting });
export const sessionQuery = { queryKey: ['session'], queryFn: () => data(api.GET('/api/v1/session')), staleTime: 30_000 };
export const useSession = () => useQuery(sessionQuery);

/** The loose ends; an autosave does not ask for them again. */
export const deskQuery = { queryKey: ['desk'], queryFn: () => data(api.GET('/api/v1/desk')), staleTime: 5_000 };
export const useDesk = () => useQuery(deskQuery);

/** The business day. */
export function useToday(): string {
  return useSession().data?.today ?? '';
}

// A text that is longer finds nothing more.
const longest = 100;
const said = (text: string) => text.trim().slice(0, longest) || undefined;

/** Finds customers by any part of name, number, town or phone. */
export async function findCustomers(text: string): Promise<Option[]> {
  const found = await data(api.GET('/api/v1/customers', { params: { query: { q: said(text), limit: 8 } } }));
  return (found.rows ?? []).map((c) => ({ id: c.id, label: c.name, detail: c.town || c.number }));
}

/** Finds suppliers by any part of name, number, town or phone. */
export async function findSuppliers(text: string): Promise<Option[]> {
  const found = await data(api.GET('/api/v1/suppliers', { params: { query: { q: said(text), limit: 8 } } }));
  return (found.rows ?? []).map((c) => ({ id: c.id, label: c.name, detail: c.town || c.number }));
}

/** Finds customers and suppliers. */
export async function findParties(text: string): Promise<Option[]> {
  const [customers, suppliers] = await Promise.all([findCustomers(text), findSuppliers(text)]);
  return [...customers, ...suppliers.filter((s) => !customers.some((c) => c.id === s.id))];
}

/** Finds a customer's jobs that are not closed. */
export async function findJobs(text: string, customer: number): Promise<Option[]> {
  const found = await data(
    api.GET('/api/v1/jobs', { params: { query: { q: said(text), customer: customer || undefined, limit: 8 } } }),
  );
  return (found.rows ?? []).map((j) => ({ id: j.id, label: `${j.number} ${j.name}`, detail: customer ? undefined : j.customer }));
}

/** What one unit of a currency is worth on a day, by the newest rate that is not after it. */
export const useRate = (currency: string, day: string | undefined) =>
  useQuery({
    queryKey: ['rate', currency, day],
    queryFn: () => data(api.GET('/api/v1/rate', { params: { query: { currency, day: day || undefined } } })),
    enabled: currency !== '',
    ...lasting,
  });

/** A posted paper with all that it led to. */
export const paperQuery = (id: number) => ({
  queryKey: ['paper', id],
  queryFn: () => data(api.GET('/api/v1/papers/{id}', { params: { path: { id } } })),
});

export const useCustomer = (id: number) =>
  useQuery({
    queryKey: ['customer', id],
    queryFn: () => data(api.GET('/api/v1/customers/{id}', { params: { path: { id } } })),
    enabled: id > 0,
  });

export const useJob = (id: number) =>
  useQuery({
    queryKey: ['job', id],
    queryFn: () => data(api.GET('/api/v1/jobs/{id}', { params: { path: { id } } })),
    enabled: id > 0,
  });

/** A customer and a job as options of a picker, by their IDs. */
export function useParties(customer: number, job: number): { customer: Option | null; job: Option | null } {
  const c = useCustomer(customer).data;
  const j = useJob(job).data;
  return useMemo(
    () => ({
      customer: customer && c?.id === customer ? { id: c.id, label: c.name } : null,
      job: job && j?.id === job ? { id: j.id, label: `${j.number} ${j.name}` } : null,
    }),
    [customer, job, c, j],
  );
}
