import { useLayoutEffect, useRef } from 'react';

type Action = () => void;

// Primary actions of what is on screen, the topmost last: Ctrl+Enter runs it.
const primaries: Action[] = [];
const backs: Action[] = [];

/** Runs the primary action of the screen; answers whether there is one. */
export function runPrimary(): boolean {
  const action = primaries.at(-1);
  action?.();
  return action !== undefined;
}

/** Runs the way back of the screen; answers whether there is one. */
export function runBack(): boolean {
  const action = backs.at(-1);
  action?.();
  return action !== undefined;
}

// With what is drawn, not after it: a key that comes at once is heard.
function useRegistered(list: Action[], action: Action | undefined) {
  const latest = useRef(action);
  useLayoutEffect(() => {
    latest.current = action;
  });
  const there = action !== undefined;
  useLayoutEffect(() => {
    if (!there) return;
    const run = () => latest.current?.();
    list.push(run);
    return () => {
      list.splice(list.indexOf(run), 1);
    };
  }, [list, there]);
}

/** Makes action what Ctrl+Enter does while the component is shown. */
export function usePrimary(action: Action | undefined) {
  useRegistered(primaries, action);
}

/** Makes action what Esc does while the component is shown. */
export function useBack(action: Action | undefined) {
  useRegistered(backs, action);
}

/** Whether a key event is typed into a field. */
export function typing(e: KeyboardEvent): boolean {
  const t = e.target as HTMLElement;
  return t.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(t.tagName);
}
