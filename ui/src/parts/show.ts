// Showing what Go computed. Nothing here adds, takes away or rounds.

/** An amount for people: grouped by thousands, with a real minus sign. */
export function show(amount: string | undefined): string {
  if (!amount) return '';
  const minus = amount.startsWith('-');
  const [whole = '', fraction] = (minus ? amount.slice(1) : amount).split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, ',');
  return (minus ? '−' : '') + grouped + (fraction === undefined ? '' : `.${fraction}`);
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

/** A day for people: 20 Nov 2026; without the year where it is that of today. */
export function showDay(day: string | undefined, today?: string): string {
  const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(day ?? '');
  if (!m) return day ?? '';
  const short = `${Number(m[3])} ${months[Number(m[2]) - 1]}`;
  return today?.startsWith(m[1]!) ? short : `${short} ${m[1]}`;
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
