import { useFirm } from '../parts/records';

/** Whether the firm uses a field of its invoices. */
export function useUsed(): (field: string) => boolean {
  const unused = useFirm().data?.unusedFields;
  return (field) => !unused?.includes(field);
}
