import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { styled } from '@mui/material/styles';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableFooter from '@mui/material/TableFooter';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { Problem } from '../api/client';
import { Amount } from './Amount';
import { asOfFor, useLookingBack } from './asOf';
import { moveInRows } from './keys';
import { Failure } from './Layout';
import { Row } from './Row';

export interface Column<T> {
  id: string;
  title: string;
  cell: (row: T) => ReactNode;
  figure?: boolean;
  /** Whether the server sorts by it. */
  sort?: boolean;
  /** Hidden until chosen. */
  hidden?: boolean;
  wide?: boolean;
}

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
  first?: ReactNode;
  extra?: ReactNode;
}

const Tools = styled('div')({ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' });
const Cell = styled(TableCell)({
  maxWidth: 220,
  overflow: 'hidden',
  textOverflow: 'ellipsis',
  whiteSpace: 'nowrap',
  '&[data-wide]': { maxWidth: 320 },
});
const Whole = styled(Table)(({ theme }) => ({
  '& thead th': { position: 'sticky', top: 0, zIndex: 1, backgroundColor: theme.vars!.palette.tally.paper },
  '& tfoot td': {
    position: 'sticky',
    bottom: 0,
    backgroundColor: theme.vars!.palette.tally.paper,
    borderTop: `1px solid ${theme.vars!.palette.tally.strong}`,
  },
}));
const Count = styled('span')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: 13.5 }));
export const Filters = styled(ToggleButtonGroup)(({ theme }) => ({
  '& .MuiToggleButton-root': {
    padding: '3px 11px',
    textTransform: 'none',
    fontSize: 13.5,
    color: theme.vars!.palette.text.secondary,
    borderColor: theme.vars!.palette.tally.strong,
    '&.Mui-selected': {
      color: theme.vars!.palette.text.primary,
      fontWeight: 650,
      backgroundColor: theme.vars!.palette.tally.tint,
    },
  },
}));

async function fetchPage<T>(path: string, query: URLSearchParams): Promise<Page<T>> {
  const response = await fetch(`${path}?${query}`);
  const body = await response.json();
  if (!response.ok) throw new Problem(response.status, body.type, body.detail);
  return body;
}

/**
 * A list that the server sorts, filters, sums and pages. Its filters live in
 * the address; its columns are chosen and kept; it exports what it shows.
 */
