import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { api, data, readAt } from '../api/client';
import type { components } from '../api/schema';
import type { Refused } from '../papers/editing/useForm';
import { kindName } from '../parts/show';
import { Boxed } from '../parts/UnderstoodField';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';
import { Several } from './Several';
import { goesOut } from './goesOut';
import { mailAccountQuery } from './mailAccount';

type Template = components['schemas']['MailTemplate'];

const kinds: string[] = [...goesOut, 'purchase order', 'statement'];

const save = (t: Template) =>
  data(
    t.id
      ? api.PUT('/api/v1/mail-templates/{id}', { params: { path: { id: t.id }, header: readAt(t.version) }, body: t })
      : api.POST('/api/v1/mail-templates', { body: t }),
  );

const forWhat = (t: Template) => (t.kinds ?? []).map(kindName).join(', ') || 'all';

/** The words of mails, by kind of paper and language. */
export function MailTemplates() {
  const rows = useQuery({ queryKey: ['mail-templates'], queryFn: () => data(api.GET('/api/v1/mail-templates')) }).data?.rows;
  return (
    <RecordTable<Template>
      kind="mail-templates"
      what="text"
      alone
      rows={rows}
      nameOf={(t) => t.name}
      blank={{ name: '', subject: '{kind} {number}', words: 'Dear {contact},\n\n\n\n{link}\n\nKind regards\n{firm}' }}
      empty="Mails have words of their own without these. A text of yours is taken for kinds of papers, and for customers of a language."
      columns={[
        { title: 'Name', cell: (t) => t.name, text: (t) => t.name },
        { title: 'For', cell: forWhat, text: forWhat },
        { title: 'Language', cell: (t) => t.language || 'our own', text: (t) => t.language ?? '' },
        { title: 'Subject', cell: (t) => t.subject, text: (t) => t.subject },
        { title: 'In use', cell: used, text: used },
      ]}
      save={save}
      form={(t, change, refused) => <Fields t={t} change={change} refused={refused} />}
    />
  );
}

interface FieldsProps {
  t: Template;
  change: (part: Partial<Template>) => void;
  refused: Refused;
}

function Fields({ t, change, refused }: FieldsProps) {
  const fields = useQuery(mailAccountQuery).data?.fields ?? [];
  const toggle = (kind: string) =>
    change({ kinds: t.kinds?.includes(kind) ? t.kinds.filter((k) => k !== kind) : [...(t.kinds ?? []), kind] });
  return (
    <>
      <Text label="Name" field="name" value={t.name} onChange={(name) => change({ name })} error={refused('name')} autoFocus />
      <Text
        label="Language (empty: our own)"
        field="language"
        value={t.language}
        onChange={(language) => change({ language })}
        error={refused('language')}
      />
      <div className="wide">
        <Text
          label="Subject"
          field="subject"
          value={t.subject}
          onChange={(subject) => change({ subject })}
          error={refused('subject')}
        />
      </div>
      <Boxed
        className="wide"
        label="Words"
        data-field="words"
        multiline
        minRows={7}
        maxRows={14}
        value={t.words}
        onChange={(e) => change({ words: e.target.value })}
        error={!!refused('words')}
        helperText={refused('words') || undefined}
      />
      <Typography variant="body2" color="textSecondary" className="wide">
        What stands in braces is filled in: {fields.map((f) => `{${f}}`).join(' ')}
      </Typography>
      <div className="wide">
        <Several
          title="For these kinds (none: for all)"
          error={refused('kinds')}
          all={kinds.map((k) => ({ id: k, name: kindName(k) }))}
          chosen={t.kinds ?? []}
          onToggle={toggle}
        />
      </div>
      <InUse inactive={t.inactive} onChange={(inactive) => change({ inactive })} />
    </>
  );
}
