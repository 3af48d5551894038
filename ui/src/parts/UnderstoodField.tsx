import { styled } from '@mui/material/styles';
import TextField from '@mui/material/TextField';
import { useEffect, useRef, useState } from 'react';
import { api } from '../api/client';
import { show, showDay } from './show';

type Kind = 'amount' | 'price' | 'quantity' | 'percent' | 'day' | 'due';

interface Props {
  kind: Kind;
  value: string;
  onChange: (value: string) => void;
  label: string;
  field: string;
  /** Written on the paper itself, without a box. */
  onSheet?: boolean;
  /** The paper's day, from which a due day counts. */
  paper?: string;
  placeholder?: string;
  error?: boolean;
  autoFocus?: boolean;
  disabled?: boolean;
  width?: number | string;
  bold?: boolean;
}

const plain: Record<Kind, RegExp> = {
  amount: /^\d{1,12}(\.\d{1,2})?$/,
  price: /^\d{1,12}\.\d{2}$/,
  quantity: /^\d{1,9}(\.\d{1,2})?$/,
  percent: /^\d{1,3}(\.\d{1,2})?$/,
  day: /^\d{4}-\d{2}-\d{2}$/,
  due: /^\d{4}-\d{2}-\d{2}$/,
};

const Boxed = styled(TextField)(({ theme }) => ({
  '& input.figure': { textAlign: 'right', fontVariantNumeric: 'tabular-nums lining-nums' },
  // What was understood is told over the page, so that nothing moves.
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
  '& .MuiFormHelperText-root.Mui-error': { color: theme.vars!.palette.error.main },
}));

const OnSheet = styled(Boxed)({ '& input': { padding: '2px 3px' } });

function shown(kind: Kind, value: string): string {
  if (kind === 'amount' || kind === 'price') return show(value);
  return kind === 'day' || kind === 'due' ? showDay(value) : value;
}

/**
 * A field for an amount, a quantity or a day. It takes sums and days in words,
 * lets Go understand them, and says what was understood.
 */
export function UnderstoodField({
  kind,
  value,
  onChange,
  label,
  field,
  onSheet,
  paper,
  placeholder,
  error,
  autoFocus,
  disabled,
  width,
  bold,
}: Props) {
  const [text, setText] = useState<string | null>(null);
  const [hint, setHint] = useState<{ text: string; error: boolean } | null>(null);
  const asked = useRef(0);
  // An answer that comes late must not bring back what others were then.
  const latest = useRef(onChange);
  useEffect(() => {
    latest.current = onChange;
  });

  useEffect(() => {
    // A value that came from elsewhere takes the place of what was typed.
    if (document.activeElement?.closest(`[data-field="${CSS.escape(field)}"]`) === null) setText(null);
  }, [value, field]);

  const understand = async (typed: string) => {
    const ask = ++asked.current;
    const trimmed = typed.trim();
    if (trimmed === '' || plain[kind].test(trimmed)) {
      setHint(null);
      latest.current(trimmed);
      return;
    }
    try {
      const { data } = await api.GET('/api/v1/understand', { params: { query: { kind, text: trimmed, paper } } });
      if (ask !== asked.current || !data) return;
      latest.current(data.value || trimmed);
      setHint(data.error ? { text: data.error, error: true } : { text: `= ${data.shown}`, error: false });
    } catch {
      latest.current(trimmed);
    }
  };

  const figure = kind === 'amount' || kind === 'price' || kind === 'quantity' || kind === 'percent';
  const Field = onSheet ? OnSheet : Boxed;
  return (
    <Field
      data-field={field}
      variant={onSheet ? 'standard' : 'outlined'}
      label={onSheet ? undefined : label}
      value={text ?? shown(kind, value)}
      placeholder={placeholder}
      autoFocus={autoFocus}
      disabled={disabled}
      error={error || hint?.error}
      helperText={hint?.text}
      style={{ width }}
      onChange={(e) => {
        setText(e.target.value);
        void understand(e.target.value);
      }}
      // At once: whoever types fast has typed by the next frame.
      onFocus={(e) => (e.target as HTMLInputElement).select()}
      onBlur={() => {
        if (!hint?.error) {
          setText(null);
          setHint(null);
        }
      }}
      slotProps={{
        htmlInput: {
          'aria-label': label,
          className: figure ? 'figure' : undefined,
          inputMode: figure ? 'decimal' : 'text',
          autoComplete: 'off',
          'data-walk': '',
          style: bold ? { fontWeight: 650 } : undefined,
        },
      }}
    />
  );
}
