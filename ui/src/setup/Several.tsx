import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';

interface SeveralProps<T extends string> {
  title: string;
  error: string;
  all: { id: T; name: string }[];
  chosen: T[];
  onToggle: (one: T) => void;
}

/** Several of a few, by ticks. */
export function Several<T extends string>({ title, error, all, chosen, onToggle }: SeveralProps<T>) {
  return (
    <fieldset style={{ border: 0, margin: 0, padding: 0 }}>
      <legend>{title}</legend>
      {all.map((one) => (
        <FormControlLabel
          key={one.id}
          control={<Checkbox size="small" checked={chosen.includes(one.id)} onChange={() => onToggle(one.id)} />}
          label={one.name}
        />
      ))}
      {error && <p role="alert">{error}</p>}
    </fieldset>
  );
}
