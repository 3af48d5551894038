// What is being written, as data that is never changed in place: every change
// makes a new body that shares what stayed. So undo is a list of bodies, a
// draft knows what it has not saved yet, and a field looks at its part alone.

type Change<B> = Partial<B> | ((now: B) => Partial<B>);

// Changes of one field within this time are one step of undo.
const oneStep = 900;

/** The keys of a path as refusals write it: lines[2].net is lines, 2, net. */
function keys(path: string): (string | number)[] {
  return path
    .split(/[.[\]]/)
    .filter(Boolean)
    .map((k) => (/^\d+$/.test(k) ? Number(k) : k));
}

/** What stands at a path of a body. */
export function at(body: unknown, path: string): unknown {
  let v: unknown = body;
  for (const k of keys(path)) v = (v as Record<string | number, unknown> | undefined)?.[k];
  return v;
}

/** The body with value at a path; what it does not touch is shared. */
export function put<B>(body: B, path: string, value: unknown): B {
  const put = (v: unknown, [k, ...rest]: (string | number)[]): unknown => {
    if (k === undefined) return value;
    const copy = (Array.isArray(v) ? [...v] : { ...(v as object) }) as Record<string | number, unknown>;
    copy[k] = put(copy[k], rest);
    return copy;
  };
  return put(body, keys(path)) as B;
}

/** Whether two bodies say the same, in whatever order. */
export function same(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || !a || !b) return a === b;
  const names = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...names].every((k) => same((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]));
}

/** A body that is being written, with the work that its fields still have to do. */
export class Form<B extends object> {
  private listeners = new Set<() => void>();
  private work = new Map<string, Promise<unknown>>();
  private finishers = new Set<() => void>();
  private past: B[] = [];
  private future: B[] = [];
  private last = { field: '', at: 0 };

  constructor(public body: B) {}

  subscribe = (on: () => void) => {
    this.listeners.add(on);
    return () => void this.listeners.delete(on);
  };

  private tell() {
    for (const on of [...this.listeners]) on();
  }

  /** Changes a part; a function is given what was typed up to this moment. */
  change = (part: Change<B>, field = '') => {
    const now = { ...this.body, ...(typeof part === 'function' ? part(this.body) : part) };
    this.become(now, field);
  };

  /** Sets what stands at a path. */
  set = (path: string, value: unknown) => {
    if (at(this.body, path) !== value) this.become(put(this.body, path, value), path);
  };

  private become(body: B, field: string) {
    const time = Date.now();
    if (!field || field !== this.last.field || time - this.last.at > oneStep) this.past.push(this.body);
    this.last = { field, at: time };
    this.future = [];
    this.body = body;
    this.edits++;
    this.tell();
  }

  /** How often a person changed something. */
  edits = 0;

  undo = () => this.step(this.past, this.future);
  redo = () => this.step(this.future, this.past);

  private step(from: B[], to: B[]) {
    const body = from.pop();
    if (!body) return;
    to.push(this.body);
    this.body = body;
    this.last = { field: '', at: 0 };
    this.edits++;
    this.tell();
  }

  /** Says that a field is being understood or looked up: posting waits for it. */
  wait(field: string, work: Promise<unknown>) {
    this.work.set(field, work);
    this.tell();
    const done = () => {
      if (this.work.get(field) !== work) return;
      this.work.delete(field);
      this.tell();
    };
    work.then(done, done);
  }

  /** Whether a field is still being understood; beside one, where it is named. */
  waits(beside = '') {
    return this.work.size > (this.work.has(beside) ? 1 : 0);
  }

  /** What a field could not make anything of, by the field: nothing is posted over it. */
  readonly unclear = new Map<string, string>();

  /** Makes f what a field does with text that was typed and not taken yet. */
  finish(f: () => void) {
    this.finishers.add(f);
    return () => void this.finishers.delete(f);
  }

  /** Waits until all that was typed is understood. */
  async settled() {
    for (const f of [...this.finishers]) f();
    while (this.work.size > 0) await Promise.allSettled([...this.work.values()]);
  }
}
