import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import MenuList from '@mui/material/MenuList';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data } from '../api/client';
import { Failure } from '../parts/Layout';
import { useSession } from '../parts/records';

const Row = styled(MenuItem)({ justifyContent: 'space-between', gap: 16, minHeight: 40 });
const Line = styled('form')({ display: 'flex', alignItems: 'flex-start', gap: 8, marginTop: 18 });

/** Where the e-mail address waits, in the tab, that one signs in with in the firm that one goes to. */
export const goesTo = 'goes to another firm as';

/** The firms that one is in. */
export const useFirms = (enabled: boolean) =>
  useQuery({ queryKey: ['firms'], queryFn: () => data(api.GET('/api/v1/firms')), staleTime: 60_000, enabled });

function leave(to: string, email = '') {
  if (email) sessionStorage.setItem(goesTo, email);
  window.location.assign(to);
}

/** The firms of the program that one is in, to go to another; an owner of the first starts more. */
export function Firms({ onClose }: { onClose: () => void }) {
  const firms = useFirms(true);
  const { email } = useSession().data!;
  const rows = firms.data?.rows ?? [];
  const first = rows.findIndex((f) => !f.here);
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth aria-labelledby="firms">
      <DialogTitle id="firms">Firms</DialogTitle>
      <DialogContent>
        {firms.isError && <Failure error={firms.error} />}
        {firms.data && (
          <MenuList aria-labelledby="firms" autoFocusItem={first >= 0}>
            {rows.map((f, n) => (
              <Row
                key={f.at}
                selected={n === first}
                onClick={() => (f.here ? onClose() : leave(`${f.at}/desk`, f.signedIn ? '' : email))}
              >
                <span>{f.name || f.at.replace('/firm/', '')}</span>
                <Typography variant="body2" color="textSecondary" component="span">
                  {f.here ? 'here' : !f.name ? 'not set up yet' : f.signedIn ? '' : 'asks to sign in'}
                </Typography>
              </Row>
            ))}
          </MenuList>
        )}
        {firms.data && rows.length === 1 && (
          <Typography variant="body2" color="textSecondary">
            Each firm has books, people and sign-ins of its own.
          </Typography>
        )}
        {firms.data?.starts ? <StartFirm /> : firms.data && <ToFirm />}
      </DialogContent>
    </Dialog>
  );
}

/** Goes to a firm by its short name. */
export function ToFirm() {
  const [name, setName] = useState('');
  return (
    <Line
      onSubmit={(e) => {
        e.preventDefault();
        const to = encodeURIComponent(name.trim().toLowerCase());
        leave(to ? `/firm/${to}/desk` : '/');
      }}
    >
      <TextField
        label="Another firm"
        helperText="Its short name, as in its address; none for the first"
        fullWidth
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <Button type="submit" variant="outlined">
        Go there
      </Button>
    </Line>
  );
}

function StartFirm() {
  const { email } = useSession().data!;
  const [name, setName] = useState('');
  const [error, setError] = useState('');
  const start = async (e: React.FormEvent) => {
    e.preventDefault();
    setError('');
    try {
      const made = await data(api.POST('/api/v1/firms', { body: { name } }));
      leave(`${made.at}/#${made.word}`, email);
    } catch (err) {
      setError(err instanceof Error ? err.message : 'That did not work.');
    }
  };
  return (
    <Line onSubmit={start}>
      <TextField
        label="Start another firm"
        helperText={error || 'A short name for its address, such as lower-yard'}
        error={!!error}
        required
        fullWidth
        value={name}
        onChange={(e) => setName(e.target.value)}
        slotProps={{ formHelperText: { role: error ? 'alert' : undefined } }}
      />
      <Button type="submit" variant="outlined">
        Start
      </Button>
    </Line>
  );
}
