import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, data, type Notice } from '../api/client';
import { useSnackbar } from '../app/messages';
import { TieOutTable } from '../desk/Desk';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';
import { useFirm, useToday } from '../parts/records';
import { showDay } from '../parts/show';
import { UnderstoodField } from '../parts/UnderstoodField';

const Form = styled('form')({ display: 'flex', gap: 10, alignItems: 'flex-start', maxWidth: 640 });

/** Closing the period through a day, and opening it again with a reason. */
export function Closing() {
  const firm = useFirm().data;
  const today = useToday();
  const client = useQueryClient();
  const say = useSnackbar();
  const desk = useQuery({ queryKey: ['desk'], queryFn: () => data(api.GET('/api/v1/desk')) }).data;
  const [through, setThrough] = useState<string>();
  const [reason, setReason] = useState('');
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const locked = firm?.lockedThrough ?? '';
  const day = through ?? locked;
  const save = async () => {
    try {
      await api.PUT('/api/v1/lock', { body: { through: day, reason } });
      setRefusals([]);
      setReason('');
      say(day ? `Locked through ${showDay(day)}.` : 'Nothing is locked now.');
      await client.invalidateQueries();
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  usePrimary(() => void save());
  const opens = day < locked;
  const waiting = [
    { n: desk?.drafts.length ?? 0, what: 'drafts', to: '/papers?state=draft' },
    {
      n: desk?.groups.find((g) => g.group === 'on account')?.count ?? 0,
      what: 'credits not used',
      to: '/papers?kind=receipt&state=open',
    },
    {
      n: desk?.groups.find((g) => g.group === 'deposit')?.count ?? 0,
      what: 'deposits whose invoice is there',
      to: '/ledger/registers?register=deposits',
    },
  ].filter((w) => w.n > 0);
  return (
    <>
      <Typography>
        {locked
          ? `The books are locked through ${showDay(locked)}: nothing posts on or before it.`
          : 'Nothing is locked yet: any day can be posted to.'}
      </Typography>
      {waiting.length > 0 && (
        <Typography>
          Before you close, look at{' '}
          {waiting.map((w, i) => (
            <span key={w.what}>
              {i > 0 && ', '}
              <Link to={w.to}>
                {w.n} {w.what}
              </Link>
            </span>
          ))}
          .
        </Typography>
      )}
      <Form
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <UnderstoodField
          kind="day"
          label="Locked through"
          field="through"
          value={day}
          onChange={setThrough}
          width={150}
          placeholder={`for example ${showDay(today)}`}
        />
        {opens && (
          <TextField
            label="Why open it again?"
            data-field="reason"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
            fullWidth
          />
        )}
        <Button type="submit" variant="contained" disabled={day === locked} style={{ minHeight: 38 }}>
          {opens ? 'Unlock' : 'Lock'} <Key>Ctrl ↵</Key>
        </Button>
      </Form>
      <Notices refusals={refusals} />
      <Margin>{desk && <TieOutTable tieOut={desk.tieOut} />}</Margin>
    </>
  );
}
