import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { styled } from '@mui/material/styles';
import { useState, type ReactNode } from 'react';
import { type Notice } from '../api/client';
import { Notices, focusField, toNotices } from './Notices';
import { usePrimary } from './keys';
import { Key } from './Layout';

export const FormGrid = styled('div')({
  display: 'grid',
  gridTemplateColumns: '1fr 1fr',
  gap: '14px 16px',
  paddingTop: 6,
  '& .wide': { gridColumn: '1 / -1' },
});

interface Props {
  title: string;
  onClose: () => void;
  /** Saves; what it throws is shown beside the fields. */
  onSave: () => Promise<unknown>;
  children: (refused: (field: string) => boolean) => ReactNode;
  saveLabel?: string;
  /** Whether the focus goes on to somewhere else when it closes. */
  movesOn?: boolean;
}

/** A form for a record: Enter or Ctrl+Enter saves, Esc leaves. */
export function RecordDialog({ title, onClose, onSave, children, saveLabel = 'Save', movesOn }: Props) {
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const [busy, setBusy] = useState(false);
  const save = async () => {
    if (busy) return;
    setBusy(true);
    try {
      await onSave();
    } catch (e) {
      const found = toNotices(e);
      setRefusals(found);
      if (found[0]) focusField(found[0].field);
    } finally {
      setBusy(false);
    }
  };
  usePrimary(() => void save());
  return (
    <Dialog open onClose={onClose} disableRestoreFocus={movesOn} maxWidth="sm" fullWidth aria-labelledby="record-title">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          e.stopPropagation();
          void save();
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
            e.preventDefault();
            e.stopPropagation();
            void save();
          }
        }}
      >
        <DialogTitle id="record-title">{title}</DialogTitle>
        <DialogContent>
          <FormGrid>{children((field) => refusals.some((r) => r.field === field))}</FormGrid>
          <Notices refusals={refusals} />
        </DialogContent>
        <DialogActions sx={{ padding: '4px 24px 18px' }}>
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={busy}>
            {saveLabel} <Key>Ctrl ↵</Key>
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
