import IconButton from '@mui/material/IconButton';
import Popover from '@mui/material/Popover';
import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import { lazy, Suspense, useContext, useEffect, useRef, useState } from 'react';
import { api } from '../api/client';
import { EditingPlace } from '../papers/editing/Editing';
import { useFormHere } from '../papers/editing/useForm';
import { show, showDay } from './show';

const Calendar = lazy(() => import('./Calendar'));

type Kind = 'amount' | 'price' | 'quantity' | 'percent' | 'rate' | 'day' | 'due';

export interface UnderstoodProps {
  kind: Kind;
  value: string;
  onChange: (value: string) => void;
  label: string;
  field: string;
  /** Written on the paper itself, without a box. */
  onSheet?: boolean;
  /** Without its label on the field, where something else says it. */
  bare?: boolean;
  /** The paper's day, from which a due day counts. */
  paper?: string;
  placeholder?: string;
  /** Why it is refused. */
  error?: string | boolean;
  autoFocus?: boolean;
  disabled?: boolean;
  width?: number | string;
}

const plain: Record<Kind, RegExp> = {
  amount: /^\d{1,12}(\.\d{1,2})?$/,
  price: /^\d{1,12}\.\d{2}$/,
  quantity: /^\d{1,9}(\.\d{1,2})?$/,
  percent: /^\d{1,3}(\.\d{1,2})?$/,
  rate: /^\d{1,8}(\.\d{1,8})?$/,
  day: /^\d{4}-\d{2}-\d{2}$/,
  due: /^\d{4}-\d{2}-\d{2}$/,
};

/** A field that tells what is said of it over the page, so that nothing moves. */
export const Boxed = styled(TextField)(({ theme }) => ({
  '& input.figure': { textAlign: 'right', fontVariantNumeric: 'tabular-nums lining-nums' },
  '& .MuiFormHelperText-root': {
    position: 'absolute',
    top: '100%',
    right: 0,
    zIndex: 3,
    margin: 0,
    padding: '0 4px',
    fontSize: 12.5,
    lineHeight: 1.25,
    minWidth: '100%',
    textAlign: 'right',
    color: theme.vars!.palette.text.secondary,
    backgroundColor: theme.vars!.palette.tally.sheet,
  },
  '& .MuiFormHelperText-root.Mui-error': { color: theme.vars!.palette.error.main, textAlign: 'left' },
}));

const Open = styled(IconButton)({ padding: 2, fontSize: 12, width: 24, height: 24, marginRight: -6 });
const OnSheet = styled(Boxed)({ '& input': { padding: '2px 3px' } });

function shown(kind: Kind, value: string): string {
  return kind === 'day' || kind === 'due' ? showDay(value) : show(value);
}

/**
 * A field for an amount, a quantity or a day. It takes sums and days in words,
 * lets Go understand them, and says what was understood. What is posted waits
 * for it.
 */
export function UnderstoodField({ kind, value, onChange, label, field, onSheet, paper, ...rest }: UnderstoodProps) {
  const { placeholder, error, autoFocus, disabled, width, bare } = rest;
  const form = useFormHere();
  const currency = useContext(EditingPlace)?.command.effect?.paper?.currency;
  // What was typed, and the value that it was understood as, null while it is
  // not yet; another value came from elsewhere and is shown in its place.
  const [typed, setTyped] = useState<{ text: string; as: string | null } | null>(null);
  const focused = useRef(false);
  const [hint, setHint] = useState<{ text: string; error: boolean } | null>(null);
  const asked = useRef(0);
  // An answer that comes late must not bring back what others were then.
  const latest = useRef({ field, onChange });
  useEffect(() => {
    latest.current = { field, onChange };
  });
  const mine = typed && (typed.as === null || typed.as === value || typed.text === '');
  const text = mine ? typed.text : shown(kind, value);

  const take = (text: string, as: string, hint: { text: string; error: boolean } | null) => {
    // Another field may stand here by now: then it was meant for the one before.
    if (latest.current.field !== field) return onChange(as);
    setTyped(focused.current || hint?.error ? { text, as } : null);
    setHint(focused.current || hint?.error ? hint : null);
    latest.current.onChange(as);
  };
  const understand = async (text: string) => {
    const ask = ++asked.current;
    const trimmed = text.trim();
    if (trimmed === '' || plain[kind].test(trimmed)) return take(text, trimmed, null);
    // Until it is understood, what was there stays.
    setTyped({ text, as: null });
    const work = api
      .GET('/api/v1/understand', { params: { query: { kind, text: trimmed, paper, currency } } })
      .then(({ data }) => {
        if (ask !== asked.current || !data) return;
        take(
          text,
          data.value || trimmed,
          data.error ? { text: data.error, error: true } : { text: `= ${data.shown}`, error: false },
        );
      })
      .catch(() => ask === asked.current && take(text, trimmed, null));
    form?.wait(field, work);
  };

  const isDay = kind === 'day' || kind === 'due';
  const [calendar, setCalendar] = useState<HTMLElement | null>(null);
  const figure = kind === 'amount' || kind === 'price' || kind === 'quantity' || kind === 'percent' || kind === 'rate';
  const Field = onSheet ? OnSheet : Boxed;
  const said = [hint?.text, !hint?.error && typeof error === 'string' && error].filter(Boolean).join(' · ');
  return (
    <>
      <Field
        data-field={field}
        variant={onSheet ? 'standard' : 'outlined'}
        label={onSheet || bare ? undefined : label}
        value={text}
        placeholder={placeholder}
        autoFocus={autoFocus}
        disabled={disabled}
        error={!!error || hint?.error}
        helperText={said || undefined}
        style={{ width }}
        onChange={(e) => void understand(e.target.value)}
        // At once: whoever types fast has typed by the next frame.
        onKeyDown={(e) => {
          if (!isDay || !e.altKey || e.key !== 'ArrowDown') return;
          e.preventDefault();
          e.stopPropagation();
          setCalendar(e.currentTarget);
        }}
        onFocus={(e) => {
          focused.current = true;
          (e.target as HTMLInputElement).select();
        }}
        onBlur={() => {
          focused.current = false;
          if (hint?.error) return;
          setHint(null);
          // What is still being understood is shown as typed until it is.
          if (typed?.as !== null) setTyped(null);
        }}
        slotProps={{
          input: isDay
            ? {
                endAdornment: (
                  <Open
                    tabIndex={-1}
                    aria-label={`Calendar for ${label}`}
                    title="Calendar (Alt ↓)"
                    disabled={disabled}
                    onClick={(e) => setCalendar(e.currentTarget)}
                  >
                    ▾
                  </Open>
                ),
              }
            : undefined,
          htmlInput: {
            'aria-label': label,
            className: figure ? 'figure' : undefined,
            inputMode: figure ? 'decimal' : 'text',
            autoComplete: 'off',
            // The rate of the day stands there, or comes.
            'data-optional': kind === 'rate' ? '' : undefined,
          },
        }}
      />
      {calendar && (
        <Popover
          open
          anchorEl={calendar}
          onClose={() => setCalendar(null)}
          transitionDuration={0}
          anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        >
          <Suspense fallback={null}>
            <Calendar
              value={value}
              onPick={(d) => {
                setCalendar(null);
                asked.current++;
                setTyped(null);
                setHint(null);
                onChange(d);
              }}
            />
          </Suspense>
        </Popover>
      )}
    </>
  );
}
