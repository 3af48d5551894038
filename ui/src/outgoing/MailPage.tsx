import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Typography from '@mui/material/Typography';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useEffect } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { inTab, under } from '../api/at';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { useSnackbar } from '../app/messages';
import { useEditing } from '../papers/editing/Editing';
import { Check, Text, useField } from '../papers/editing/fields';
import { useBack, usePrimary } from '../parts/keys';
import { Failure, Key, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';
import { RecordPlace, useRecord } from '../parts/record';
import { FormGrid } from '../parts/RecordDialog';
import { useToday } from '../parts/records';
import { Letter } from './Letter';
import { atOnce, WhenFields, whenOf, type When } from './When';

type Preview = components['schemas']['MailPreview'];
type MailBody = components['schemas']['MailBody'];
type Written = MailBody & When;

/** A mail with papers, or a statement, written with what the customer will read beside it. */
export default function MailPage() {
  const [params] = useSearchParams();
  const papers = params.getAll('papers').map(Number);
  const through = params.get('through') ?? '';
  const asked: MailBody = papers.length
    ? { papers, pdf: true, link: true }
    : {
        customer: Number(params.get('customer')),
        statement: { through, from: params.get('from') ?? undefined, open: params.get('of') === 'open' || undefined },
      };
  const leave = useLeave('/papers');
  const proposal = useQuery({
    queryKey: ['mails', 'proposal', JSON.stringify(asked)],
    queryFn: () => data(api.POST('/api/v1/mails/proposal', { body: asked })),
    staleTime: Infinity,
    gcTime: 0,
  });
  useBack(leave);
  if (proposal.isError)
    return (
      <Page>
        <Failure error={proposal.error} />
      </Page>
    );
  return proposal.data ? <Writing proposal={proposal.data} onDone={leave} /> : null;
}

/** What goes over the line of what was written. */
function bodyOf(w: Written): MailBody {
  const { papers, customer, to, copies, subject, words, pdf, electronic, certificate, link, attachments, statement } = w;
  return {
    papers,
    customer,
    to,
    copies,
    subject,
    words,
    pdf,
    electronic,
    certificate,
    link,
    attachments,
    statement,
    ...whenOf(w),
  };
}

// What was written and not sent yet waits in this window, by what it is about.
const keptAs = (p: Preview) => `mail about ${JSON.stringify([p.papers, p.customer, p.statement])}`;

function kept(p: Preview): Partial<Written> {
  try {
    return JSON.parse(inTab.getItem(keptAs(p)) ?? '{}') as Partial<Written>;
  } catch {
    return {};
  }
}

function Writing({ proposal: p, onDone }: { proposal: Preview; onDone: () => void }) {
  const client = useQueryClient();
  const say = useSnackbar();
  const go = useNavigate();
  const today = useToday();
  const record = useRecord<Written>({ ...p, link: !!p.link && p.links, ...atOnce(today), ...kept(p) }, async (w) => {
    const made = await data(api.POST('/api/v1/mails', { body: bodyOf(w) }));
    inTab.removeItem(keptAs(p));
    say(w.when === 'at once' ? 'It is on its way.' : 'It waits in the outbox.');
    await client.invalidateQueries();
    if (made.papers.length === 1) void go(`/papers/${made.papers[0]}`, { replace: true });
    else onDone();
  });
  usePrimary(() => void record.submit());
  const { form } = record;
  useEffect(() => form.subscribe(() => inTab.setItem(keptAs(p), JSON.stringify(form.body))), [form, p]);
  return (
    <Page>
      <PageHead title="Mail" under={p.about}>
        <Button variant="contained" disabled={record.busy} onClick={() => void record.submit()}>
          Send <Key>Ctrl ↵</Key>
        </Button>
      </PageHead>
      {!p.ready && (
        <Typography role="alert">
          Nothing is mailed yet. <Link to="/setup/mail">Say from where mail goes</Link>, and come back.
        </Typography>
      )}
      <RecordPlace record={record}>
        <Fields proposal={p} />
        <Notices refusals={record.refusals} />
        <Beside />
      </RecordPlace>
    </Page>
  );
}

function Fields({ proposal: p }: { proposal: Preview }) {
  return (
    <FormGrid sx={{ maxWidth: 760 }}>
      <Text name="to" label="To (several with commas)" className="wide" autoFocus />
      <Text name="copies" label="Copies" className="wide" optional />
      <Text name="subject" label="Subject" className="wide" />
      <Text name="words" label="Words" className="wide" multiline minRows={10} maxRows={16} />
      <div className="wide">
        {!!p.papers?.length && <Check name="pdf" label="As a PDF" />}
        {p.claim && <Check name="certificate" label="With the certificate of the claim" />}
        {p.norm && <Check name="electronic" label="As an electronic invoice" />}
        {p.links && <Check name="link" label="With a link, which tells when it was seen" />}
        {p.own.map((a) => (
          <Enclosed key={a.id} id={a.id} name={a.name} />
        ))}
      </div>
      <WhenFields />
    </FormGrid>
  );
}

/** Whether something that is attached goes along. */
function Enclosed({ id, name }: { id: number; name: string }) {
  const { value, set } = useField<number[] | undefined>('attachments');
  const chosen = value?.includes(id) ?? false;
  return (
    <FormControlLabel
      control={
        <Checkbox
          size="small"
          checked={chosen}
          onChange={() => set(chosen ? value!.filter((x) => x !== id) : [...(value ?? []), id])}
        />
      }
      label={name}
    />
  );
}

/** What the customer will read. */
function Beside() {
  const { body } = useEditing<Written>();
  const { papers, customer, to, copies, subject, words, pdf, electronic, certificate, link, attachments, statement } = body;
  const asked = useDeferredValue(
    JSON.stringify({ papers, customer, to, copies, subject, words, pdf, electronic, certificate, link, attachments, statement }),
  );
  const preview = useQuery({
    queryKey: ['mails', 'preview', asked],
    queryFn: () => data(api.POST('/api/v1/mails/preview', { body: JSON.parse(asked) as MailBody })),
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  const shown = preview.data;
  return (
    <Margin>
      <section aria-label="As it will be read">
        <Typography variant="h2" gutterBottom>
          As it will be read
        </Typography>
        {preview.isError && <Notices refusals={toNotices(preview.error)} />}
        {shown && (
          <Letter
            from={shown.from}
            to={shown.to ?? ''}
            copies={shown.copies ?? ''}
            subject={shown.subject ?? ''}
            text={shown.text}
            files={shown.files.map((f) => ({
              ...f,
              href:
                f.type === 'application/pdf' && !certificate && papers?.[f.position - 1]
                  ? under(`/api/v1/papers/${papers[f.position - 1]}/pdf`)
                  : undefined,
            }))}
          />
        )}
      </section>
    </Margin>
  );
}
