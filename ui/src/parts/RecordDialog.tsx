import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import { Notices } from './Notices';
import { RecordPlace, useRecord } from './record';
import { usePrimary } from './keys';
import { Key } from './Layout';

export const FormGrid = styled('div')({
  display: 'grid',
  gridTemplateColumns: '1fr 1fr',
  gap: '14px 16px',
  paddingTop: 6,
  '& .wide': { gridColumn: '1 / -1' },
});

interface Props<B extends object> {
  title: string;
  initial: B;
  onClose: () => void;
  /** Saves; what it throws is shown beside the fields. */
  onSave: (b: B) => Promise<unknown>;
  children: ReactNode;
  saveLabel?: string;
  /** Whether the focus goes on to somewhere else when it closes. */
  movesOn?: boolean;
  /** It shows what comes of it beside the fields. */
  wide?: boolean;
}

/** A form for a record: Enter or Ctrl+Enter saves, Esc leaves. */
export function RecordDialog<B extends object>(p: Props<B>) {
  const record = useRecord<B>(p.initial, p.onSave);
  const { refusals, busy, submit } = record;
  usePrimary(() => void submit());
  return (
    <Dialog
      open
      onClose={p.onClose}
      disableRestoreFocus={p.movesOn}
      maxWidth={p.wide ? 'lg' : 'sm'}
      fullWidth
      aria-labelledby="record-title"
    >
      <form
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          e.stopPropagation();
          void submit();
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
            e.preventDefault();
            e.stopPropagation();
            if (!e.repeat) void submit();
          }
        }}
      >
        <DialogTitle id="record-title">{p.title}</DialogTitle>
        <DialogContent>
          <RecordPlace record={record}>
            <FormGrid>{p.children}</FormGrid>
          </RecordPlace>
          <Notices refusals={refusals} />
        </DialogContent>
        <DialogActions sx={{ padding: '4px 24px 18px' }}>
          <Button onClick={p.onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={busy}>
            {p.saveLabel ?? 'Save'} <Key>Ctrl ↵</Key>
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
