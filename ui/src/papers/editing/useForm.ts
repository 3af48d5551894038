import { createContext, useContext, useEffect, useState, useSyncExternalStore } from 'react';
import type { Notice } from '../../api/client';
import { Command } from './command';
import type { Form } from './form';

// The form that the fields under it belong to; a field of a report has none.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export const FormPlace = createContext<Form<any> | null>(null);

/** The form that a field stands in, if any. */
export const useFormHere = () => useContext(FormPlace);

/** The paper that is put right by what is written here: what it was set against is free again. */
export const useAgain = (): number => (useFormHere()?.body as { again?: { paper: number } } | undefined)?.again?.paper ?? 0;

/** A part of what is written, as it changes; the part is shared while it stays. */
export function useValue<B extends object, T>(form: Form<B>, part: (b: B) => T): T {
  return useSyncExternalStore(form.subscribe, () => part(form.body));
}

/** The whole body, as it changes. */
export const useBody = <B extends object>(form: Form<B>): B => useValue(form, (b) => b);

type Options<B extends object> = ConstructorParameters<typeof Command<B>>[0];

/** A command of a form, shown and posted; see Command. */
export function useCommand<B extends object>(o: Options<B>): Command<B> {
  const [command] = useState(() => new Command<B>(o));
  useEffect(() => command.update(o));
  useEffect(() => command.open(), [command]);
  useSyncExternalStore(command.subscribe, () => command.version);
  return command;
}

/** What is said of a field: why it is refused, '' while it is not. */
export type Refused = (field: string) => string;

/** What refusals say of fields; those of fields that are still empty wait, unless strict. */
export function refusedBy(shown: Notice[], effect: Notice[], quiet: string[], strict: boolean): Refused {
  const said = new Map<string, string>();
  for (const n of [...shown, ...effect.filter((n) => strict || (n.rule !== 'missing' && !quiet.includes(n.field)))])
    if (!said.has(n.field)) said.set(n.field, n.text);
  return (field) => said.get(field) ?? '';
}
