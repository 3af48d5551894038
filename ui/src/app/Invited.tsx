import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, data } from '../api/client';
import { Form, Leaf } from './SignIn';

/** What somebody sees who opens the link of an invitation: they choose their own password. */
export default function Invited() {
  // It stands behind #, which no server and no log is told.
  const [secret] = useState(() => window.location.hash.slice(1));
  const invited = useQuery({
    queryKey: ['invited', secret],
    queryFn: () => data(api.POST('/api/v1/invited', { body: { secret } })),
    retry: false,
    staleTime: Infinity,
  });
  const [password, setPassword] = useState('');
  const [again, setAgain] = useState('');
  const [error, setError] = useState('');
  const [busy, setBusy] = useState(false);
  const client = useQueryClient();
  const go = useNavigate();
  const accept = async (e: React.FormEvent) => {
    e.preventDefault();
    if (password !== again) return setError('The two passwords are not the same.');
    setBusy(true);
    try {
      await data(api.POST('/api/v1/invited/accept', { body: { secret, password } }));
      void go('/desk', { replace: true });
      await client.invalidateQueries({ queryKey: ['session'] });
    } catch (err) {
      setError(err instanceof Error ? err.message : 'That did not work.');
    } finally {
      setBusy(false);
    }
  };
  if (invited.isError)
    return (
      <Leaf>
        <Typography variant="h1">Invitation</Typography>
        <Typography role="alert" sx={{ my: 2 }}>
          {invited.error.message}
        </Typography>
        <Button component={Link} to="/">
          Sign in
        </Button>
      </Leaf>
    );
  if (!invited.data) return null;
  const i = invited.data;
  return (
    <Leaf>
      <Typography variant="h1">{i.firm}</Typography>
      <Typography variant="body2" color="textSecondary">
        {i.by} invited you, {i.name}, as {i.role}. You will sign in as {i.email}, with a password that only you know.
      </Typography>
      <Form onSubmit={accept}>
        <input type="hidden" name="username" autoComplete="username" value={i.email} readOnly />
        <TextField
          label="Password"
          type="password"
          helperText="At least 12 characters. A few words in a row are good."
          autoComplete="new-password"
          autoFocus
          required
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        <TextField
          label="The same again"
          type="password"
          autoComplete="new-password"
          required
          value={again}
          onChange={(e) => setAgain(e.target.value)}
        />
        {error && (
          <Typography color="error" role="alert" variant="body2">
            {error}
          </Typography>
        )}
        <Button type="submit" variant="contained" disabled={busy}>
          Sign in from now on
        </Button>
      </Form>
    </Leaf>
  );
}
