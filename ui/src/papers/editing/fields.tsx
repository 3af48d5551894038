import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useContext, type ComponentProps, type ReactNode } from 'react';
import { Boxed, UnderstoodField, type UnderstoodProps } from '../../parts/UnderstoodField';
import { EditingPlace } from './Editing';
import { at } from './form';
import { useValue } from './useForm';

/** A field of what is written, by its path: its value, how it is set, why it is refused. */
export function useField<T>(name: string): { value: T; set: (v: T) => void; refused: string } {
  const { form, refused } = useContext(EditingPlace)!;
  const value = useValue(form, (b) => at(b, name)) as T;
  return { value, set: (v) => form.set(name, v), refused: refused(name) };
}

type FigureProps = Omit<UnderstoodProps, 'value' | 'onChange' | 'field' | 'error'> & {
  name: string;
  /** What stands there while nothing was typed: what Go offers. */
  offered?: string;
  /** What refusals call it, where that is another name. */
  said?: string;
};

/** An amount, a quantity or a day. */
export function Figure({ name, offered, said = name, ...rest }: FigureProps) {
  const { value, set } = useField<string | undefined>(name);
  const { refused } = useField(said);
  return <UnderstoodField {...rest} field={said} value={value || offered || ''} onChange={set} error={refused} />;
}

type TextProps = Omit<ComponentProps<typeof Boxed>, 'value' | 'onChange' | 'name'> & {
  name: string;
  label: string;
  /** It is mostly left empty: the cursor does not begin there. */
  optional?: boolean;
  /** What stands there while nothing was typed: what Go offers. */
  offered?: string;
};

/** A text. */
export function Text({ name, label, variant, slotProps, optional, offered, ...rest }: TextProps) {
  const { value, set, refused } = useField<string | undefined>(name);
  return (
    <Boxed
      {...rest}
      variant={variant}
      label={variant === 'standard' ? undefined : label}
      data-field={name}
      value={value ?? offered ?? ''}
      onChange={(e) => set(e.target.value)}
      error={!!refused}
      helperText={refused || undefined}
      slotProps={{
        ...slotProps,
        htmlInput: { 'aria-label': label, 'data-optional': optional ? '' : undefined, ...(slotProps?.htmlInput as object) },
      }}
    />
  );
}

interface Option {
  value: string | number;
  name: string;
}

interface ChoiceProps {
  label: string;
  field: string;
  value: string | number;
  options: Option[];
  onChange: (value: string) => void;
  error?: string | boolean;
  onSheet?: boolean;
  width?: number;
  className?: string;
}

/** One of a few, by the browser's own list: letters choose, without opening it. */
export function Choice({ label, field, value, options, onChange, error, onSheet, width, className }: ChoiceProps) {
  const known = options.some((o) => o.value === value);
  return (
    <Boxed
      select
      className={className}
      variant={onSheet ? 'standard' : 'outlined'}
      label={onSheet ? undefined : label}
      data-field={field}
      value={known ? value : ''}
      onChange={(e) => onChange(e.target.value)}
      error={!!error}
      helperText={(typeof error === 'string' && error) || undefined}
      style={{ width }}
      slotProps={{
        select: { native: true },
        inputLabel: { shrink: true },
        htmlInput: { 'aria-label': label, 'data-filled': '', 'data-pass': onSheet ? '' : undefined },
      }}
    >
      {!known && <option value="" />}
      {options.map((o) => (
        <option key={o.value} value={o.value}>
          {o.name}
        </option>
      ))}
    </Boxed>
  );
}

/** One of a few, in a field of what is written. Numbers stay numbers. */
export function Chosen({ name, ...rest }: Omit<ChoiceProps, 'field' | 'value' | 'onChange' | 'error'> & { name: string }) {
  const { value, set, refused } = useField<string | number>(name);
  const number = typeof rest.options[0]?.value === 'number';
  return (
    <Choice
      {...rest}
      field={name}
      value={value ?? (number ? 0 : '')}
      onChange={(v) => set(number ? Number(v) : v)}
      error={refused}
    />
  );
}

/** Yes or no. */
export function Check({ name, label, className }: { name: string; label: ReactNode; className?: string }) {
  const { value, set } = useField<boolean | undefined>(name);
  return (
    <FormControlLabel
      className={className}
      data-field={name}
      control={<Checkbox size="small" checked={!!value} onChange={(e) => set(e.target.checked)} />}
      label={label}
    />
  );
}
