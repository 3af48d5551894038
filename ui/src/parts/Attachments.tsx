import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import Typography from '@mui/material/Typography';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { under } from '../api/at';
import { api, data, Problem, type Attachment } from '../api/client';
import { showDay } from './show';

interface Of {
  paper?: number;
  draft?: number;
  customer?: number;
  job?: number;
}

interface Props extends Of {
  /** Makes what the file is attached to, where it is not there yet: a draft is saved first. */
  before?: () => Promise<Of>;
  /** Whether what is attached may go out with the paper. */
  goesOut?: boolean;
  /** In one line, over a sheet. */
  slim?: boolean;
  /** To be looked at alone, by this title; nothing where there is none. */
  kept?: string;
  /** The one that is looked at, where it stands elsewhere. */
  onLook?: (a: Attachment | null) => void;
  looked?: number;
}

const Drop = styled('section')(({ theme }) => ({
  '&[data-over]': { outline: `2px dashed ${theme.vars!.palette.primary.main}`, outlineOffset: 4 },
}));
const Files = styled('ul')(({ theme }) => ({
  listStyle: 'none',
  margin: 0,
  padding: 0,
  '& li': {
    display: 'flex',
    alignItems: 'center',
    gap: 10,
    minHeight: 32,
    borderBottom: `1px solid ${theme.vars!.palette.tally.rule}`,
    fontSize: 14.5,
  },
  '& .name': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', minWidth: 0 },
  '& small': { color: theme.vars!.palette.text.secondary, whiteSpace: 'nowrap' },
}));
const Shown = styled('div')(({ theme }) => ({
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  backgroundColor: theme.vars!.palette.tally.sheet,
  marginTop: 8,
  '& img': { display: 'block', maxWidth: '100%', maxHeight: 620, margin: '0 auto' },
  '& iframe': { display: 'block', width: '100%', height: 620, border: 0 },
}));
const Wrong = styled('p')(({ theme }) => ({ color: theme.vars!.palette.error.main, margin: '4px 0' }));

export const fileOf = (a: Attachment) => under(`/api/v1/attachments/${a.id}/file`);

/** An attachment in its place: a picture, or a PDF as the browser shows it. */
export function AttachmentView({ attachment: a }: { attachment: Attachment }) {
  return <Shown>{a.picture ? <img src={fileOf(a)} alt={a.name} /> : <iframe src={fileOf(a)} title={a.name} />}</Shown>;
}

/** What is attached to a thing: dropped, pasted or chosen; pictures and PDF are shown in place. */
export function Attachments({ paper, draft, customer, job, before, goesOut, slim, kept, onLook, looked }: Props) {
  const of: Of = { paper, draft, customer, job };
  const known = !!(paper || draft || customer || job);
  const client = useQueryClient();
  const key = ['attachments', paper ?? 0, draft ?? 0, customer ?? 0, job ?? 0];
  const rows =
    useQuery({
      queryKey: key,
      queryFn: () => data(api.GET('/api/v1/attachments', { params: { query: of } })),
      enabled: known,
    }).data?.rows ?? [];
  const [told, setTold] = useState('');
  const [over, setOver] = useState(false);
  const [busy, setBusy] = useState(false);
  const [here, setHere] = useState(0);
  const chooser = useRef<HTMLInputElement>(null);
  const at = onLook ? (looked ?? 0) : here;
  const look = (a: Attachment | null) => (onLook ? onLook(a) : setHere(a?.id ?? 0));
  const add = async (files: File[]) => {
    setTold('');
    setBusy(true);
    try {
      const to = before ? await before() : of;
      for (const f of files) {
        const answer = await api.POST('/api/v1/attachments', {
          params: { query: { ...to, name: f.name } },
          body: f as never,
          bodySerializer: (b: unknown) => b as Blob,
          headers: { 'Content-Type': 'application/octet-stream' },
        });
        const last = answer.data?.rows?.at(-1);
        if (last?.shown && (onLook || files.length === 1)) look(last);
      }
    } catch (e) {
      setTold(e instanceof Problem && e.refusals[0] ? e.refusals[0].text : e instanceof Error ? e.message : 'That did not work.');
    } finally {
      setBusy(false);
      await client.invalidateQueries({ queryKey: ['attachments'] });
    }
  };
  const take = async (a: Attachment) => {
    if (at === a.id) look(null);
    await api.DELETE('/api/v1/attachments/{id}', { params: { path: { id: a.id } } });
    await client.invalidateQueries({ queryKey: ['attachments'] });
  };
  const out = async (a: Attachment) => {
    await api.PUT('/api/v1/attachments/{id}', { params: { path: { id: a.id } }, body: { goesOut: !a.goesOut } });
    await client.invalidateQueries({ queryKey: ['attachments'] });
  };
  const seen = rows.find((a) => a.id === at);
  if (kept && rows.length === 0) return null;
  return (
    <Drop
      aria-label={kept ?? 'Attachments'}
      className="no-print"
      data-over={over || undefined}
      onDragOver={(e) => {
        if (kept || !e.dataTransfer.types.includes('Files')) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        setOver(false);
        if (kept || e.dataTransfer.files.length === 0) return;
        e.preventDefault();
        e.stopPropagation();
        void add([...e.dataTransfer.files]);
      }}
      onPaste={(e) => {
        if (kept || e.clipboardData.files.length === 0) return;
        e.preventDefault();
        void add([...e.clipboardData.files]);
      }}
    >
      <div style={{ display: 'flex', alignItems: 'baseline', gap: 12, flexWrap: 'wrap' }}>
        {slim ? <b style={{ fontSize: 13.5 }}>{kept ?? 'Attachments'}</b> : <Typography variant="h2">Attachments</Typography>}
        {!kept && (
          <>
            <Button onClick={() => chooser.current?.click()} disabled={busy}>
              Choose a file
            </Button>
            <Typography variant="body2" color="textSecondary" aria-live="polite">
              {busy ? 'It is being kept …' : 'or drop or paste it here'}
            </Typography>
          </>
        )}
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          aria-label="Attach files"
          onChange={(e) => {
            void add([...(e.target.files ?? [])]);
            e.target.value = '';
          }}
        />
      </div>
      {told && <Wrong role="alert">{told}</Wrong>}
      {rows.length > 0 && (
        <Files>
          {rows.map((a) => (
            <li key={a.id}>
              <span className="name">{a.name}</span>
              <small>
                {a.size}, {showDay(a.added)}
              </small>
              <span style={{ flex: 1 }} />
              {goesOut && (
                <Button size="small" aria-pressed={a.goesOut} onClick={() => void out(a)}>
                  {a.goesOut ? 'goes out with the paper' : 'only ours'}
                </Button>
              )}
              {a.shown ? (
                <Button size="small" onClick={() => look(at === a.id ? null : a)} aria-expanded={at === a.id}>
                  {at === a.id ? 'Fold away' : 'Show'}
                </Button>
              ) : (
                <Button size="small" component="a" href={fileOf(a)} download={a.name}>
                  Take along
                </Button>
              )}
              {!kept && (
                <Button size="small" aria-label={`Take off ${a.name}`} onClick={() => void take(a)}>
                  ×
                </Button>
              )}
            </li>
          ))}
        </Files>
      )}
      {seen && !onLook && <AttachmentView attachment={seen} />}
    </Drop>
  );
}
