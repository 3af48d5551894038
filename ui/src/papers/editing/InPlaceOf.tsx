import { styled } from '@mui/material/styles';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import { paperQuery } from '../../parts/records';
import { usePaperForm } from './Editing';
import { Figure, Text } from './fields';
import { Trouble } from './Told';
import { useValue } from './useForm';

/** The paper in place of which another is written: taken back in the same step. */
export interface InPlace {
  paper: number;
  day: string;
  reason: string;
}

const Line = styled(Trouble)(({ theme }) => ({
  borderLeftColor: theme.vars!.palette.primary.main,
  paddingBottom: 14,
  '& .MuiTextField-root': { width: 'auto' },
  '& .why': { flex: 1 },
}));

/** One begins with the reason, also where it comes later than the other fields; unless one has begun already. */
function useAskedFirst(there: boolean) {
  const begun = useRef(false);
  useEffect(() => {
    const begin = () => void (begun.current = true);
    const kinds = ['keydown', 'pointerdown', 'input'] as const;
    for (const kind of kinds) addEventListener(kind, begin, true);
    return () => kinds.forEach((kind) => removeEventListener(kind, begin, true));
  }, []);
  useEffect(() => {
    const reason = document.querySelector<HTMLInputElement>('[data-field="again.reason"] input');
    if (there && !begun.current && reason?.value === '') reason.focus();
  }, [there]);
}

/** Says what is put right by what is written, and asks why. */
export function InPlaceOf() {
  const form = usePaperForm<{ again?: InPlace }>();
  const of = useValue(form, (b) => b.again?.paper ?? 0);
  const paper = useQuery({ ...paperQuery(of), enabled: of > 0 }).data;
  useAskedFirst(paper !== undefined && !paper.reversedBy);
  if (!of || !paper) return null;
  const link = <Link to={`/papers/${of}`}>{paper.number}</Link>;
  if (paper.reversedBy)
    return (
      <Line data-word role="group" aria-label="In place of">
        <span>
          In place of {link}, which {paper.reversedBy} took back.
        </span>
      </Line>
    );
  return (
    <Line data-word role="group" aria-label="In place of">
      <span style={{ flex: '0 1 auto' }}>In place of {link}, which is taken back with this.</span>
      <Text className="why" name="again.reason" label={`What is wrong with ${paper.number}?`} />
      <Figure kind="day" name="again.day" label="Taken back on" width={140} />
    </Line>
  );
}
