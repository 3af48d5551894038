/** What balance a figure is: what the API is asked why of. */
export interface WhyOf {
  of: 'account' | 'item' | 'register' | 'billed';
  id?: number;
  register?:
    'receivables' | 'retention' | 'deposits' | 'unidentified' | 'payables' | 'supplier prepayments' | 'retention payable';
  side?: 'owed' | 'credits';
  customer?: number;
  job?: number;
  /** What it is called, for the list that says why. */
  name: string;
}

/** Marks a figure, so that y, or a click on it, says why it is so. */
export const whyProps = (why: WhyOf) => ({
  'data-why': JSON.stringify(why),
  role: 'button',
  tabIndex: 0,
  title: 'Why? Press y',
});

/** The figure that a key means: the one that has the focus, lies under the pointer, or stands first. */
export function figureMeant(): WhyOf | null {
  const found =
    document.activeElement?.closest<HTMLElement>('[data-why]') ??
    [...document.querySelectorAll<HTMLElement>('[data-why]:hover')].at(-1) ??
    [...document.querySelectorAll<HTMLElement>('main [data-why]')].find((e) => /[1-9]/.test(e.textContent ?? ''));
  return found?.dataset.why ? (JSON.parse(found.dataset.why) as WhyOf) : null;
}
