import Button from '@mui/material/Button';
import { under } from '../api/at';
import { asOfFor } from '../parts/asOf';

/** Takes papers along as a PDF, each on pages of its own. */
export function PdfOf({ papers }: { papers: number[] }) {
  const q = new URLSearchParams(papers.map((id) => ['ids', String(id)]));
  const past = asOfFor('/api/v1/papers');
  if (past) q.set('asOf', past);
  return (
    <Button variant="outlined" component="a" href={under(`/api/v1/papers/pdf?${q}`)} download>
      PDF
    </Button>
  );
}
