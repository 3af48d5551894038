import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Paper } from '../api/client';
import { useSnackbar } from '../app/messages';
import { useLetterheads } from '../parts/records';

/** In which letterhead a paper goes out; nothing where the firm has none. */
export function LetterheadChoice({ paper: p }: { paper: Paper }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const client = useQueryClient();
  const say = useSnackbar();
  const all = (useLetterheads().data?.rows ?? []).filter((l) => !l.inactive);
  if (all.length === 0) return null;
  const choose = async (letterhead: number, name: string) => {
    setAt(null);
    await api.PUT('/api/v1/papers/{id}/letterhead', { params: { path: { id: p.id } }, body: { letterhead } });
    await client.invalidateQueries();
    say(`${p.number} goes out in ${name}.`);
  };
  return (
    <>
      <Button variant="outlined" onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu" aria-expanded={at !== null}>
        {p.letterhead || 'Letterhead'}
      </Button>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)} transitionDuration={0}>
        <MenuItem onClick={() => void choose(0, 'that of its customer or kind')}>that of its customer or kind</MenuItem>
        {all.map((l) => (
          <MenuItem key={l.id} selected={l.name === p.letterhead} onClick={() => void choose(l.id ?? 0, l.name)}>
            {l.name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
