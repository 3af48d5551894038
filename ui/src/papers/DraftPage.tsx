import { useQuery } from '@tanstack/react-query';
import { useLocation, useParams } from 'react-router';
import { api, data } from '../api/client';
import { Failure, Page } from '../parts/Layout';
import { DepositEditor } from './DepositEditor';
import { InvoiceEditor } from './InvoiceEditor';
import { ReceiptEditor } from './ReceiptEditor';

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
  const is = kind ?? draft.data?.kind;
  const at = `${known}${key}`;
  switch (is) {
    case 'invoice':
      return <InvoiceEditor key={at} id={known} />;
    case 'deposit':
      return <DepositEditor key={at} id={known} />;
    case 'receipt':
      return <ReceiptEditor key={at} id={known} />;
  }
  return is === undefined ? null : <Page>There is no such kind of paper.</Page>;
}
