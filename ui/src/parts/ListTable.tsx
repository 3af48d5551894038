import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import ToggleButton from '@mui/material/ToggleButton';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { Fragment, memo, useMemo, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { under } from '../api/at';
import { read } from '../api/client';
import { Amount } from './Amount';
import { asOfFor, useLookingBack } from './asOf';
import { ColumnMenu } from './ColumnMenu';
import { useColumns, type Column, type Columns } from './columns';
import { choose, ChosenBar } from './ChosenBar';
import { ExportAs } from './ExportAs';
import { Failure } from './Layout';
import { FilterChips, Filters, SearchField, type Active } from './ListFilters';
import { useBack } from './keys';
import { More } from './More';
import { Whither } from './OneStop';
import { Room } from './Room';
import { Row } from './Row';
import { useChosen, type Chosen } from './useChosen';
import { useRows } from './useRows';
import { useAddress } from './useAddress';

export type { Column } from './columns';

interface Page<T> {
  rows: T[];
  next?: number;
  count: number;
  sums: Record<string, string>;
}

interface Props<T extends { id: number }> {
  id: string;
  path: string;
  columns: Column<T>[];
  /** Filters that are ready, as a parameter and its values. */
  filters?: { param: string; options: { value: string; name: string }[] };
  /** Parameters that the place itself sets. */
  fixed?: Record<string, string | undefined>;
  to: (row: T) => string;
  search?: string;
  empty: ReactNode;
  extra?: ReactNode;
  /** Filters of the address that nothing else shows. */
  active?: Active[];
  /** Called with the row that has the focus. */
  onLook?: (row: T) => void;
  /** What can be done with the rows that were chosen. */
  several?: (rows: T[]) => ReactNode;
  /** The filter that rows must share for their figures to add up. */
  addsWithin?: keyof T & string;
}

const Tools = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });
const Whole = styled(Table)(({ theme }) => ({
  tableLayout: 'fixed',
  '& thead th': { position: 'sticky', top: 0, zIndex: 3, backgroundColor: theme.vars!.palette.tally.paper },
  '& td': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
  '& tfoot td': {
    position: 'sticky',
    bottom: 0,
    zIndex: 3,
    backgroundColor: theme.vars!.palette.tally.paper,
    borderTop: `1px solid ${theme.vars!.palette.tally.strong}`,
  },
}));
const Tick = styled(TableCell)({
  padding: '0 0 0 6px !important',
  position: 'relative',
  zIndex: 1,
  width: 30,
  '& input': { width: 15, height: 15, margin: 0, verticalAlign: 'middle', accentColor: 'currentColor' },
});
const Count = styled('span')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: 13.5 }));
const rowHeight = 32;
const none: never[] = [];

/** The field and its value, where all rows have the same. */
function shared<T>(rows: T[], field: keyof T & string): [string, string] | undefined {
  const [first] = rows;
  return first && rows.every((r) => r[field] === first[field]) ? [field, String(first[field])] : undefined;
}

/**
 * A list that the server sorts, filters, sums and pages. Its filters live in
 * the address; its columns are chosen and kept; it exports what it shows.
 */
