import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { Notices } from '../parts/Notices';
import { RecordPlace, useRecord } from '../parts/record';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { atOnce, WhenFields, whenOf, type When } from './When';

type Many = components['schemas']['ManyMails'];
type Statement = components['schemas']['MailStatement'];

interface Props {
  papers?: number[];
  customers?: number[];
  statement?: Statement;
}

/** Mails many papers or statements, each to its customer with the words of its kind. */
export function MailMany({ papers, customers, statement }: Props) {
  const [asked, setAsked] = useState(false);
  const [made, setMade] = useState<Many | null>(null);
  const client = useQueryClient();
  const count = (papers ?? customers ?? []).length;
  const what = papers ? (count === 1 ? 'paper' : 'papers') : count === 1 ? 'statement' : 'statements';
  const today = useToday();
  const record = useRecord<When>(atOnce(today), async (w) => {
    const body = { papers, customers, statement, link: true, ...whenOf(w) };
    setMade(await data(api.POST('/api/v1/mails/many', { body })));
    await client.invalidateQueries();
  });
  const close = () => {
    setAsked(false);
    setMade(null);
  };
  return (
    <>
      <Button variant="outlined" disabled={count === 0 || count > 500} onClick={() => setAsked(true)}>
        Mail
      </Button>
      <Dialog open={asked} onClose={close} maxWidth="sm" fullWidth aria-labelledby="mail-many">
        <DialogTitle id="mail-many">
          {made ? `${made.made} of ${count} ${made.made === 1 ? 'goes' : 'go'} out` : `Mail ${count} ${what}`}
        </DialogTitle>
        <DialogContent>
          {!made && (
            <RecordPlace record={record}>
              <p style={{ margin: '0 0 14px' }}>Each goes to its customer as a PDF, with the words of its kind.</p>
              <FormGrid>
                <WhenFields label="They go" />
              </FormGrid>
              <Notices refusals={record.refusals} />
            </RecordPlace>
          )}
          {made && made.left.length > 0 && (
            <>
              <p style={{ marginTop: 0 }}>These do not:</p>
              <ul>
                {made.left.map((l, n) => (
                  <li key={n}>
                    {l.name}: {l.why}
                  </li>
                ))}
              </ul>
            </>
          )}
          {made && (
            <p style={{ margin: 0 }}>
              What becomes of them stands in <Link to="/papers/outbox">the outbox</Link>.
            </p>
          )}
        </DialogContent>
        <DialogActions sx={{ padding: '4px 24px 18px' }}>
          <Button onClick={close}>{made ? 'Close' : 'Cancel'}</Button>
          {!made && (
            <Button variant="contained" autoFocus disabled={record.busy} onClick={() => void record.submit()}>
              Send them
            </Button>
          )}
        </DialogActions>
      </Dialog>
    </>
  );
}
