import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import type { Paper } from '../api/client';
import { showDay } from '../parts/show';

const List = styled('ul')({ listStyle: 'none', margin: '4px 0 0', padding: 0, '& li': { padding: '2px 0' } });

const said: Record<string, string> = {
  noted: 'noted',
  reminded: 'reminded',
  promised: 'promised for',
  'put off': 'put off to',
  addressed: 'printed with the address',
  lost: 'lost',
  sent: 'sent',
  'signed for': 'signed for',
};

/** What happened with a posted paper and posted nothing. */
export function EventList({ events }: { events: Paper['events'] }) {
  if (events.length === 0) return null;
  return (
    <section aria-label="Noted" className="no-print">
      <Typography variant="h2">Noted</Typography>
      <List>
        {events.map((e, i) => (
          <li key={i}>
            {showDay(e.day)} · {said[e.event]} {showDay(e.until)}
            {e.reference && ` · reference ${e.reference}`}
            {e.text && ` · ${e.text}`} <small>{e.user}</small>
          </li>
        ))}
      </List>
    </section>
  );
}
