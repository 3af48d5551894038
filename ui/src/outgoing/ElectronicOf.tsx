import Button from '@mui/material/Button';
import { api, data, type Paper } from '../api/client';
import { useSnackbar } from '../app/messages';
import { toNotices } from '../parts/Notices';

/** Takes an invoice or a credit note along as an electronic one; says why where that cannot be. */
export function ElectronicOf({ paper: p }: { paper: Paper }) {
  const say = useSnackbar();
  if (!['invoice', 'deposit invoice', 'credit note'].includes(p.kind)) return null;
  const take = async () => {
    try {
      const file = await data(api.GET('/api/v1/papers/{id}/ubl', { params: { path: { id: p.id } }, parseAs: 'blob' }));
      const a = document.createElement('a');
      a.href = URL.createObjectURL(file as unknown as Blob);
      a.download = `${p.number}.xml`;
      a.click();
      setTimeout(() => URL.revokeObjectURL(a.href), 1000);
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