export function ListTable<T extends { id: number }>(p: Props<T>) {
  const [params, set] = useAddress();
  const columns = useColumns(p.id, p.columns);
  const query = new URLSearchParams();
  for (const [k, v] of [...params, ...Object.entries(p.fixed ?? {})]) {
    if (v && k !== 'new') query.set(k, v);
    else query.delete(k);
  }
  const past = useLookingBack();
  if (past && asOfFor(p.path) && !query.has('asOf')) query.set('asOf', past);
  const sort = params.get('sort') ?? '';
  const list = useInfiniteQuery({
    queryKey: ['list', p.path, query.toString()],
    queryFn: ({ pageParam, signal }) => {
      const q = new URLSearchParams(query);
      if (pageParam) q.set('after', String(pageParam));
      return read<Page<T>>(`${p.path}?${q}`, signal);
    },
    initialPageParam: 0,
    getNextPageParam: (page) => page.next || undefined,
    placeholderData: keepPreviousData,
  });
  const pages = list.data?.pages ?? none;
  const rows = useMemo(() => pages.flatMap((page: Page<T>) => page.rows), [pages]);
  const whole = pages[0] as Page<T> | undefined;
  const ids = useMemo(() => rows.map((r) => r.id), [rows]);
  const chosen = useChosen(ids);
  const several = chosen.ids.size > 0;
  const chosenRows = several ? rows.filter((r) => chosen.ids.has(r.id)) : none;
  useBack(several ? chosen.none : undefined);
  const filtered = params.get('q') || (p.filters && params.get(p.filters.param)) || (p.active?.length ?? 0) > 0;
  return (
    <>
      {several && (
        <ChosenBar
          path={p.path}
          chosen={chosen}
          past={query.get('asOf') ?? ''}
          within={p.addsWithin && shared(chosenRows, p.addsWithin)}
          figure={(p.columns.find((c) => c.figure && c.sort !== false) ?? {}).id}
        >
          {p.several?.(chosenRows)}
        </ChosenBar>
      )}
      <Tools className="no-print" style={several ? { display: 'none' } : undefined}>
        {p.search && <SearchField label={p.search} value={params.get('q') ?? ''} onChange={(v) => set('q', v)} />}
        {p.filters && (
          <Filters
            exclusive
            size="small"
            value={params.get(p.filters.param) ?? ''}
            onChange={(_, v) => v !== null && set(p.filters!.param, v)}
            aria-label="Filter"
          >
            {p.filters.options.map((o) => (
              <ToggleButton key={o.value} value={o.value}>
                {o.name}
              </ToggleButton>
            ))}
          </Filters>
        )}
        {p.extra}
        <span style={{ flex: 1 }} />
        <ColumnMenu columns={columns} />
        <ExportAs path={p.path} query={query} />
      </Tools>
      <FilterChips list={p.id} active={p.active ?? none} />
      {list.isError && rows.length === 0 && <Failure error={list.error} />}
      {whole && rows.length === 0 && (filtered ? <Count>Nothing fits. Change the filter or the search.</Count> : p.empty)}
      {whole && rows.length > 0 && (
        <Body
          rows={rows}
          ids={ids}
          chosen={chosen}
          whole={whole}
          columns={columns}
          sort={sort}
          onSort={(by) => set('sort', by)}
          to={p.to}
          onLook={p.onLook}
        />
      )}
      {list.hasNextPage && (
        <More busy={list.isFetchingNextPage} onMore={() => void list.fetchNextPage()} left={(whole?.count ?? 0) - rows.length} />
      )}
    </>
  );
}

interface BodyProps<T> {
  rows: T[];
  ids: number[];
  chosen: Chosen;
  whole: Page<T>;
  columns: Columns<T>;
  sort: string;
  onSort: (by: string) => void;
  to: (row: T) => string;
  onLook?: (row: T) => void;
}

function Body<T extends { id: number }>({ rows, ids, chosen, whole, columns, sort, onSort, to, onLook }: BodyProps<T>) {
  const { window, row: rowProps, onKeyDown } = useRows({ ids, height: rowHeight, onLook: (i) => rows[i] && onLook?.(rows[i]) });
  const { shown } = columns;
  return (
    <Whole
      data-list
      ref={window.ref}
      onKeyDown={(e) => {
        choose(e, chosen);
        onKeyDown(e);
      }}
      aria-rowcount={whole.count + 1}
    >
      <colgroup>
        <col style={{ width: 30 }} />
        {shown.map((c) => (
          <col key={c.id} style={{ width: `${columns.width(c)}%` }} />
        ))}
      </colgroup>
      <Heads chosen={chosen} of={ids.length} columns={shown} sort={sort} onSort={onSort} />
      <TableBody>
        {window.rows.map(({ index, room }) => (
          <Fragment key={rows[index]!.id}>
            <Room height={room} columns={shown.length + 1} />
            <ListRow
              chosen={chosen.ids.has(rows[index]!.id)}
              onChoose={chosen.toggle}
              {...rowProps(index)}
              row={rows[index]!}
              columns={shown}
              to={to(rows[index]!)}
            />
          </Fragment>
        ))}
        <Room height={window.after} columns={shown.length + 1} />
      </TableBody>
      <TableFooter>
        <TableRow>
          <TableCell />
          {shown.map((c, i) => (
            <TableCell key={c.id} align={c.figure ? 'right' : 'left'} style={i === 0 ? { overflow: 'visible' } : undefined}>
              {whole.sums[c.id] !== undefined ? (
                <Amount value={whole.sums[c.id]} final />
              ) : i === 0 ? (
                `${whole.count} in all`
              ) : (
                ''
              )}
            </TableCell>
          ))}
        </TableRow>
      </TableFooter>
    </Whole>
  );
}

