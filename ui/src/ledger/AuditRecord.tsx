import MenuItem from '@mui/material/MenuItem';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { api, data } from '../api/client';
import { showMoment } from '../outgoing/moment';
import { ExportAs } from '../parts/ExportAs';
import { Empty, Failure } from '../parts/Layout';
import { SearchField } from '../parts/ListFilters';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { More } from '../parts/More';
import { UnderstoodField } from '../parts/UnderstoodField';
import { useAddress } from '../parts/useAddress';

/** Who did what, when; nothing in it ever changes. */
export function AuditRecord() {
  const [params, put] = useAddress();
  const get = (name: string) => params.get(name) ?? '';
  const asked = {
    q: get('q') || undefined,
    person: Number(get('person')) || undefined,
    from: get('from') || undefined,
    to: get('to') || undefined,
  };
  const list = useInfiniteQuery({
    queryKey: ['audit', asked],
    queryFn: ({ pageParam }) =>
      data(api.GET('/api/v1/audit', { params: { query: { ...asked, after: pageParam || undefined } } })),
    initialPageParam: 0,
    getNextPageParam: (p) => p.next || undefined,
    placeholderData: keepPreviousData,
  });
  const rows = list.data?.pages.flatMap((p) => p.rows) ?? [];
  const people = list.data?.pages[0]?.people ?? [];
  const query = new URLSearchParams(Object.entries(asked).flatMap(([k, v]) => (v ? [[k, String(v)]] : [])));
  return (
    <>
      <div className="no-print" style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <SearchField label="Find what was done" value={get('q')} onChange={(q) => put('q', q)} />
        <TextField
          select
          label="Who"
          value={people.some((p) => String(p.id) === get('person')) ? get('person') : ''}
          onChange={(e) => put('person', e.target.value)}
          style={{ minWidth: 160 }}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        >
          <MenuItem value="">anybody</MenuItem>
          {people.map((p) => (
            <MenuItem key={p.id} value={String(p.id)}>
              {p.name}
            </MenuItem>
          ))}
        </TextField>
        <UnderstoodField
          kind="day"
          label="From"
          field="from"
          value={get('from')}
          onChange={(from) => put('from', from)}
          width={130}
        />
        <UnderstoodField kind="day" label="Through" field="to" value={get('to')} onChange={(to) => put('to', to)} width={130} />
        <span style={{ flex: 1 }} />
        <ExportAs path="/api/v1/audit" query={query} />
      </div>
      {list.isError && <Failure error={list.error} />}
      {list.data && rows.length === 0 && <Empty>Nothing was done that fits this.</Empty>}
      {rows.length > 0 && (
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
                <TableCell sx={{ whiteSpace: 'nowrap' }}>{showMoment(a.at)}</TableCell>
                <TableCell sx={{ whiteSpace: 'nowrap' }}>{a.user}</TableCell>
                <TableCell>{a.summary}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {list.hasNextPage && <More busy={list.isFetchingNextPage} onMore={() => void list.fetchNextPage()} />}
      <Margin>
        <ListNote title="Audit record">
          One line for each thing that was done, by whom and when. It cannot be changed: each is sealed with the one before it,
          and the check finds one that is missing or was altered.
        </ListNote>
      </Margin>
    </>
  );
}
