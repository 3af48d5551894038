import { useQuery } from '@tanstack/react-query';
import { useLocation, useParams } from 'react-router';
import { api, data } from '../api/client';
import { Failure, Page } from '../parts/Layout';
import { BillEditor } from './BillEditor';
import { ContraEditor } from './ContraEditor';
import { DepositEditor } from './DepositEditor';
import { DistributeEditor } from './DistributeEditor';
import { InvoiceEditor } from './InvoiceEditor';
import { JournalEditor } from './JournalEditor';
import { ReceiptEditor } from './ReceiptEditor';
import { RecoveryEditor } from './RecoveryEditor';
import { RefundEditor } from './RefundEditor';
import { SplitEditor } from './SplitEditor';
import { TransferEditor } from './TransferEditor';
import { UnidentifiedEditor } from './UnidentifiedEditor';
import type { DraftKind } from './useDraft';
import { WriteOffEditor } from './WriteOffEditor';

// The editor of each kind of paper, by the name that its address and its draft bear.
const editors: Record<DraftKind, (p: { id: number }) => React.ReactNode> = {
  invoice: InvoiceEditor,
  deposit: DepositEditor,
  receipt: ReceiptEditor,
  'unidentified receipt': UnidentifiedEditor,
  distribution: DistributeEditor,
  'deposit split': SplitEditor,
  refund: RefundEditor,
  transfer: TransferEditor,
  'write-off': WriteOffEditor,
  recovery: RecoveryEditor,
  contra: ContraEditor,
  'supplier bill': BillEditor,
  journal: JournalEditor,
};

/** A paper that is being written, new or gone on with. */
export default function DraftPage() {
  const { kind, id } = useParams();
  const { key } = useLocation();
  const known = Number(id ?? 0);
  const draft = useQuery({
    queryKey: ['draft', known],
    queryFn: () => data(api.GET('/api/v1/drafts/{id}', { params: { path: { id: known } } })),
    enabled: known > 0,
    retry: false,
    refetchOnWindowFocus: false,
    refetchOnReconnect: false,
  });
  if (draft.isError)
    return (
      <Page>
        <Failure error={draft.error} />
      </Page>
    );
  const is = (kind?.replaceAll('_', ' ') ?? draft.data?.kind) as DraftKind | undefined;
  if (is === undefined) return null;
  const Editor = editors[is];
  return Editor ? <Editor key={`${known}${key}`} id={known} /> : <Page>There is no such kind of paper.</Page>;
}
