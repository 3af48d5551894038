import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, Problem } from '../api/client';
import { useSession } from '../parts/records';
import { goesTo, ToFirm } from './Firms';

export const Leaf = styled('main')(({ theme }) => ({
  maxWidth: 400,
  margin: '14vh auto 0',
  padding: '30px 34px 34px',
  backgroundColor: theme.vars!.palette.tally.paper,
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
}));

export const Form = styled('form')({ display: 'flex', flexDirection: 'column', gap: 14, marginTop: 18 });

/** The fields of signing in; what is on screen behind them stays. */
export function SignInForm({ onDone }: { onDone: () => void }) {
  const demo = useSession().data?.demo;
  const [email, setEmail] = useState(() => sessionStorage.getItem(goesTo) ?? ''); // as in the firm that one comes from
  const [known] = useState(email !== '');
  const [password, setPassword] = useState('');
  const [code, setCode] = useState<string | null>(null); // null while none is asked for
  const [error, setError] = useState('');
  const [busy, setBusy] = useState(false);
  const signIn = async (e: React.FormEvent) => {
    e.preventDefault();
    setBusy(true);
    setError('');
    try {
      await api.POST('/api/v1/session', { body: { email, password, code: code || undefined } });
      sessionStorage.removeItem(goesTo);
      onDone();
    } catch (err) {
      if (err instanceof Problem && err.type === 'a code' && code === null) setCode('');
      else setError(err instanceof Error ? err.message : 'That did not work.');
    } finally {
      setBusy(false);
    }
  };
  return (
    <Form onSubmit={signIn}>
      <TextField
        label="E-mail"
        type="email"
        autoComplete="username"
        autoFocus={!known}
        required
        value={email}
        onChange={(e) => setEmail(e.target.value)}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        autoFocus={known}
        required
        value={password}
        onChange={(e) => setPassword(e.target.value)}
      />
      {code !== null && (
        <TextField
          label="Code"
          helperText="The code that your authenticator shows, or one of your spare codes"
          autoComplete="one-time-code"
          autoFocus
          required
          value={code}
          onChange={(e) => setCode(e.target.value)}
        />
      )}
      {error && (
        <Typography color="error" role="alert" variant="body2">
          {error}
        </Typography>
      )}
      <Button type="submit" variant="contained" disabled={busy}>
        Sign in
      </Button>
      {demo && (
        <Typography variant="body2" color="textSecondary">
          These are the books of a made-up firm. Its owner signs in as office@sparrow-winder.example with the password “winding
          stairs”; the others stand where the program was started.
        </Typography>
      )}
    </Form>
  );
}

export function SignIn() {
  const client = useQueryClient();
  const { firm, firms } = useSession().data ?? {};
  return (
    <Leaf>
      <Typography variant="h1">{firm}</Typography>
      <Typography variant="body2" color="textSecondary">
        Clean Tally
      </Typography>
      <SignInForm onDone={() => client.invalidateQueries({ queryKey: ['session'] })} />
      {firms && <ToFirm />}
    </Leaf>
  );
}

/** Asks to sign in again over a page whose session is over. */
export function SignInAgain({ open, onDone }: { open: boolean; onDone: () => void }) {
  return (
    <Dialog open={open} maxWidth="xs" fullWidth aria-labelledby="again">
      <div style={{ padding: 28 }}>
        <Typography variant="h1" id="again">
          Sign in again
        </Typography>
        <Typography variant="body2" color="textSecondary">
          Your session is over. What you typed is still here.
        </Typography>
        <SignInForm onDone={onDone} />
      </div>
    </Dialog>
  );
}
