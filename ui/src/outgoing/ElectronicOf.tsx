import Button from '@mui/material/Button';
import { api, data, type Paper } from '../api/client';
import { useSnackbar } from '../app/messages';
import { toNotices } from '../parts/Notices';
import { takeAlong } from '../parts/takeAlong';

/** Takes an invoice or a credit note along as an electronic one; says why where that cannot be. */
export function ElectronicOf({ paper: p }: { paper: Paper }) {
  const say = useSnackbar();
  if (!p.electronic) return null;
  const take = async () => {
    try {
      const file = await data(api.GET('/api/v1/papers/{id}/ubl', { params: { path: { id: p.id } }, parseAs: 'blob' }));
      takeAlong(file, `${p.number}.xml`);
    } catch (e) {
      say(
        toNotices(e)
          .map((n) => n.text)
          .join(' '),
      );
    }
  };
  return (
    <Button variant="outlined" onClick={() => void take()}>
      E-invoice
    </Button>
  );
}
