import { showDay } from '../parts/show';

const two = (n: number) => String(n).padStart(2, '0');

/** A moment that Go tells in UTC, by the clock of who reads it. */
export function showMoment(utc: string): string {
  if (!utc) return '';
  const d = new Date(utc);
  return `${showDay(`${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`)}, ${two(d.getHours())}:${two(d.getMinutes())}`;
}

/** A day and a time of who writes it, as Go takes it; '' for no such time. */
export function momentOf(day: string, time: string): string {
  const d = new Date(`${day}T${time.padStart(5, '0')}`);
  return isNaN(d.getTime()) ? '' : d.toISOString();
}
