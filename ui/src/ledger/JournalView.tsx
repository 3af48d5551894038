import { styled } from '@mui/material/styles';
import { useInfiniteQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data } from '../api/client';
import { EntryTable } from '../app/EffectView';
import { useLookingBack } from '../parts/asOf';
import { Empty, Failure } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { More } from '../parts/More';
import { Margin } from '../parts/Margin';
import { showDay } from '../parts/show';

const Block = styled('section')({ display: 'grid', gridTemplateColumns: '220px minmax(0, 1fr)', gap: 18 });

/** Every entry, the newest first, with its lines and its paper. */
export function JournalView() {
  const past = useLookingBack();
  const list = useInfiniteQuery({
    queryKey: ['journal', past],
    queryFn: ({ pageParam }) =>
      data(api.GET('/api/v1/journal', { params: { query: { after: pageParam || undefined, to: past || undefined } } })),
    initialPageParam: 0,
    getNextPageParam: (p) => p.next || undefined,
  });
  const rows = list.data?.pages.flatMap((p) => p.rows) ?? [];
  return (
    <>
      {list.isError && <Failure error={list.error} />}
      {list.isSuccess && rows.length === 0 && <Empty>Here will be every entry, each with its paper.</Empty>}
      {rows.map((e) => (
        <Block key={e.id}>
          <div>
            {showDay(e.day)}
            <br />
            {e.text}
            <br />
            <Link to={`/papers/${e.paperId}`}>{e.paper}</Link>
          </div>
          <EntryTable entries={[e]} />
        </Block>
      ))}
      {list.hasNextPage && <More busy={list.isFetchingNextPage} onMore={() => void list.fetchNextPage()} />}
      <Margin>
        <ListNote title="Journal">
          Every entry as it was posted. Nothing here ever changes; what was wrong is undone by a reversal.
        </ListNote>
      </Margin>
    </>
  );
}
