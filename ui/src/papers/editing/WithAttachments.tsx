import { styled } from '@mui/material/styles';
import { useState, useSyncExternalStore, type ReactNode } from 'react';
import type { Attachment } from '../../api/client';
import { Attachments, AttachmentView } from '../../parts/Attachments';
import { Narrow } from '../Lines';
import type { Draft } from './draft';
import { useAgain } from './useForm';

const Beside = styled('div')({
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 340px)',
  gap: 14,
  alignItems: 'start',
  '& > aside': { position: 'sticky', top: 8 },
});
const Above = styled('div')({ maxWidth: 800, margin: '0 auto 8px' });

/** The sheet with what is attached over it; a picture or PDF that is looked at stands beside it while one types. */
export function WithAttachments({
  draft,
  several,
  children,
}: {
  draft: Draft<Record<string, unknown>>;
  several?: boolean;
  children: ReactNode;
}) {
  const id = useSyncExternalStore(draft.subscribe, () => draft.id);
  const [looked, setLooked] = useState<Attachment | null>(null);
  const again = useAgain();
  const files = (
    <Above>
      <Attachments
        draft={id || undefined}
        before={async () => ({ draft: await draft.begun() })}
        goesOut
        slim
        looked={looked?.id}
        onLook={setLooked}
      />
      {again > 0 && (
        <Attachments paper={again} slim kept="Of the paper before, and kept" looked={looked?.id} onLook={setLooked} />
      )}
    </Above>
  );
  return (
    <Narrow.Provider value={!!looked}>
      {/* The sheet stays the same whether something stands beside it, so that nothing typed is lost. */}
      <Beside style={looked ? undefined : { display: 'block' }}>
        <div>
          {!several && files}
          {children}
        </div>
        {looked && (
          <aside aria-label={looked.name}>
            <AttachmentView attachment={looked} />
          </aside>
        )}
      </Beside>
    </Narrow.Provider>
  );
}
