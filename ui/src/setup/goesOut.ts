import type { components } from '../api/schema';

type Kind = NonNullable<components['schemas']['Letterhead']['kinds']>[number];

/** The papers that customers get. */
export const goesOut: Kind[] = [
  'invoice',
  'deposit invoice',
  'credit note',
  'quote',
  'order',
  'delivery',
  'request for a deposit',
  'release',
  'receipt',
  'deposit',
  'refund',
];
