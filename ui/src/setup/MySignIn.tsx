import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data } from '../api/client';
import { useSnackbar } from '../app/messages';
import { useEditing } from '../papers/editing/Editing';
import { RecordDialog } from '../parts/RecordDialog';
import { useSession } from '../parts/records';
import { showMoment } from '../outgoing/moment';
import { Text } from './recordFields';

type Open = 'password' | 'factor' | 'drop' | null;

/** One's own password, second factor and sessions. */
export function MySignIn() {
  const session = useSession().data!;
  const [open, setOpen] = useState<Open>(null);
  const [codes, setCodes] = useState<string[]>([]);
  const client = useQueryClient();
  const done = async () => {
    setOpen(null);
    await client.invalidateQueries({ queryKey: ['session'] });
    await client.invalidateQueries({ queryKey: ['sessions'] });
  };
  return (
    <div style={{ display: 'grid', gap: 22, maxWidth: 720 }}>
      <section aria-label="Who you are">
        <Typography variant="h2">{session.user}</Typography>
        <Typography color="textSecondary">
          {session.email} · {session.role}
        </Typography>
        <Button variant="outlined" sx={{ mt: 1 }} onClick={() => setOpen('password')}>
          Change the password
        </Button>
      </section>
      <section aria-label="Second factor">
        <Typography variant="h2">Code beside the password</Typography>
        <Typography sx={{ mb: 1 }}>
          {session.factor
            ? `A code of your authenticator is asked for when you sign in. ${session.spare} spare codes are left.`
            : 'With an authenticator, who knows your password alone does not get in.'}
        </Typography>
        {session.factor ? (
          <>
            <Button variant="outlined" onClick={() => setOpen('factor')}>
              Set up another
            </Button>{' '}
            <Button onClick={() => setOpen('drop')}>Sign in without it</Button>
          </>
        ) : (
          <Button variant="outlined" onClick={() => setOpen('factor')}>
            Set up
          </Button>
        )}
        {codes.length > 0 && <Spare codes={codes} />}
      </section>
      <Sessions />
      {open === 'password' && <Password onClose={() => setOpen(null)} onDone={done} />}
      {open === 'factor' && (
        <Factor
          onClose={() => setOpen(null)}
          onDone={(given) => {
            setCodes(given);
            void done();
          }}
        />
      )}
      {open === 'drop' && <Drop onClose={() => setOpen(null)} onDone={done} />}
    </div>
  );
}

function Spare({ codes }: { codes: string[] }) {
  return (
    <div role="status">
      <Typography sx={{ mt: 2 }}>
        Keep these spare codes where you find them without the authenticator. Each takes the place of a code once. They are shown
        this once.
      </Typography>
      <pre>{codes.join('\n')}</pre>
    </div>
  );
}

interface Passwords {
  old: string;
  password: string;
}

function Password({ onClose, onDone }: { onClose: () => void; onDone: () => Promise<void> }) {
  const say = useSnackbar();
  return (
    <RecordDialog<Passwords>
      title="Change the password"
      initial={{ old: '', password: '' }}
      onClose={onClose}
      onSave={async (body) => {
        await api.POST('/api/v1/password', { body });
        say('Changed. Every other session of yours has ended.');
        await onDone();
      }}
    >
      <PasswordFields />
    </RecordDialog>
  );
}

function PasswordFields() {
  const { body, change, refused } = useEditing<Passwords>();
  return (
    <>
      <Text
        label="The old password"
        field="old"
        type="password"
        value={body.old}
        onChange={(old) => change({ old })}
        error={refused('old')}
        autoFocus
      />
      <Text
        label="The new password"
        field="password"
        type="password"
        value={body.password}
        onChange={(password) => change({ password })}
        error={refused('password')}
      />
    </>
  );
}

interface Code {
  password: string;
  code: string;
}

function Factor({ onClose, onDone }: { onClose: () => void; onDone: (codes: string[]) => void }) {
  const factor = useQuery({
    queryKey: ['new-factor'],
    queryFn: () => data(api.POST('/api/v1/factor/new', {})),
    staleTime: Infinity,
    gcTime: 0,
  }).data;
  if (!factor) return null;
  return (
    <RecordDialog<Code>
      title="Set up an authenticator"
      initial={{ password: '', code: '' }}
      onClose={onClose}
      saveLabel="Ask for it from now on"
      onSave={async (body) => {
        const set = await data(api.POST('/api/v1/factor', { body: { ...body, secret: factor.secret } }));
        onDone(set.codes ?? []);
      }}
    >
      <div className="wide" style={{ display: 'flex', gap: 20, alignItems: 'center' }}>
        <img src={factor.picture} alt="The code that an authenticator takes a picture of" width={180} height={180} />
        <div>
          <Typography>Take a picture of this with an authenticator, or type what it says:</Typography>
          <Typography component="code" sx={{ fontFamily: 'monospace', wordBreak: 'break-all' }}>
            {factor.secret.replace(/(.{4})/g, '$1 ').trim()}
          </Typography>
          <Typography sx={{ mt: 1 }}>Then type the code that it shows, and your password.</Typography>
        </div>
      </div>
      <CodeFields />
    </RecordDialog>
  );
}

function CodeFields() {
  const { body, change, refused } = useEditing<Code>();
  return (
    <>
      <Text label="Code" field="code" value={body.code} onChange={(code) => change({ code })} error={refused('code')} autoFocus />
      <OwnPassword />
    </>
  );
}

function Drop({ onClose, onDone }: { onClose: () => void; onDone: () => Promise<void> }) {
  return (
    <RecordDialog<{ password: string }>
      title="Sign in without a code"
      initial={{ password: '' }}
      onClose={onClose}
      saveLabel="Ask for it no more"
      onSave={async (body) => {
        await api.POST('/api/v1/factor/drop', { body });
        await onDone();
      }}
    >
      <OwnPassword autoFocus />
    </RecordDialog>
  );
}

/** One's own password again, in any dialog that asks for it. */
function OwnPassword({ autoFocus }: { autoFocus?: boolean }) {
  const { body, change, refused } = useEditing<{ password: string }>();
  return (
    <Text
      label="Your password"
      field="password"
      type="password"
      value={body.password}
      onChange={(password) => change({ password })}
      error={refused('password')}
      autoFocus={autoFocus}
    />
  );
}

/** Where one is signed in; of everybody for an owner. */
function Sessions() {
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: () => data(api.GET('/api/v1/sessions')) });
  const client = useQueryClient();
  const end = async (id: string) => {
    await api.DELETE('/api/v1/sessions/{id}', { params: { path: { id } } });
    await client.invalidateQueries({ queryKey: ['sessions'] });
  };
  const rows = sessions.data?.rows ?? [];
  return (
    <section aria-label="Signed in">
      <Typography variant="h2">Signed in</Typography>
      <Table>
        <TableHead>
          <TableRow>
            <TableCell>Who</TableCell>
            <TableCell>With</TableCell>
            <TableCell>From</TableCell>
            <TableCell>Since</TableCell>
            <TableCell>Last seen</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((s) => (
            <TableRow key={s.id}>
              <TableCell>{s.user}</TableCell>
              <TableCell>{s.with}</TableCell>
              <TableCell>{s.address}</TableCell>
              <TableCell>{showMoment(s.began)}</TableCell>
              <TableCell>{showMoment(s.seen)}</TableCell>
              <TableCell align="right">{s.here ? 'here' : <Button onClick={() => void end(s.id)}>End it</Button>}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </section>
  );
}