export function ListTable<T extends { id: number }>(p: Props<T>) {
  const [params, setParams] = useSearchParams();
  const [hidden, setHidden] = useHidden(p.id, p.columns);
  const go = useNavigate();
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
    queryFn: ({ pageParam }) => {
      const q = new URLSearchParams(query);
      if (pageParam) q.set('after', String(pageParam));
      return fetchPage<T>(p.path, q);
    },
    initialPageParam: 0,
    getNextPageParam: (page) => page.next || undefined,
    placeholderData: keepPreviousData,
  });
  const pages = list.data?.pages ?? [];
  const rows = pages.flatMap((page) => page.rows);
  const whole = pages[0];
  const columns = p.columns.filter((c) => !hidden.includes(c.id));
  const set = (name: string, value: string) =>
    setParams(
      (old) => {
        const now = new URLSearchParams(old);
        if (value) now.set(name, value);
        else now.delete(name);
        return now;
      },
      { replace: true },
    );
  const filtered = params.get('q') || (p.filters && params.get(p.filters.param));
  return (
    <>
      <Tools className="no-print">
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
        <ChooseColumns columns={p.columns} hidden={hidden} onChange={setHidden} />
        <ExportAs path={p.path} query={query} />
      </Tools>
      {list.isError && <Failure error={list.error} />}
      {p.first}
      {whole && rows.length === 0 && (filtered ? <Count>Nothing fits. Change the filter or the search.</Count> : p.empty)}
      {rows.length > 0 && (
        <Whole onKeyDown={moveInRows}>
          <TableHead>
            <TableRow>
              {columns.map((c) => (
                <TableCell
                  key={c.id}
                  align={c.figure ? 'right' : 'left'}
                  sortDirection={sort.replace('-', '') === c.id ? (sort.startsWith('-') ? 'desc' : 'asc') : false}
                >
                  {c.sort === false ? (
                    c.title
                  ) : (
                    <TableSortLabel
                      active={sort.replace('-', '') === c.id}
                      direction={sort === `-${c.id}` ? 'desc' : 'asc'}
                      onClick={() => set('sort', sort === c.id ? `-${c.id}` : sort === `-${c.id}` ? '' : c.id)}
                    >
                      {c.title}
                    </TableSortLabel>
                  )}
                </TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {rows.map((row) => (
              <Row
                key={row.id}
                data-row
                tabIndex={0}
                onClick={() => go(p.to(row))}
                onKeyDown={(e) => e.key === 'Enter' && e.target === e.currentTarget && go(p.to(row))}
              >
                {columns.map((c) => (
                  <Cell key={c.id} align={c.figure ? 'right' : 'left'} data-wide={c.wide || undefined}>
                    {c.cell(row)}
                  </Cell>
                ))}
              </Row>
            ))}
          </TableBody>
          {whole && (
            <TableFooter>
              <TableRow>
                {columns.map((c, i) => (
                  <TableCell key={c.id} align={c.figure ? 'right' : 'left'}>
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
          )}
        </Whole>
      )}
      {list.hasNextPage && (
        <More busy={list.isFetchingNextPage} onMore={() => void list.fetchNextPage()} left={(whole?.count ?? 0) - rows.length} />
      )}
    </>
  );
}

function useHidden<T>(id: string, columns: Column<T>[]): [string[], (hidden: string[]) => void] {
  const key = `columns:${id}`;
  const [hidden, setHidden] = useState<string[]>(() => {
    try {
      return JSON.parse(localStorage.getItem(key) ?? 'null') ?? columns.filter((c) => c.hidden).map((c) => c.id);
    } catch {
      return [];
    }
  });
  return [
    hidden,
    (now) => {
      localStorage.setItem(key, JSON.stringify(now));
      setHidden(now);
    },
  ];
}

/** A search field that waits for the typing to pause. */
export function SearchField({ label, value, onChange }: { label: string; value: string; onChange: (v: string) => void }) {
  const [text, setText] = useState(value);
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  useEffect(() => {
    if (text === value) return;
    const timer = setTimeout(() => latest.current(text), 150);
    return () => clearTimeout(timer);
  }, [text, value]);
  return (
    <TextField
      placeholder={label}
      value={text}
      onChange={(e) => setText(e.target.value)}
      slotProps={{ htmlInput: { 'aria-label': label } }}
      style={{ width: 250 }}
    />
  );
}

function ChooseColumns<T>({
  columns,
  hidden,
  onChange,
}: {
  columns: Column<T>[];
  hidden: string[];
  onChange: (h: string[]) => void;
}) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu">
        Columns
      </Button>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        {columns.map((c) => (
          <MenuItem
            key={c.id}
            dense
            onClick={() => onChange(hidden.includes(c.id) ? hidden.filter((h) => h !== c.id) : [...hidden, c.id])}
          >
            <Checkbox
              size="small"
              checked={!hidden.includes(c.id)}
              tabIndex={-1}
              slotProps={{ input: { 'aria-label': c.title } }}
            />
            {c.title}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** Exports what a list or report shows, as CSV or XLSX. */
export function ExportAs({ path, query }: { path: string; query: URLSearchParams }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const href = (format: string) => {
    const q = new URLSearchParams(query);
    const past = asOfFor(path);
    if (past && !q.has('asOf') && !q.has('to')) q.set('asOf', past);
    q.set('format', format);
    return `${path}/file?${q}`;
  };
  return (
    <>
      <Button onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu">
        Export
      </Button>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        {['csv', 'xlsx'].map((f) => (
          <MenuItem key={f} component="a" href={href(f)} download onClick={() => setAt(null)}>
            As {f.toUpperCase()}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** Loads what follows when it comes into sight, or when pressed. */
export function More({ busy, onMore, left }: { busy: boolean; onMore: () => void; left?: number }) {
  const ref = useRef<HTMLButtonElement>(null);
  const latest = useRef(onMore);
  useEffect(() => {
    latest.current = onMore;
  });
  useEffect(() => {
    const seen = new IntersectionObserver(([entry]) => entry?.isIntersecting && latest.current(), { rootMargin: '300px' });
    if (ref.current) seen.observe(ref.current);
    return () => seen.disconnect();
  }, [busy]);
  return (
    <Button ref={ref} onClick={onMore} disabled={busy} className="no-print" style={{ alignSelf: 'flex-start' }}>
      {left ? `Show more: ${left} left` : 'Show more'}
    </Button>
  );
}
