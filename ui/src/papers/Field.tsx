import type { ComponentProps } from 'react';
import { UnderstoodField } from '../parts/UnderstoodField';
import type { Editing } from './PaperEditor';

/** The names of the texts in a body. */
type Text<B> = { [K in keyof B]-?: B[K] extends string | undefined ? K : never }[keyof B] & string;

interface Props<B extends object> extends Omit<ComponentProps<typeof UnderstoodField>, 'field' | 'value' | 'onChange' | 'error'> {
  on: Pick<Editing<B>, 'body' | 'change' | 'refused'>;
  name: Text<B>;
}

/** An amount or a day of the paper that is edited, by its name in the body. */
export function Field<B extends object>({ on, name, ...rest }: Props<B>) {
  return (
    <UnderstoodField
      {...rest}
      field={name}
      value={(on.body[name] as string | undefined) ?? ''}
      onChange={(v) => on.change({ [name]: v } as unknown as Partial<B>)}
      error={on.refused(name)}
    />
  );
}
