import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { api, data, type Notice } from '../api/client';
import { BalanceTable, EntryTable } from '../app/EffectView';
import { useSnackbar } from '../app/messages';
import { showMoment } from '../outgoing/moment';
import { useBack } from '../parts/keys';
import { Empty, Failure, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';

/** What somebody is about to post and a second person must agree to. */
export default function WordPage() {
  const id = Number(useParams().id);
  const words = useQuery({ queryKey: ['words'], queryFn: () => data(api.GET('/api/v1/words')) });
  const [note, setNote] = useState('');
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const client = useQueryClient();
  const say = useSnackbar();
  const go = useNavigate();
  useBack(useLeave('/desk'));
  if (words.isError && !words.data)
    return (
      <Page>
        <Failure error={words.error} />
      </Page>
    );
  if (!words.data) return null;
  const forYou = words.data.forYou.find((w) => w.id === id);
  const yours = words.data.yours.find((w) => w.id === id);
  const w = forYou ?? yours;
  if (!w)
    return (
      <Page>
        <PageHead title="A second person’s word" />
        <Empty action="To the Desk" onAction={() => go('/desk')}>
          Nobody’s word is needed here any more: it was posted, answered or taken back.
        </Empty>
      </Page>
    );
  const done = async (text: string) => {
    say(text);
    void go('/desk');
    await client.invalidateQueries();
  };
  const answer = async (agree: boolean) => {
    try {
      await api.POST('/api/v1/words/{id}', { params: { path: { id } }, body: { agree, note: agree ? undefined : note } });
      await done(agree ? `Agreed. ${w.asker} can post it now.` : `Not agreed. ${w.asker} sees why.`);
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  const end = async () => {
    try {
      await api.DELETE('/api/v1/words/{id}', { params: { path: { id } } });
      await done('Asked for no more.');
    } catch (e) {
      setRefusals(toNotices(e));
    }
  };
  return (
    <Page>
      <PageHead
        title={forYou ? `${w.asker} asks for your word` : 'You asked for a second person’s word'}
        under={showMoment(w.askedAt)}
      />
      <Typography>{w.summary}</Typography>
      <Typography color="textSecondary">{w.why}</Typography>
      {forYou ? (
        <div style={{ display: 'flex', gap: 12, alignItems: 'flex-start', maxWidth: 720 }}>
          <Button variant="contained" onClick={() => void answer(true)} autoFocus>
            Agree
          </Button>
          <TextField
            label="Why not"
            data-field="note"
            value={note}
            onChange={(e) => setNote(e.target.value)}
            style={{ flex: 1 }}
            slotProps={{ htmlInput: { maxLength: 400 } }}
          />
          <Button variant="outlined" onClick={() => void answer(false)}>
            Do not agree
          </Button>
        </div>
      ) : (
        <div>
          <Typography sx={{ mb: 1 }}>
            {w.state === 'waits' ? 'Nobody has answered yet.' : `${w.by}: ${w.state}${w.note ? ` – ${w.note}` : ''}`}
          </Typography>
          {w.draft > 0 && <Button onClick={() => go(`/papers/drafts/${w.draft}`)}>To the draft</Button>}
          <Button onClick={() => void end()}>Ask for it no more</Button>
        </div>
      )}
      <Notices refusals={refusals} />
      <Margin>
        <Typography variant="h2">Effect</Typography>
        {w.shown && (
          <>
            <EntryTable entries={w.shown.entries} debit={w.shown.debit} credit={w.shown.credit} />
            <BalanceTable effect={w.shown} />
          </>
        )}
      </Margin>
    </Page>
  );
}
