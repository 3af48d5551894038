// The past day that everything is shown as of; '' for now. It is kept for the
// tab and told in the top line.

import { useSyncExternalStore } from 'react';
import { here, inTab } from '../api/at';

const kept = { day: inTab.getItem('asOf') ?? '' };

// What is shown as it stood then. Where a paper is written, now counts.
const shown =
  /^\/api\/v1\/(desk|customers|suppliers|jobs|costs|margins|stock|credit-notes|returned-goods|credited|papers|registers|deposit-register|ageing|trial-balance|tie-out|expected|held|why|allowance|bank|banks\/\d+\/lines)(\/|$)/;
const writing = /^\/papers\/(new|drafts)/;

/** The day to ask for, for a path of the API; '' for now. */
export function asOfFor(path: string): string {
  return kept.day && shown.test(path) && !/\/(statement|proposal)(\/file)?$/.test(path) && !writing.test(here()) ? kept.day : '';
}

/** The day that what is read here stands for: it belongs to the key that it is kept by. */
export function asOfHere(): string {
  return writing.test(here()) ? '' : kept.day;
}

/** Looks back from a day, or with '' no longer. */
export function lookBackFrom(day: string) {
  if (day === kept.day) return;
  kept.day = day;
  if (day) inTab.setItem('asOf', day);
  else inTab.removeItem('asOf');
  window.dispatchEvent(new Event('asOf'));
}

/** The day that is looked back from, as it changes; '' for now. */
export function useLookingBack(): string {
  return useSyncExternalStore(
    (on) => {
      window.addEventListener('asOf', on);
      return () => window.removeEventListener('asOf', on);
    },
    () => kept.day,
  );
}

/** Tells whether a field has come to a day, as days are kept; while one types it has not. */
export const isDay = (d: string) => /^\d{4}-\d{2}-\d{2}$/.test(d);
