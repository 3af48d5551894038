import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Leads } from '../parts/may';
import { useEditing } from '../papers/editing/Editing';
import type { Refused } from '../papers/editing/useForm';
import { Empty } from '../parts/Layout';
import { ExportAs } from '../parts/ExportAs';
import { SearchField } from '../parts/ListFilters';
import { RecordDialog } from '../parts/RecordDialog';
import { OneStop } from '../parts/OneStop';
import { Row } from '../parts/Row';

interface Column<T> {
  title: string;
  cell: (r: T) => ReactNode;
  text: (r: T) => string;
  figure?: boolean;
}

interface Props<T extends { id?: number; inactive?: boolean }> {
  kind: string;
  what: string;
  rows: T[] | undefined;
  columns: Column<T>[];
  blank: T;
  nameOf: (r: T) => string;
  save: (r: T) => Promise<unknown>;
  form: (r: T, change: (part: Partial<T>) => void, refused: Refused) => ReactNode;
  empty: string;
  /** They are neither imported nor exported. */
  alone?: boolean;
  /** The form has a page beside it. */
  wide?: boolean;
}

/** The records of a kind: a short list with a form, sorted, searched, imported and exported. */
export function RecordTable<T extends { id?: number; inactive?: boolean }>(p: Props<T>) {
  const [editing, setEditing] = useState<T | null>(null);
  const [search, setSearch] = useState('');
  const [sort, setSort] = useState<{ at: number; desc: boolean } | null>(null);
  const client = useQueryClient();
  if (!p.rows) return null;
  const t = search.trim().toLowerCase();
  const found = p.rows.filter((r) => !t || p.columns.some((c) => c.text(r).toLowerCase().includes(t)));
  if (sort)
    found.sort(
      (a, b) =>
        p.columns[sort.at]!.text(a).localeCompare(p.columns[sort.at]!.text(b), undefined, { numeric: true }) *
        (sort.desc ? -1 : 1),
    );
  return (
    <>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        <SearchField label="Find" value={search} onChange={setSearch} />
        <span style={{ flex: 1 }} />
        {!p.alone && <Leads to={`/setup/import?kind=${p.kind}`}>Import</Leads>}
        {!p.alone && <ExportAs path={`/api/v1/records/${p.kind}`} query={new URLSearchParams()} />}
        <Button variant="contained" onClick={() => setEditing(p.blank)}>
          New {p.what}
        </Button>
      </div>
      {p.rows.length === 0 && (
        <Empty action={`New ${p.what}`} onAction={() => setEditing(p.blank)}>
          {p.empty}
        </Empty>
      )}
      {p.rows.length > 0 && (
        <OneStop>
          <Table>
            <TableHead>
              <TableRow>
                {p.columns.map((c, i) => (
                  <TableCell
                    key={c.title}
                    align={c.figure ? 'right' : 'left'}
                    aria-sort={sort?.at === i ? (sort.desc ? 'descending' : 'ascending') : 'none'}
                  >
                    <Button
                      size="small"
                      color="inherit"
                      sx={{ padding: 0, minHeight: 0, minWidth: 0, fontSize: 'inherit' }}
                      onClick={() =>
                        setSort(sort?.at === i ? (sort.desc ? null : { at: i, desc: true }) : { at: i, desc: false })
                      }
                    >
                      {c.title}
                      {sort?.at === i && (sort.desc ? ' ↓' : ' ↑')}
                    </Button>
                  </TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {found.map((r) => (
                <Row
                  key={r.id}
                  data-row={r.id}
                  tabIndex={-1}
                  onClick={() => setEditing(r)}
                  onKeyDown={(e) => e.key === 'Enter' && setEditing(r)}
                  sx={r.inactive ? { opacity: 0.7 } : undefined}
                >
                  {p.columns.map((c) => (
                    <TableCell key={c.title} align={c.figure ? 'right' : 'left'}>
                      {c.cell(r)}
                    </TableCell>
                  ))}
                </Row>
              ))}
            </TableBody>
          </Table>
        </OneStop>
      )}
      {editing && (
        <RecordDialog<T>
          title={editing.id ? p.nameOf(editing) : `New ${p.what}`}
          initial={editing}
          wide={p.wide}
          onClose={() => setEditing(null)}
          onSave={async (r) => {
            await p.save(r);
            await client.invalidateQueries();
            setEditing(null);
          }}
        >
          <Fields form={p.form} />
        </RecordDialog>
      )}
    </>
  );
}

function Fields<T extends object>({ form }: { form: (r: T, change: (part: Partial<T>) => void, refused: Refused) => ReactNode }) {
  const { body, change, refused } = useEditing<T>();
  return form(body, change, refused);
}
