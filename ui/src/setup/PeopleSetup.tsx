import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { under } from '../api/at';
import { api, data, readAt } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { Choice } from '../papers/editing/fields';
import { Failure } from '../parts/Layout';
import { Boxed } from '../parts/UnderstoodField';
import { RecordTable } from './RecordTable';
import { Text } from './recordFields';

type People = components['schemas']['People'];
type Person = People['rows'][number];
type Edited = Omit<Person, 'id' | 'version' | 'self' | 'factor'> & Partial<Pick<Person, 'id' | 'version' | 'self' | 'factor'>>;

const roles: Edited['role'][] = ['owner', 'bookkeeper', 'biller', 'cashier', 'reader'];

const state = (p: Edited) => (p.ended ? 'ended' : p.factor ? 'password and code' : 'password');

/** Who may sign in, who is invited, and what each may do. */
export function PeopleSetup() {
  const people = useQuery({ queryKey: ['people'], queryFn: () => data(api.GET('/api/v1/people')) });
  const [link, setLink] = useState<{ name: string; to: string } | null>(null);
  const save = async ({ id, version, name, email, role, ended }: Edited) => {
    if (id)
      return data(
        api.PUT('/api/v1/people/{id}', { params: { path: { id }, header: readAt(version ?? 0) }, body: { name, role, ended } }),
      );
    const made = await data(api.POST('/api/v1/invitations', { body: { name, email, role } }));
    setLink({ name, to: `${window.location.origin}${under('/invited')}#${made.secret}` });
  };
  if (people.isError && !people.data) return <Failure error={people.error} />;
  return (
    <>
      <RecordTable<Edited>
        kind="people"
        what="person"
        alone
        rows={people.data?.rows}
        nameOf={(p) => p.name}
        blank={{ name: '', email: '', role: 'bookkeeper', ended: false }}
        empty="Nobody yet."
        columns={[
          { title: 'Name', cell: (p) => (p.self ? `${p.name} (you)` : p.name), text: (p) => p.name },
          { title: 'Signs in as', cell: (p) => p.email, text: (p) => p.email },
          { title: 'Role', cell: (p) => p.role, text: (p) => p.role },
          { title: 'Signs in with', cell: state, text: state },
        ]}
        save={save}
        form={(p, change, refused) => (
          <>
            <Text
              label="Name"
              field="name"
              value={p.name}
              onChange={(name) => change({ name })}
              error={refused('name')}
              autoFocus
            />
            {!p.id && (
              <Text
                label="E-mail"
                field="email"
                type="email"
                value={p.email}
                onChange={(email) => change({ email })}
                error={refused('email')}
              />
            )}
            <Choice
              label="Role"
              field="role"
              value={p.role}
              options={roles.map((r) => ({ value: r, name: r }))}
              onChange={(role) => change({ role: role as Edited['role'] })}
              error={refused('role')}
            />
            {p.id ? (
              <Choice
                label="May sign in"
                field="ended"
                value={p.ended ? 'no' : 'yes'}
                options={[
                  { value: 'yes', name: 'yes' },
                  { value: 'no', name: 'no: their access ends' },
                ]}
                onChange={(v) => change({ ended: v === 'no' })}
              />
            ) : (
              <Typography variant="body2" color="textSecondary" className="wide">
                They are invited by a link that you hand to them. It holds for a week, once; with it they choose their own
                password.
              </Typography>
            )}
          </>
        )}
      />
      {people.data && <Invited people={people.data} />}
      {people.data && <Rights people={people.data} />}
      {link && <LinkDialog link={link} onClose={() => setLink(null)} />}
    </>
  );
}

/** The link of an invitation, which is shown once. */
function LinkDialog({ link, onClose }: { link: { name: string; to: string }; onClose: () => void }) {
  const say = useSnackbar();
  const copy = async () => {
    await navigator.clipboard.writeText(link.to);
    say('Copied.');
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="invited-title">
      <DialogTitle id="invited-title">The link for {link.name}</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2 }}>
          Hand it to {link.name} yourself. Whoever has it becomes {link.name} here. It is shown once and holds for a week.
        </Typography>
        <Boxed
          label="Link"
          data-field="link"
          value={link.to}
          autoFocus
          slotProps={{ htmlInput: { readOnly: true } }}
          onFocus={(e) => e.target.select()}
          fullWidth
        />
      </DialogContent>
      <DialogActions sx={{ padding: '4px 24px 18px' }}>
        <Button onClick={() => void copy()}>Copy it</Button>
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Invitations that nobody has used yet. */
function Invited({ people }: { people: People }) {
  const client = useQueryClient();
  if (people.invitations.length === 0) return null;
  const end = async (id: number) => {
    await api.DELETE('/api/v1/invitations/{id}', { params: { path: { id } } });
    await client.invalidateQueries({ queryKey: ['people'] });
  };
  return (
    <section aria-label="Invited">
      <Typography variant="h2" sx={{ mt: 3 }}>
        Invited
      </Typography>
      <Table>
        <TableBody>
          {people.invitations.map((i) => (
            <TableRow key={i.id}>
              <TableCell>{i.name}</TableCell>
              <TableCell>{i.email}</TableCell>
              <TableCell>{i.role}</TableCell>
              <TableCell>
                {i.late
                  ? 'does not hold any more'
                  : `until ${new Date(i.until).toLocaleDateString('en-GB', { dateStyle: 'medium' })}`}
              </TableCell>
              <TableCell align="right">
                <Button onClick={() => void end(i.id)} aria-label={`End it: the invitation of ${i.name}`}>
                  End it
                </Button>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </section>
  );
}

/** What each role may do, and what the firm settles about billers. */
function Rights({ people }: { people: People }) {
  const client = useQueryClient();
  const settle = async (part: Partial<People['choices']>) => {
    await api.PUT('/api/v1/choices', { body: { ...people.choices, ...part } });
    await client.invalidateQueries();
  };
  return (
    <section aria-label="What each may do">
      <Typography variant="h2" sx={{ mt: 3 }}>
        What each may do
      </Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>May</TableCell>
            {roles.map((r) => (
              <TableCell key={r} align="center">
                {r}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {people.rights.map((r) => (
            <TableRow key={r.right}>
              <TableCell>{r.right}</TableCell>
              {roles.map((role) => (
                <TableCell key={role} align="center">
                  {r.roles.includes(role) ? 'yes' : '–'}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <div style={{ display: 'grid', marginTop: 10 }}>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={people.choices.billerPosts}
              onChange={(e) => void settle({ billerPosts: e.target.checked })}
            />
          }
          label="A biller posts invoices and credit notes"
        />
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={people.choices.billerChooses}
              onChange={(e) => void settle({ billerChooses: e.target.checked })}
            />
          }
          label="A biller chooses another account or number than the one offered"
        />
      </div>
    </section>
  );
}
