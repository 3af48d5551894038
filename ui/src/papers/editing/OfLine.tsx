import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { api, data, type Blank } from '../../api/client';
import { show, showDay } from '../../parts/show';
import { usePaperForm } from './Editing';
import type { Known } from './kind';
import { Trouble } from './Told';
import { useValue } from './useForm';

/** The line of a bank's statement that a paper explains: it is tied to it in the same step. */
export interface FromBank {
  line: number;
  bank: number;
  /** The firm's own rule by which it was filled in. */
  rule?: number;
  /** The movements that explain the rest: it is one of several, and they are tied together afterwards. */
  parts?: string;
}

/** What a paper begins with that is made of a line. */
export const ofLine = (given: Blank, known: Known): { bankLine?: FromBank } =>
  known.bankLine
    ? {
        bankLine: {
          line: known.bankLine,
          bank: given.bank,
          ...(known.rule ? { rule: known.rule } : {}),
          ...(known.part ? { parts: known.parts } : {}),
        },
      }
    : {};

/** What is said of it beside the body; a part is tied with the others. */
export const lineQuery = (of?: FromBank): Record<string, string> =>
  of && of.parts === undefined ? { bankLine: String(of.line), ...(of.rule ? { bankRule: String(of.rule) } : {}) } : {};

/** Where one goes on, once it is posted. */
export const afterLine = (of: FromBank, paper: number) =>
  of.parts === undefined ? `/bank/${of.bank}` : `/bank/${of.bank}/several?lines=${of.line}&movements=${of.parts}&papers=${paper}`;

const Line = styled(Trouble)(({ theme }) => ({ borderLeftColor: theme.vars!.palette.primary.main }));

/** Says which line of the bank's is explained by what is written. */
export function OfLine() {
  const form = usePaperForm<{ bankLine?: FromBank }>();
  const of = useValue(form, (b) => b.bankLine);
  const line = useQuery({
    queryKey: ['bank', 'line', of?.line],
    queryFn: () => data(api.GET('/api/v1/bank-lines/{id}', { params: { path: { id: of!.line } } })),
    enabled: !!of,
  }).data?.line;
  if (!of || !line) return null;
  const said = [line.name, line.text].filter(Boolean).join(' · ');
  return (
    <Line data-word role="group" aria-label="Line of the bank">
      <span>
        {of.parts === undefined ? 'Explains' : 'Explains a part of'} <b>{show(line.amount)}</b> of {showDay(line.day)} at{' '}
        <Link to={`/bank/${of.bank}`}>the bank</Link>
        {said && `: ${said}`}
      </span>
      <Button size="small" onClick={() => form.change({ bankLine: undefined })}>
        It does not
      </Button>
    </Line>
  );
}
