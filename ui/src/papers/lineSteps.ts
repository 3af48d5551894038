/** What can be done with a line as a whole. */
export type LineStep = 'drop' | 'copy' | 'insert' | 'up' | 'down';

/** The lines after a step with line n, and which is in hand then. */
export function stepped<L>(lines: L[], n: number, step: LineStep, fresh: () => L): [L[], number] {
  const line = lines[n] ?? fresh();
  switch (step) {
    case 'drop':
      return [lines.filter((_, i) => i !== n), Math.max(0, Math.min(n, lines.length - 2))];
    case 'copy':
      return [lines.toSpliced(n + 1, 0, line), n + 1];
    case 'insert':
      return [lines.toSpliced(n, 0, fresh()), n];
    default: {
      const to = step === 'up' ? n - 1 : n + 1;
      if (to < 0 || to >= lines.length) return [lines, n];
      return [lines.with(n, lines[to]!).with(to, line), to];
    }
  }
}

/** The step that a key means, with Alt. */
export function lineStepOf(e: React.KeyboardEvent): LineStep | undefined {
  const keys: Record<string, LineStep> = { ArrowUp: 'up', ArrowDown: 'down', Insert: 'insert', Delete: 'drop', KeyC: 'copy' };
  return e.altKey && !e.ctrlKey ? keys[e.code] : undefined;
}
