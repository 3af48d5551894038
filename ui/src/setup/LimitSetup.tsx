import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, data, type Limits, type Notice, readAt } from '../api/client';
import { useSnackbar } from '../app/messages';
import { Notices, toNotices } from '../parts/Notices';
import { FormGrid } from '../parts/RecordDialog';
import { UnderstoodField } from '../parts/UnderstoodField';

/** What the firm has settled about small and lost money. */
export function LimitSetup() {
  const limits = useQuery({ queryKey: ['limits'], queryFn: () => data(api.GET('/api/v1/limits')) }).data;
  return limits ? <Form key={JSON.stringify(limits)} limits={limits} /> : null;
}

const ages = ['not due', '1–30 days over', '31–60 days over', '61–90 days over', 'over 90 days'];

function Form({ limits }: { limits: Limits }) {
  const [l, setL] = useState(limits);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const client = useQueryClient();
  const say = useSnackbar();
  const refused = (field: string) => refusals.some((r) => r.field === field);
  const save = async (e: React.FormEvent) => {
    e.preventDefault();
    try {
      await api.PUT('/api/v1/limits', { params: { header: readAt(limits.version) }, body: l });
      setRefusals([]);
      say('Saved.');
      await client.invalidateQueries();
    } catch (err) {
      setRefusals(toNotices(err));
    }
  };
  return (
    <form onSubmit={save} style={{ maxWidth: 620 }}>
      {!limits.yours && (
        <Typography color="textSecondary" sx={{ mb: 2 }}>
          An owner of the firm changes these. You can look at them.
        </Typography>
      )}
      <FormGrid>
        <UnderstoodField
          kind="amount"
          label="A difference is closed on the spot up to"
          field="difference"
          value={l.difference}
          onChange={(difference) => setL({ ...l, difference })}
          error={refused('difference')}
        />
        <UnderstoodField
          kind="amount"
          label="A second person agrees to write-offs past"
          field="writeOff"
          value={l.writeOff}
          onChange={(writeOff) => setL({ ...l, writeOff })}
          error={refused('writeOff')}
        />
        <Typography variant="body2" color="textSecondary" className="wide">
          Nil means that no second person is asked. While only one person may sign in, that person’s password is asked for again.
        </Typography>
        <FormControlLabel
          className="wide"
          control={<Checkbox size="small" checked={l.relief} onChange={(e) => setL({ ...l, relief: e.target.checked })} />}
          label="The tax inside a bad debt comes back"
        />
      </FormGrid>
      <Typography variant="h2" sx={{ mt: 3 }}>
        Allowance for doubtful debts
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
        How much of what is owed is doubtful, in percent, by its age.
      </Typography>
      <FormGrid data-field="allowance">
        {ages.map((name, n) => (
          <UnderstoodField
            key={name}
            kind="percent"
            label={name}
            field={`allowance[${n}]`}
            value={l.allowance[n] ?? '0'}
            onChange={(v) => setL({ ...l, allowance: l.allowance.map((x, i) => (i === n ? v : x)) })}
            error={refused('allowance') || refused(`allowance[${n}]`)}
          />
        ))}
      </FormGrid>
      <Notices refusals={refusals} />
      <Button type="submit" variant="contained" sx={{ mt: 2 }} disabled={!limits.yours}>
        Save
      </Button>
    </form>
  );
}
