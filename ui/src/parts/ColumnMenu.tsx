import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Popover from '@mui/material/Popover';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import type { Columns } from './columns';

const List = styled('ul')({
  listStyle: 'none',
  margin: 0,
  padding: '8px 10px',
  '& li': { display: 'flex', alignItems: 'center', gap: 2 },
  '& li label': { flex: 1, marginRight: 18 },
});
const Step = styled(Button)({ minWidth: 28, padding: '2px 4px' });

/** Chooses the columns of a list, their order and their width. */
export function ColumnMenu<T>({ columns: c }: { columns: Columns<T> }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button onClick={(e) => setAt(e.currentTarget)} aria-haspopup="dialog" aria-expanded={at !== null}>
        Columns
      </Button>
      <Popover
        open={at !== null}
        anchorEl={at}
        onClose={() => setAt(null)}
        transitionDuration={0}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { 'aria-label': 'Columns', role: 'dialog' } }}
      >
        <List>
          {c.all.map((x) => (
            <li key={x.id}>
              <FormControlLabel
                control={<Checkbox size="small" checked={!c.isHidden(x.id)} onChange={() => c.toggle(x.id)} />}
                label={x.title}
              />
              <Step onClick={() => c.move(x.id, -1)} aria-label={`${x.title} further left`} title="Further left">
                ←
              </Step>
              <Step onClick={() => c.move(x.id, 1)} aria-label={`${x.title} further right`} title="Further right">
                →
              </Step>
              <Step onClick={() => c.widen(x.id, -2)} aria-label={`${x.title} narrower`} title="Narrower">
                ›‹
              </Step>
              <Step onClick={() => c.widen(x.id, 2)} aria-label={`${x.title} wider`} title="Wider">
                ‹›
              </Step>
            </li>
          ))}
          <li>
            <Button onClick={c.reset}>As they were at first</Button>
          </li>
        </List>
      </Popover>
    </>
  );
}
