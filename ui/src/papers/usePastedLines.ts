import type { ClipboardEvent, DragEvent } from 'react';
import { useSnackbar } from '../app/messages';
import { api, data } from '../api/client';
import type { components } from '../api/schema';
import { useFormHere } from './editing/useForm';

type CellKind = components['schemas']['Pasted']['kinds'][number];

/** The rows of a spreadsheet in a clipboard; none where it holds plain words. */
function rowsOf(text: string): string[][] {
  if (!/[\t\n]/.test(text.trim())) return [];
  return text
    .replace(/\r\n?/g, '\n')
    .replace(/\n+$/, '')
    .split('\n')
    .map((row) => row.split('\t').map((cell) => cell.trim()));
}

/** Takes rows of a spreadsheet, pasted or dropped as a CSV file, understood cell by cell, as lines from line at on. */
export function usePastedLines(kinds: CellKind[], take: (rows: string[][], at: number) => void) {
  const say = useSnackbar();
  const form = useFormHere();
  const understand = async (given: { rows: string[][]; csv?: string }, at: number) => {
    try {
      const found = await data(api.POST('/api/v1/understand', { body: { kinds, ...given } }));
      take(found.rows, at);
      say(`${found.rows.length} lines are pasted.`, 'Undo', () => form?.undo());
    } catch (e) {
      say(e instanceof Error ? e.message : 'That could not be pasted.');
    }
  };
  const onPaste = (e: ClipboardEvent, at: number) => {
    const rows = rowsOf(e.clipboardData.getData('text/plain'));
    if (rows.length === 0) return;
    e.preventDefault();
    form?.wait('lines', understand({ rows }, at));
  };
  const onDrop = (e: DragEvent, at: number) => {
    const file = e.dataTransfer.files[0];
    if (!file) return;
    e.preventDefault();
    form?.wait(
      'lines',
      file.text().then((csv) => understand({ rows: [], csv }, at)),
    );
  };
  return { onPaste, onDrop };
}