interface HeadsProps<T> {
  columns: Column<T>[];
  sort: string;
  onSort: (by: string) => void;
  chosen: Chosen;
  of: number;
}

/** How a list is sorted once a head is chosen: up, down, its own order. What was chosen a moment ago counts, though it is not drawn yet. */
function turned(by: string): string {
  const now = new URLSearchParams(window.location.search).get('sort');
  return now === by ? `-${by}` : now === `-${by}` ? '' : by;
}

function Heads<T>({ columns, sort, onSort, chosen, of }: HeadsProps<T>) {
  const by = sort.replace('-', '');
  return (
    <TableHead>
      <TableRow>
        <Tick>
          <input
            type="checkbox"
            aria-label="Choose every row that is shown"
            checked={of > 0 && chosen.ids.size === of}
            onChange={() => (chosen.ids.size === of ? chosen.none() : chosen.all())}
          />
        </Tick>
        {columns.map((c) => (
          <TableCell
            key={c.id}
            align={c.figure ? 'right' : 'left'}
            sortDirection={by === c.id ? (sort.startsWith('-') ? 'desc' : 'asc') : false}
          >
            {c.sort === false ? (
              c.title
            ) : (
              <TableSortLabel
                active={by === c.id}
                direction={sort === `-${c.id}` ? 'desc' : 'asc'}
                onClick={() => onSort(turned(c.id))}
              >
                {c.title}
              </TableSortLabel>
            )}
          </TableCell>
        ))}
      </TableRow>
    </TableHead>
  );
}

interface RowProps<T> extends ReturnType<ReturnType<typeof useRows>['row']> {
  row: T;
  columns: Column<T>[];
  to: string;
  chosen: boolean;
  onChoose: (id: number) => void;
}

function ListRowOf<T extends { id: number }>({ row, columns, to, chosen, onChoose, ...rest }: RowProps<T>) {
  const go = useNavigate();
  return (
    <Row
      {...rest}
      data-open={chosen || undefined}
      style={{ position: 'relative' }}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' || e.target !== e.currentTarget) return;
        if (e.ctrlKey || e.metaKey) window.open(under(to), '_blank');
        else void go(to);
      }}
    >
      <Tick>
        <input type="checkbox" tabIndex={-1} aria-label="Choose this row" checked={chosen} onChange={() => onChoose(row.id)} />
      </Tick>
      {columns.map((c, i) => {
        const cell = c.cell(row);
        const text = c.text?.(row) ?? (typeof cell === 'string' ? cell : undefined);
        return (
          <TableCell key={c.id} align={c.figure ? 'right' : 'left'} title={text}>
            {i === 0 ? (
              <Whither to={to} tabIndex={-1}>
                {cell || '…'}
              </Whither>
            ) : (
              cell
            )}
          </TableCell>
        );
      })}
    </Row>
  );
}

// A row changes when its own figures do, or when one comes to it.
const ListRow = memo(
  ListRowOf,
  (a, b) =>
    a.row === b.row &&
    a.chosen === b.chosen &&
    a.columns === b.columns &&
    a.tabIndex === b.tabIndex &&
    a['data-index'] === b['data-index'] &&
    a.to === b.to,
) as typeof ListRowOf;
