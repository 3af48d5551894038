import Button from '@mui/material/Button';
import Chip from '@mui/material/Chip';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { inBrowser } from '../api/at';
import { useAddress } from './useAddress';

/** Filters that are ready, one of which holds. */
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

/** A search field that waits for the typing to pause. */
export function SearchField({ label, value, onChange }: { label: string; value: string; onChange: (v: string) => void }) {
  const [text, setText] = useState(value);
  // What came from elsewhere, another address, takes the place of what was typed.
  const [told, setTold] = useState(value);
  if (told !== value) {
    setTold(value);
    setText(value);
  }
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });
  useEffect(() => {
    if (text === value) return;
    const here = window.location.pathname;
    const timer = setTimeout(() => {
      // Whoever is leaving is not called back.
      if (window.location.pathname !== here) return;
      setTold(text);
      latest.current(text);
    }, 150);
    return () => clearTimeout(timer);
  }, [text, value]);
  return (
    <TextField
      placeholder={label}
      value={text}
      onChange={(e) => setText(e.target.value)}
      slotProps={{ htmlInput: { 'aria-label': label, 'data-search': '' } }}
      style={{ flex: '4 1 180px', maxWidth: 250 }}
    />
  );
}

const Chips = styled('div')({ display: 'flex', gap: 8, flexWrap: 'wrap', alignItems: 'center' });

/** A filter that holds, by its name. */
export interface Active {
  param: string;
  name: string;
}

interface Saved {
  name: string;
  query: string;
}

function savedOf(list: string): Saved[] {
  try {
    return (JSON.parse(inBrowser.getItem(`filters:${list}`) ?? '[]') as Saved[]) ?? [];
  } catch {
    return [];
  }
}

/** The filters that hold, each to be taken off, and those that were kept by a name. */
export function FilterChips({ list, active }: { list: string; active: Active[] }) {
  const [params, setParams] = useSearchParams();
  const [saved, setSaved] = useState(() => savedOf(list));
  const [naming, setNaming] = useState<string | null>(null);
  const keep = (now: Saved[]) => {
    inBrowser.setItem(`filters:${list}`, JSON.stringify(now));
    setSaved(now);
  };
  const query = params.toString();
  const known = saved.some((s) => s.query === query);
  const [, set] = useAddress();
  const save = (e: React.FormEvent) => {
    e.preventDefault();
    const name = naming?.trim();
    if (name) keep([...saved.filter((s) => s.name !== name), { name, query }]);
    setNaming(null);
  };
  if (active.length === 0 && saved.length === 0) return null;
  return (
    <Chips className="no-print" aria-label="Filters">
      {active.map((a) => (
        <Chip key={a.param} size="small" label={a.name} onDelete={() => set(a.param, '')} />
      ))}
      {active.length > 0 && !known && naming === null && <Button onClick={() => setNaming('')}>Keep this filter</Button>}
      {naming !== null && (
        <form onSubmit={save} style={{ display: 'flex', gap: 6 }}>
          <TextField
            size="small"
            value={naming}
            onChange={(e) => setNaming(e.target.value)}
            onKeyDown={(e) => {
              if (e.key !== 'Escape') return;
              e.preventDefault();
              setNaming(null);
            }}
            autoFocus
            placeholder="its name"
            slotProps={{ htmlInput: { 'aria-label': 'Name of the filter', maxLength: 40 } }}
            style={{ width: 150 }}
          />
          <Button type="submit">Keep</Button>
        </form>
      )}
      {saved.map((s) => (
        <Chip
          key={s.name}
          size="small"
          variant="outlined"
          color={s.query === query ? 'primary' : 'default'}
          label={s.name}
          onClick={() => setParams(new URLSearchParams(s.query), { replace: true })}
          onDelete={() => keep(saved.filter((x) => x !== s))}
        />
      ))}
    </Chips>
  );
}
