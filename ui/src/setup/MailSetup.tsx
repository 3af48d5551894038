import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { useEditing } from '../papers/editing/Editing';
import { Chosen, Text } from '../papers/editing/fields';
import { toNotices } from '../parts/Notices';
import { useRecord } from '../parts/record';
import { RecordForm } from '../parts/RecordForm';
import { FormGrid } from '../parts/RecordDialog';
import { Boxed } from '../parts/UnderstoodField';
import { mailAccountQuery } from './mailAccount';
import { MailTemplates } from './MailTemplates';

type Account = components['schemas']['MailAccount'];
type Written = Omit<Account, 'port'> & { port: string; password: string };

/** From where mail goes, and with which words. */
export function MailSetup() {
  const account = useQuery(mailAccountQuery).data;
  if (!account) return null;
  return (
    <>
      <AccountForm key={account.version} account={account} />
      <Typography variant="h2" sx={{ mt: 3 }}>
        Words
      </Typography>
      <MailTemplates />
    </>
  );
}

function AccountForm({ account: a }: { account: Account }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const record = useRecord<Written>(
    { ...a, way: a.way ?? '', port: String(a.port || ''), password: '', pagesAt: a.pagesAt || window.location.origin },
    async ({ port, password, ...b }) => {
      const saved = await data(
        api.PUT('/api/v1/mail-account', { body: { ...b, port: Number(port) || 0, ...(password ? { password } : {}) } }),
      );
      client.setQueryData(['mail-account'], saved);
      say('Saved.');
      await client.invalidateQueries();
    },
  );
  return (
    <RecordForm record={record} beside={!!a.way && <Trial />}>
      <Fields account={a} />
    </RecordForm>
  );
}

function Fields({ account: a }: { account: Account }) {
  const { body } = useEditing<Written>();
  const way = body.way ?? '';
  return (
    <FormGrid>
      <Chosen
        className="wide"
        name="way"
        label="Mail goes"
        options={[
          { value: '', name: 'not at all' },
          ...(a.standIn || a.way === 'stand-in'
            ? [{ value: 'stand-in', name: 'into the mailbox of this machine, to try things out' }]
            : []),
          { value: 'tls', name: 'by a mail server, secret from the first word on (mostly port 465)' },
          { value: 'starttls', name: 'by a mail server that is asked to be secret (mostly port 587)' },
          { value: 'none', name: 'by a mail server of one’s own, not secret' },
        ]}
      />
      {way === 'stand-in' && a.standIn && (
        <Typography className="wide">
          Nothing leaves this machine. What customers would get is read in{' '}
          <a href={a.standIn} target="_blank" rel="noreferrer">
            the mailbox
          </a>
          .
        </Typography>
      )}
      {way && way !== 'stand-in' && (
        <>
          <Text name="host" label="Mail server" />
          <Text name="port" label="Port" />
          <Text name="username" label="Name there" optional />
          <Text
            name="password"
            label={a.hasPassword ? 'Another password (empty: it stays)' : 'Password'}
            type="password"
            optional
            slotProps={{ htmlInput: { autoComplete: 'new-password' } }}
          />
        </>
      )}
      {way && (
        <>
          <Text name="fromAddress" label="From the address" />
          <Text name="fromName" label="Under the name (empty: the firm’s)" optional />
          <Text name="replyTo" label="Answers go to (empty: there)" optional />
          <Text name="copyTo" label="A copy of all, unseen, to" optional />
          <Text name="pagesAt" label="Customers reach this program at" className="wide" />
        </>
      )}
    </FormGrid>
  );
}

/** Sends a trial. */
function Trial() {
  const [to, setTo] = useState('');
  const [said, setSaid] = useState('');
  const send = async () => {
    try {
      await data(api.POST('/api/v1/mail-account/trial', { body: { to } }));
      setSaid(`A trial has gone to ${to}.`);
    } catch (e) {
      setSaid(toNotices(e)[0]?.text ?? '');
    }
  };
  return (
    <>
      <Boxed label="Send a trial to" value={to} onChange={(e) => setTo(e.target.value)} sx={{ width: 230 }} />
      <Button onClick={() => void send()}>Send it</Button>
      <span role="status">{said}</span>
    </>
  );
}
