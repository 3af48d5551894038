// Showing what Go computed. Nothing here adds, takes away or rounds.

// How the firm writes days and numbers, told by an example of each.
let marks = { group: ',', point: '.' };
let days = '20 Nov 2026';

/** Takes how the firm writes days and numbers. */
export function showAs(dateStyle: string, numberStyle: string) {
  const [, group = ',', point = '.'] = /^1(.)234(.)56$/.exec(numberStyle) ?? [];
  marks = { group: group === ' ' ? '\u00a0' : group, point };
  days = dateStyle;
}

/** A plain figure for people, with the firm's marks and a real minus sign. */
export function show(amount: string | undefined): string {
  if (!amount) return '';
  const minus = amount.startsWith('-');
  const [whole = '', fraction] = (minus ? amount.slice(1) : amount).split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, marks.group);
  return (minus ? '−' : '') + grouped + (fraction === undefined ? '' : marks.point + fraction);
}

/** The same with its currency before it, where that is not the firm's. */
export function showIn(currency: string | undefined, amount: string | undefined): string {
  return currency ? `${currency} ${show(amount)}` : show(amount);
}

/** Whether an amount is nil. */
export function isNil(amount: string | undefined): boolean {
  return !amount || /^-?0*\.?0*$/.test(amount);
}

/** Whether an amount is below nil. */
export function isBelowNil(amount: string): boolean {
  return amount.startsWith('-');
}

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** A day for people, as the firm writes it: 20 Nov 2026; without the year where it is that of today. */
export function showDay(day: string | undefined, today?: string): string {
  const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(day ?? '');
  if (!m) return day ?? '';
  const [, y, mm, dd] = m as unknown as [string, string, string, string];
  const same = today?.startsWith(y);
  switch (days) {
    case '20.11.2026':
      return `${dd}.${mm}.${same ? '' : y}`;
    case '20/11/2026':
      return same ? `${dd}/${mm}` : `${dd}/${mm}/${y}`;
    case '11/20/2026':
      return same ? `${mm}/${dd}` : `${mm}/${dd}/${y}`;
    case '2026-11-20':
      return day!;
  }
  const short = `${Number(dd)} ${months[Number(mm) - 1]}`;
  return same ? short : `${short} ${y}`;
}

/** A day with its weekday, for the top line. */
export function showLongDay(day: string): string {
  return new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: 'UTC',
  });
}

/** A number of days in words. */
export function showDays(n: number): string {
  return `${n} ${n === 1 ? 'day' : 'days'}`;
}

/** What a kind of paper is called. */
export function kindName(kind: string): string {
  return kind.charAt(0).toUpperCase() + kind.slice(1);
}

/** A month, of YYYY-MM. */
export const showMonth = (m: string) => new Date(`${m}-01T12:00:00Z`).toLocaleString('en', { month: 'short', year: '2-digit' });
