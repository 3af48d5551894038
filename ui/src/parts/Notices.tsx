import { styled } from '@mui/material/styles';
import { Problem, type Notice } from '../api/client';

const Sentence = styled('p')(({ theme }) => ({
  margin: '8px 0 0',
  padding: '8px 10px',
  fontSize: 13.5,
  lineHeight: 1.4,
  backgroundColor: theme.vars!.palette.tally.second,
  borderLeft: `3px solid ${theme.vars!.palette.tally.kept}`,
  '&[data-kind="refusal"]': { borderLeftColor: theme.vars!.palette.error.main, color: theme.vars!.palette.error.main },
}));

const JumpTo = styled('button')({ all: 'unset', cursor: 'pointer', '&:focus-visible': { outline: '2px solid currentColor' } });

/** Puts the cursor into the field that a notice is about. */
export function focusField(field: string) {
  const exact = document.querySelector<HTMLElement>(`[data-field="${CSS.escape(field)}"]`);
  const near =
    exact ??
    document.querySelector<HTMLElement>(`[data-field$="${CSS.escape(`.${field}`)}"]`) ??
    document.querySelector<HTMLElement>(`[data-field="${CSS.escape(field.replace(/[[.].*$/, ''))}"]`);
  const input = near?.matches('input, textarea, select, button')
    ? near
    : near?.querySelector<HTMLElement>('input, textarea, select, button, [tabindex]');
  (input ?? near)?.focus();
}

interface Props {
  refusals?: Notice[];
  warnings?: Notice[];
  /** Whether they are announced from here. */
  said?: boolean;
}

/** Refusals and warnings as sentences; a refusal leads to its field. */
export function Notices({ refusals = [], warnings = [], said = true }: Props) {
  return (
    <div role={said ? 'status' : undefined}>
      {refusals.map((n, i) => (
        <Sentence key={`r${i}`} data-kind="refusal">
          <JumpTo onClick={() => focusField(n.field)}>{n.text}</JumpTo>
        </Sentence>
      ))}
      {warnings.map((n, i) => (
        <Sentence key={`w${i}`} data-kind="warning">
          {n.text}
        </Sentence>
      ))}
    </div>
  );
}

/** The refusals of what went wrong, or one that says it. */
export function toNotices(e: unknown): Notice[] {
  if (e instanceof Problem && e.refusals.length) return e.refusals;
  return [{ field: '', rule: '', limit: '', text: e instanceof Error ? e.message : 'That did not work.' }];
}
