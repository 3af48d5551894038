import Button from '@mui/material/Button';
import { useEffect, useRef } from 'react';
import { useSearchParams } from 'react-router';
import { api, data, type Paper } from '../api/client';
import { useBack } from '../parts/keys';
import { useLeave } from '../parts/leave';
import { Empty, Page, PageHead } from '../parts/Layout';
import { MakingBar } from '../parts/MakingBar';
import { Sheets } from '../parts/Sheet';
import { useMaking } from '../parts/useMaking';
import { PdfOf } from './PdfOf';
import { PostedSheet } from './PostedSheet';

/** The papers that were chosen in a list, one under another, to be printed. */
export default function PrintPapers() {
  const [params] = useSearchParams();
  const ids = params.getAll('ids').map(Number).filter(Boolean);
  const making = useMaking<Paper>(
    async () =>
      (await data(api.GET('/api/v1/papers', { params: { query: { ids, limit: 500 } } }))).rows.map((r) => ({
        id: r.id,
        name: r.number,
      })),
    (id) => data(api.GET('/api/v1/papers/{id}', { params: { path: { id } } })),
  );
  const { made, now, run } = making;
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current || ids.length === 0) return;
    begun.current = true;
    void run();
  });
  useBack(useLeave('/papers'));
  return (
    <Page>
      <PageHead title="Print papers" under={`${made.length} of ${making.of || ids.length}`}>
        {now && (
          <Button variant="outlined" onClick={making.stop}>
            Stop
          </Button>
        )}
        {made.length > 0 && !now && <PdfOf papers={made.map((p) => p.id)} />}
        <Button variant="contained" disabled={!made.length || !!now} onClick={() => window.print()} autoFocus>
          Print {made.length || ''}
        </Button>
      </PageHead>
      <MakingBar making={making} what="Papers made ready" />
      {ids.length === 0 && (
        <Empty>Choose papers in the list with the space bar: they will lie here, each on a page of its own.</Empty>
      )}
      <Sheets>
        {made.map((p) => (
          <PostedSheet key={p.id} paper={p} />
        ))}
      </Sheets>
    </Page>
  );
}
