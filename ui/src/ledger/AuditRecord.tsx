import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useInfiniteQuery } from '@tanstack/react-query';
import { api, data } from '../api/client';
import { Failure } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { More } from '../parts/More';
import { Margin } from '../parts/Margin';

/** Who did what, when; nothing in it ever changes. */
export function AuditRecord() {
  const list = useInfiniteQuery({
    queryKey: ['audit'],
    queryFn: ({ pageParam }) => data(api.GET('/api/v1/audit', { params: { query: { after: pageParam || undefined } } })),
    initialPageParam: 0,
    getNextPageParam: (p) => p.next || undefined,
  });
  const rows = list.data?.pages.flatMap((p) => p.rows) ?? [];
  return (
    <>
      {list.isError && <Failure error={list.error} />}
      <Table>
        <TableHead>
          <TableRow>
            <TableCell>When</TableCell>
            <TableCell>Who</TableCell>
            <TableCell>What</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((a) => (
            <TableRow key={a.id}>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>
                {new Date(a.at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}
              </TableCell>
              <TableCell sx={{ whiteSpace: 'nowrap' }}>{a.user}</TableCell>
              <TableCell>{a.summary}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      {list.hasNextPage && <More busy={list.isFetchingNextPage} onMore={() => void list.fetchNextPage()} />}
      <Margin>
        <ListNote title="Audit record">One line for each thing that was done, by whom and when. It cannot be changed.</ListNote>
      </Margin>
    </>
  );
}
