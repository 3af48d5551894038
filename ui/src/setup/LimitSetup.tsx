import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { api, data, type Limits, readAt } from '../api/client';
import { useSnackbar } from '../app/messages';
import { Check, Figure } from '../papers/editing/fields';
import { usePrimary } from '../parts/keys';
import { Key } from '../parts/Layout';
import { Notices } from '../parts/Notices';
import { RecordPlace, useRecord } from '../parts/record';
import { FormGrid } from '../parts/RecordDialog';

/** What the firm has settled about small and lost money. */
export function LimitSetup() {
  const limits = useQuery({ queryKey: ['limits'], queryFn: () => data(api.GET('/api/v1/limits')) }).data;
  return limits ? <Written key={JSON.stringify(limits)} limits={limits} /> : null;
}

const ages = ['not due', '1–30 days over', '31–60 days over', '61–90 days over', 'over 90 days'];

function Written({ limits }: { limits: Limits }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const record = useRecord<Limits>(limits, async (body) => {
    await api.PUT('/api/v1/limits', { params: { header: readAt(limits.version) }, body });
    say('Saved.');
    await client.invalidateQueries();
  });
  usePrimary(limits.yours ? () => void record.submit() : undefined);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void record.submit();
      }}
      style={{ maxWidth: 620 }}
    >
      <RecordPlace record={record}>
        <Fields limits={limits} />
      </RecordPlace>
      <Notices refusals={record.refusals} />
      <Button type="submit" variant="contained" sx={{ mt: 2 }} disabled={!limits.yours}>
        Save <Key>Ctrl ↵</Key>
      </Button>
    </form>
  );
}

function Fields({ limits }: { limits: Limits }) {
  return (
    <>
      {!limits.yours && (
        <Typography color="textSecondary" sx={{ mb: 2 }}>
          An owner of the firm changes these. You can look at them.
        </Typography>
      )}
      <FormGrid>
        <Figure kind="amount" label="A difference is closed on the spot up to" name="difference" />
        <Figure kind="amount" label="A second person agrees to write-offs past" name="writeOff" />
        <Typography variant="body2" color="textSecondary" className="wide">
          Nil means that no second person is asked. While only one person may sign in, that person’s password is asked for again.
        </Typography>
        <Check className="wide" name="relief" label="The tax inside a bad debt comes back" />
      </FormGrid>
      <Typography variant="h2" sx={{ mt: 3 }}>
        Late charges
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
        What a new late charge begins with. Nothing is charged by itself.
      </Typography>
      <FormGrid>
        <Figure kind="percent" label="Interest on what is overdue, % a year" name="latePercent" />
        <Figure kind="quantity" label="Days of grace after the due date" name="lateGrace" />
        <Figure kind="amount" label="A fee" name="lateFee" />
      </FormGrid>
      <Typography variant="h2" sx={{ mt: 3 }}>
        Costs passed on
      </Typography>
      <FormGrid sx={{ mt: 1 }}>
        <Figure kind="percent" label="Markup, % (a job or a line may say another)" name="markup" />
        <Check className="wide" name="showMarkup" label="Invoices show cost and markup apart" />
      </FormGrid>
      <Typography variant="h2" sx={{ mt: 3 }}>
        Allowance for doubtful debts
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
        How much of what is owed is doubtful, in percent, by its age.
      </Typography>
      <FormGrid data-field="allowance">
        {ages.map((name, n) => (
          <Figure key={name} kind="percent" label={name} name={`allowance[${n}]`} />
        ))}
      </FormGrid>
    </>
  );
}
