import { createContext, useContext } from 'react';
import type { Effect } from '../../api/client';
import type { Command } from './command';
import type { Form } from './form';
import type { DraftKind } from './draft';
import type { Known } from './kind';
import { useBody, type Refused } from './useForm';

interface Place {
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  form: Form<any>;
  /** What would be done; a record does nothing. */
  command: Pick<Command<object>, 'effect'> & Partial<Pick<Command<object>, 'isFresh'>>;
  known: Known;
  refused: Refused;
  /** The kind of paper; of a record none. */
  kind?: DraftKind;
}

/** The paper that is written, for its fields. */
export const EditingPlace = createContext<Place | null>(null);

/** What the fields of a paper are given. */
export interface Editing<B extends object> {
  form: Form<B>;
  body: B;
  change: Form<B>['change'];
  effect: Effect | undefined;
  refused: Refused;
  known: Known;
}

/** The form of the paper that is written, without its body: for what follows a part of it alone. */
export function usePaperForm<B extends object>(): Form<B> {
  return useContext(EditingPlace)!.form as Form<B>;
}

/** The paper that is written. */
export function useEditing<B extends object>(): Editing<B> {
  const place = useContext(EditingPlace)!;
  const form = place.form as Form<B>;
  const body = useBody(form);
  return { form, body, change: form.change, effect: place.command.effect, refused: place.refused, known: place.known };
}
