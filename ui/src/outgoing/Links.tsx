import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { showDay } from '../parts/show';
import { Boxed } from '../parts/UnderstoodField';

type Link = components['schemas']['Link'];

const Rows = styled('ul')({
  listStyle: 'none',
  margin: '6px 0 0',
  padding: 0,
  '& li': { display: 'flex', gap: 14, alignItems: 'center', minHeight: 32 },
});

type Statement = components['schemas']['MailStatement'];

/** What a link opens: a paper, or a statement of a customer. */
type To = { paper: number } | { customer: number; statement: Statement };

function linksOf(to: To) {
  return 'paper' in to
    ? api.GET('/api/v1/papers/{id}/links', { params: { path: { id: to.paper } } })
    : api.GET('/api/v1/customers/{id}/links', { params: { path: { id: to.customer } } });
}

function makeLink(to: To) {
  return 'paper' in to
    ? api.POST('/api/v1/papers/{id}/links', { params: { path: { id: to.paper } }, body: {} })
    : api.POST('/api/v1/customers/{id}/links', { params: { path: { id: to.customer } }, body: to.statement });
}

/** Links that show it to whoever has them: made, seen, ended. */
export function Links({ to, what }: { to: To; what: string }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const [made, setMade] = useState('');
  const key = ['links', 'paper' in to ? to.paper : { customer: to.customer }];
  const rows = useQuery({
    queryKey: key,
    queryFn: () => data(linksOf(to)),
  }).data?.rows;
  if (!rows) return null;
  const make = async () => {
    const links = await data(makeLink(to));
    setMade(window.location.origin + links.path);
    client.setQueryData(key, { rows: links.rows });
  };
  const end = async (l: Link) => {
    await api.DELETE('/api/v1/links/{id}', { params: { path: { id: l.id } } });
    setMade('');
    await client.invalidateQueries({ queryKey: key });
    say('The link has ended.');
  };
  const copy = async () => {
    await navigator.clipboard.writeText(made);
    say('Copied.');
  };
  return (
    <section className="no-print" aria-label="Links" style={{ maxWidth: 800, margin: '14px auto 0', width: '100%' }}>
      <div style={{ display: 'flex', gap: 14, alignItems: 'center' }}>
        <Typography variant="h2">Links</Typography>
        <Button onClick={() => void make()}>Make a link</Button>
        {rows.length === 0 && <span>A page with {what} alone, for whoever has its address</span>}
      </div>
      {made && (
        <div style={{ display: 'flex', gap: 8, alignItems: 'center', marginTop: 6 }}>
          <Boxed
            label="Its address, told this once"
            value={made}
            autoFocus
            fullWidth
            onFocus={(e) => e.target.select()}
            slotProps={{ htmlInput: { readOnly: true } }}
          />
          <Button onClick={() => void copy()}>Copy</Button>
        </div>
      )}
      <Rows>
        {rows.map((l) => (
          <li key={l.id}>
            <span style={{ flex: 1 }}>
              made {showDay(l.made.slice(0, 10))}, {stateOf(l)}
            </span>
            <span>{seenOf(l)}</span>
            {l.open && (
              <Button size="small" onClick={() => void end(l)}>
                End it
              </Button>
            )}
          </li>
        ))}
      </Rows>
    </section>
  );
}

const stateOf = (l: Link) => (l.open ? `opens through ${showDay(l.endsOn)}` : 'ended');

function seenOf(l: Link): string {
  if (!l.firstSeen) return 'not seen yet';
  const first = `seen ${showDay(l.firstSeen.slice(0, 10))}`;
  return l.times > 1 ? `${first}, last ${showDay(l.lastSeen.slice(0, 10))}, ${l.times} times` : first;
}
