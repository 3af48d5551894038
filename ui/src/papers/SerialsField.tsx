import { Boxed } from '../parts/UnderstoodField';
import { useField } from './editing/fields';

/** The numbers of pieces, one after another. */
export function SerialsField({ name, label }: { name: string; label: string }) {
  const { value, set, refused } = useField<string[] | undefined>(name);
  return (
    <Boxed
      variant="standard"
      data-field={name}
      placeholder="numbers of the pieces, with commas"
      value={(value ?? []).join(', ')}
      onChange={(e) => {
        const typed = e.target.value;
        // What is being typed keeps its comma: a last part that is empty says so.
        set(typed === '' ? [] : typed.split(/[,;]\s*/));
      }}
      onBlur={() => set((value ?? []).map((s) => s.trim()).filter(Boolean))}
      error={!!refused}
      helperText={refused || undefined}
      sx={{ width: 230 }}
      slotProps={{ htmlInput: { 'aria-label': label, 'data-optional': '' } }}
    />
  );
}
