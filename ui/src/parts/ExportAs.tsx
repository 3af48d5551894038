import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { under } from '../api/at';
import { asOfFor } from './asOf';
import { useMay } from './may';

/** Exports what a list or report shows, as CSV, XLSX or, of a report, PDF. */
export function ExportAs({ path, query, pdf }: { path: string; query: URLSearchParams; pdf?: boolean }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const may = useMay();
  const href = (format: string) => {
    const q = new URLSearchParams(query);
    const past = asOfFor(path);
    if (past && !q.has('asOf') && !q.has('to')) q.set('asOf', past);
    q.set('format', format);
    return under(`${path}/file?${q}`);
  };
  if (!may.has('take lists along as files')) return null;
  return (
    <>
      <Button onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu">
        Export
      </Button>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        {['csv', 'xlsx', ...(pdf ? ['pdf'] : [])].map((f) => (
          <MenuItem key={f} component="a" href={href(f)} download onClick={() => setAt(null)}>
            As {f.toUpperCase()}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
