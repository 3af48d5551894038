// A step of the history: what was typed and where one stood belongs to it.

interface Step {
  step?: string;
}

/** Names the step of the history that is on screen, the same after a reload and on the way back. */
export function stepHere(): string {
  const state = (window.history.state ?? {}) as Step;
  if (state.step) return state.step;
  const step = crypto.randomUUID();
  window.history.replaceState({ ...state, step }, '');
  return step;
}

/** Whether a step of the history is the one on screen. */
export function isHere(step: string): boolean {
  return (window.history.state as Step | null)?.step === step;
}
