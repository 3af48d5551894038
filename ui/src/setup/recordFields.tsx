import { Choice } from '../papers/editing/fields';
import { Boxed } from '../parts/UnderstoodField';

/** Whether a record can still be chosen. */
export const InUse = ({
  inactive,
  onChange,
  error,
}: {
  inactive?: boolean;
  onChange: (inactive: boolean) => void;
  error?: string;
}) => (
  <Choice
    label="In use"
    field="inactive"
    value={inactive ? 'no' : 'yes'}
    options={[
      { value: 'yes', name: 'yes' },
      { value: 'no', name: 'no' },
    ]}
    onChange={(v) => onChange(v === 'no')}
    error={error}
  />
);

interface TextProps {
  label: string;
  field: string;
  value: string | number | undefined;
  onChange: (v: string) => void;
  error?: string;
  autoFocus?: boolean;
  type?: string;
}

/** A text of a record. */
export const Text = ({ label, field, value, onChange, error, autoFocus, type }: TextProps) => (
  <Boxed
    label={label}
    data-field={field}
    type={type}
    value={value ?? ''}
    onChange={(e) => onChange(e.target.value)}
    error={!!error}
    helperText={error || undefined}
    autoFocus={autoFocus}
  />
);

/** How it is told whether a record is in use. */
export const used = (r: { inactive?: boolean }) => (r.inactive ? 'no' : 'yes');
