import { knownOf, type AnyKind } from './editing/kind';
import { kinds } from './kinds';

const nothing = knownOf(new URLSearchParams());

/** What a draft of a kind is called. */
export function draftName(kind: string): string {
  const k = (kinds as Record<string, AnyKind | undefined>)[kind];
  return k?.title(nothing) ?? kind;
}
