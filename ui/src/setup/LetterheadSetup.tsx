import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { styled } from '@mui/material/styles';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { api, data, readAt } from '../api/client';
import type { components } from '../api/schema';
import { Boxed } from '../parts/UnderstoodField';
import { FileField } from '../parts/FileField';
import { useLetterheads } from '../parts/records';
import { kindName } from '../parts/show';
import type { Refused } from '../papers/editing/useForm';
import { Choice } from '../papers/editing/fields';
import { LetterheadPreview } from './LetterheadPreview';
import { RecordTable } from './RecordTable';
import { InUse, Text, used } from './recordFields';
import { Several } from './Several';
import { goesOut } from './goesOut';

type Letterhead = components['schemas']['Letterhead'];

/** A letterhead as it is edited: with a picture that is new, or null to take it off. */
type Edited = Letterhead & { picture?: File | null };

async function save({ picture, ...l }: Edited) {
  const body = { ...l, words: Object.fromEntries(Object.entries(l.words ?? {}).filter(([, own]) => own)) };
  const saved = await data(
    l.id
      ? api.PUT('/api/v1/letterheads/{id}', { params: { path: { id: l.id }, header: readAt(l.version) }, body })
      : api.POST('/api/v1/letterheads', { body }),
  );
  const id = l.id ?? saved.rows.find((r) => r.name === l.name?.trim())?.id;
  if (picture === null && id) await api.DELETE('/api/v1/letterheads/{id}/logo', { params: { path: { id } } });
  if (picture && id)
    await api.PUT('/api/v1/letterheads/{id}/logo', {
      params: { path: { id } },
      body: picture as unknown as string,
      bodySerializer: (b) => b,
      headers: { 'Content-Type': 'application/octet-stream' },
    });
}

/** How papers look that go out: named layouts, edited with a paper beside them. */
export function LetterheadSetup() {
  return (
    <RecordTable<Edited>
      kind="letterheads"
      what="letterhead"
      alone
      wide
      rows={useLetterheads().data?.rows}
      nameOf={(l) => l.name}
      blank={{ name: '', window: 'left' }}
      empty="Papers look good without one. A letterhead has your logo, your colour and your foot, and says things in another language where you like. It is taken for kinds of papers, for a customer, or for one paper."
      columns={[
        { title: 'Name', cell: (l) => l.name, text: (l) => l.name },
        { title: 'For', cell: forWhat, text: forWhat },
        { title: 'In use', cell: used, text: used },
      ]}
      save={save}
      form={(l, change, refused) => <Fields l={l} change={change} refused={refused} />}
    />
  );
}

const Beside = styled('div')({ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 400px', gap: 22 });

const forWhat = (l: Letterhead) => (l.kinds ?? []).map(kindName).join(', ') || 'what it is chosen for';

interface FieldsProps {
  l: Edited;
  change: (part: Partial<Edited>) => void;
  refused: Refused;
}

function Fields({ l, change, refused }: FieldsProps) {
  const { picture, ...asked } = l;
  const settled = useDeferredValue(JSON.stringify({ ...asked, name: asked.name || 'x', version: undefined, logo: undefined }));
  const shown = useQuery({
    queryKey: ['letterheads', 'preview', settled],
    queryFn: () => data(api.POST('/api/v1/letterheads/preview', { body: JSON.parse(settled) as Letterhead })),
    placeholderData: keepPreviousData,
  }).data;
  const toggle = <T,>(list: T[] | undefined, one: T) =>
    list?.includes(one) ? list.filter((x) => x !== one) : [...(list ?? []), one];
  return (
    <Beside className="wide">
      <div style={{ display: 'grid', gap: 12, alignContent: 'start' }}>
        <Text label="Name" field="name" value={l.name} onChange={(name) => change({ name })} error={refused('name')} autoFocus />
        <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
          <FileField accept="image/png,image/jpeg" onFile={(file) => change({ picture: file })}>
            Logo
          </FileField>
          {(l.logo || picture) && picture !== null && <Button onClick={() => change({ picture: null })}>Take it off</Button>}
          <span role="status">{picture ? picture.name : refused('logo')}</span>
        </div>
        <Text
          label="Colour (#9a4a1c)"
          field="colour"
          value={l.colour}
          onChange={(colour) => change({ colour })}
          error={refused('colour')}
        />
        <Choice
          label="Address in the window"
          field="window"
          value={l.window ?? 'left'}
          options={[
            { value: 'left', name: 'at the left' },
            { value: 'right', name: 'at the right' },
          ]}
          onChange={(v) => change({ window: v as 'left' | 'right' })}
        />
        <Boxed
          label="Foot of each page"
          data-field="foot"
          multiline
          minRows={2}
          value={l.foot ?? ''}
          onChange={(e) => change({ foot: e.target.value })}
          error={!!refused('foot')}
          helperText={refused('foot') || undefined}
        />
        <Several
          title="Taken by itself for"
          error={refused('kinds')}
          all={goesOut.map((k) => ({ id: k, name: kindName(k) }))}
          chosen={l.kinds ?? []}
          onToggle={(k) => change({ kinds: toggle(l.kinds, k) })}
        />
        <Several
          title="Columns that are left out"
          error={refused('hidden')}
          all={(shown?.columns ?? []).map((c) => ({ id: c, name: c }))}
          chosen={l.hidden ?? []}
          onToggle={(c) => change({ hidden: toggle(l.hidden, c) })}
        />
        <div>
          <FormControlLabel
            control={<Checkbox size="small" checked={!!l.noCode} onChange={(e) => change({ noCode: e.target.checked })} />}
            label="No payment code"
          />
          <FormControlLabel
            control={<Checkbox size="small" checked={!!l.noBank} onChange={(e) => change({ noBank: e.target.checked })} />}
            label="No bank details"
          />
        </div>
        <InUse inactive={l.inactive} onChange={(inactive) => change({ inactive })} />
      </div>
      <div>
        {shown && <LetterheadPreview letterhead={l} picture={picture} sheet={shown.sheet} />}
        <details style={{ marginTop: 12 }}>
          <summary>Other words, in another language for example</summary>
          {refused('words') && <p role="alert">{refused('words')}</p>}
          <div
            style={{ maxHeight: 220, overflow: 'auto', display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '4px 10px' }}
            tabIndex={0}
          >
            {(shown?.words ?? []).map((ours) => (
              <Word
                key={ours}
                ours={ours}
                own={l.words?.[ours] ?? ''}
                onChange={(own) => change({ words: { ...l.words, [ours]: own } })}
              />
            ))}
          </div>
        </details>
      </div>
    </Beside>
  );
}

function Word({ ours, own, onChange }: { ours: string; own: string; onChange: (own: string) => void }) {
  const shown = ours.replaceAll('%%', '%').replaceAll('%s', '…');
  return (
    <>
      <span style={{ overflowWrap: 'anywhere' }}>{shown}</span>
      <Boxed
        value={own}
        onChange={(e) => onChange(e.target.value)}
        slotProps={{ htmlInput: { 'aria-label': `In place of ${shown}`, placeholder: ours } }}
      />
    </>
  );
}
