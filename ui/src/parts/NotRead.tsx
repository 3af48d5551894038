import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { Notice } from '../api/client';
import { Notices } from './Notices';

/** Why nothing of a file was read; nothing where there is no refusal. */
export function NotRead({ refusals, onClose }: { refusals: Notice[]; onClose: () => void }) {
  if (refusals.length === 0) return null;
  return (
    <Dialog open onClose={onClose} aria-labelledby="not-read">
      <DialogTitle id="not-read">Nothing was read</DialogTitle>
      <DialogContent>
        <Notices refusals={refusals} />
      </DialogContent>
      <DialogActions>
        <Button variant="contained" autoFocus onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
