import Dialog from '@mui/material/Dialog';
import InputBase from '@mui/material/InputBase';
import { styled } from '@mui/material/styles';
import { useEffect, useId, useState, type ReactNode } from 'react';
import { serif } from '../theme';

const Box = styled(Dialog)(({ theme }) => ({
  '& .MuiDialog-container': { alignItems: 'flex-start', justifyContent: 'flex-end' },
  '& .MuiDialog-paper': {
    width: 600,
    maxWidth: 'calc(100vw - 32px)',
    margin: '43px 13px',
    border: `1px solid ${theme.vars!.palette.primary.main}`,
  },
}));
const Field = styled(InputBase)(({ theme }) => ({
  fontFamily: serif,
  fontSize: 18,
  padding: '8px 14px',
  borderBottom: `1px solid ${theme.vars!.palette.tally.rule}`,
}));
const List = styled('ul')({ listStyle: 'none', margin: 0, padding: 0, maxHeight: '60vh', overflow: 'auto' });
const Row = styled('li')(({ theme }) => ({
  display: 'flex',
  justifyContent: 'space-between',
  alignItems: 'baseline',
  gap: 16,
  padding: '7px 14px',
  cursor: 'pointer',
  '&[aria-selected="true"]': { backgroundColor: theme.vars!.palette.tally.tint },
  '& small': { color: theme.vars!.palette.text.secondary, fontSize: 13, textAlign: 'right' },
}));
const Nothing = styled('p')(({ theme }) => ({ margin: 0, padding: '10px 14px', color: theme.vars!.palette.text.secondary }));

interface Props<T> {
  label: string;
  placeholder: string;
  text: string;
  onText: (text: string) => void;
  rows: T[];
  render: (row: T) => { key: string; main: ReactNode; side: ReactNode };
  onPick: (row: T) => void;
  onClose: () => void;
  nothing: string;
  /** The rows are those of an earlier text: Enter waits for the right ones. */
  late?: boolean;
}

/** A field with what it finds under it, all by keys. */
export function Palette<T>({ label, placeholder, text, onText, rows, render, onPick, onClose, nothing, late = false }: Props<T>) {
  const [at, setAt] = useState(0);
  // Enter was pressed before what fits the text was here.
  const [taking, setTaking] = useState(false);
  const first = rows[0];
  useEffect(() => {
    if (!taking || late) return;
    setTaking(false);
    if (first !== undefined) onPick(first);
  }, [taking, late, first, onPick]);
  const id = useId();
  const here = Math.min(at, Math.max(rows.length - 1, 0));
  const onKey = (e: React.KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key];
    if (step) {
      e.preventDefault();
      const to = (here + step + rows.length) % Math.max(rows.length, 1);
      setAt(to);
      setTaking(false);
      document.getElementById(`${id}-${to}`)?.scrollIntoView({ block: 'nearest' });
    }
    const row = rows[here];
    if (e.key !== 'Enter') return;
    e.preventDefault();
    if (late && at === 0) setTaking(true);
    else if (row !== undefined) onPick(row);
  };
  return (
    <Box open onClose={onClose} aria-label={label} transitionDuration={0} slotProps={{ backdrop: { invisible: true } }}>
      <Field
        autoFocus
        fullWidth
        value={text}
        placeholder={placeholder}
        onChange={(e) => {
          onText(e.target.value);
          setTaking(false);
          setAt(0);
        }}
        onKeyDown={onKey}
        inputProps={{
          'aria-label': label,
          role: 'combobox',
          'aria-expanded': true,
          'aria-controls': `${id}-list`,
          'aria-activedescendant': rows.length ? `${id}-${here}` : undefined,
        }}
      />
      <List role="listbox" id={`${id}-list`} aria-label={label} tabIndex={0}>
        {rows.map((row, i) => {
          const { key, main, side } = render(row);
          return (
            <Row
              key={key}
              id={`${id}-${i}`}
              role="option"
              aria-selected={i === here}
              onMouseMove={() => i !== here && setAt(i)}
              onClick={() => onPick(row)}
            >
              <span>{main}</span>
              <small>{side}</small>
            </Row>
          );
        })}
      </List>
      {rows.length === 0 && <Nothing>{nothing}</Nothing>}
    </Box>
  );
}
