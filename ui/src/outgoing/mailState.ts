import type { MailRow } from '../api/client';
import { showMoment } from './moment';

/** What became of a mail, in a line. */
export function mailState(m: MailRow): string {
  switch (m.state) {
    case 'waiting':
      return m.tries > 0 ? `not sent yet, tried again ${showMoment(m.due)}` : `waiting for ${showMoment(m.due)}`;
    case 'by hand':
      return 'waits until it is sent by hand';
    case 'sent':
      return `sent ${showMoment(m.sent)}`;
    case 'failed':
      return 'failed';
    default:
      return 'stopped';
  }
}

/** When what went along was seen; '' for not, or not known. */
export function mailSeen(m: MailRow): string {
  if (!m.firstSeen) return '';
  const first = `seen ${showMoment(m.firstSeen)}`;
  return m.lastSeen && m.lastSeen !== m.firstSeen ? `${first}, last ${showMoment(m.lastSeen)}` : first;
}
