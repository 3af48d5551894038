import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Notice } from '../api/client';
import { useSnackbar } from '../app/messages';
import { Notices, toNotices } from '../parts/Notices';
import { useFirm } from '../parts/records';
import { kindName } from '../parts/show';

/** How each kind of paper is numbered. */
export function NumberSetup() {
  const numbering = useFirm().data?.numbering;
  if (!numbering) return null;
  return (
    <div style={{ display: 'grid', gap: 14, maxWidth: 520 }}>
      <Typography variant="body2" color="textSecondary">
        {
          '{yy} or {yyyy} is the year of the paper’s day; {0000} at the end is the running number. Numbers have no gaps: they are given at posting. A number can be chosen on the paper while it is free.'
        }
      </Typography>
      {Object.entries(numbering).map(([kind, format]) => (
        <One key={kind} kind={kind} format={format} />
      ))}
    </div>
  );
}

function One({ kind, format }: { kind: string; format: string }) {
  const [text, setText] = useState(format);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const client = useQueryClient();
  const say = useSnackbar();
  const save = async (e: React.FormEvent) => {
    e.preventDefault();
    try {
      await api.PUT('/api/v1/numbering/{kind}', { params: { path: { kind } }, body: { format: text } });
      setRefusals([]);
      say('Saved. The next paper is numbered so.');
      await client.invalidateQueries();
    } catch (err) {
      setRefusals(toNotices(err));
    }
  };
  return (
    <form onSubmit={save}>
      <div style={{ display: 'flex', gap: 10 }}>
        <TextField
          label={kindName(kind)}
          data-field="format"
          value={text}
          onChange={(e) => setText(e.target.value)}
          error={refusals.length > 0}
          fullWidth
        />
        <Button type="submit" variant="outlined" disabled={text === format}>
          Save
        </Button>
      </div>
      <Notices refusals={refusals} />
    </form>
  );
}
