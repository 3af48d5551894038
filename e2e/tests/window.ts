// As much of a browser's window as the editing core asks for, so that it is
// tested by itself, in milliseconds. Imported before what it is for.

class Shelf {
  private all = new Map<string, string>();
  getItem = (k: string) => this.all.get(k) ?? null;
  setItem = (k: string, v: string) => void this.all.set(k, v);
  removeItem = (k: string) => void this.all.delete(k);
  clear = () => this.all.clear();
}

const history = {
  state: null as unknown,
  replaceState(state: unknown, _: string, path?: string) {
    this.state = state;
    if (path) location.pathname = path;
  },
};
const location = { pathname: '/papers/new/invoice' };

const it = globalThis as unknown as Record<string, unknown>;
it.localStorage = new Shelf();
it.sessionStorage = new Shelf();
it.requestAnimationFrame = (f: () => void) => setImmediate(f);
it.cancelAnimationFrame = clearImmediate;
it.window = Object.assign(new EventTarget(), { setTimeout, clearTimeout, history, location });
const whole = globalThis.Request;
it.Request = class extends whole {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === 'string' ? new URL(input, 'http://firm.example') : input, init);
  }
};

/** A request as the stand-in for the program sees it. */
export interface Asked {
  method: string;
  path: string;
  query: URLSearchParams;
  header: Headers;
  body: Record<string, unknown>;
}

export interface Told {
  status?: number;
  body?: object;
  etag?: string;
}

/** Stands in for the program: what it is asked goes to answer; a promise is waited for. */
export function program(answer: (asked: Asked) => Told | Promise<Told>): Asked[] {
  const all: Asked[] = [];
  it.fetch = async (r: Request) => {
    const url = new URL(r.url);
    const text = await r.clone().text();
    const asked = { method: r.method, path: url.pathname, query: url.searchParams, header: r.headers, body: text ? JSON.parse(text) : {} };
    all.push(asked);
    const gone = new Promise<never>((_, no) => r.signal.addEventListener('abort', () => no(new DOMException('stopped', 'AbortError'))));
    const told = await Promise.race([Promise.resolve(answer(asked)), gone]);
    return new Response(told.status === 204 ? null : JSON.stringify(told.body ?? {}), {
      status: told.status ?? 200,
      headers: { 'Content-Type': 'application/json', ...(told.etag ? { ETag: told.etag } : {}) },
    });
  };
  return all;
}

/** A promise that is kept by hand. */
export function promised<T>() {
  let keep!: (v: T) => void;
  const promise = new Promise<T>((resolve) => (keep = resolve));
  return { promise, keep };
}

/** Numbers that look like chance, the same for a seed. */
export function chance(seed: number) {
  let x = seed * 2654435761 + 1;
  return (below: number) => {
    x = (Math.imul(x ^ (x >>> 15), 2246822519) + 0x9e3779b9) >>> 0;
    return ((x ^ (x >>> 13)) >>> 0) % below;
  };
}

/** Lets everything happen that can happen by now. */
export async function turns(n = 20) {
  for (let i = 0; i < n; i++) await new Promise<void>((r) => setImmediate(r));
}
