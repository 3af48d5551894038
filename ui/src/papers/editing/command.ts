import { Problem, send, type Answer, type CommandPath, type Effect, type Notice } from '../../api/client';
import type { Draft } from './draft';
import type { Form } from './form';

export type Posted = NonNullable<Answer['posted']>;

// How long an older preview may keep a newer one waiting before it is given
// up, and the pauses until one that failed is tried again, in milliseconds.
const patience = 150;
const pauses = [1000, 2000, 5000];

interface Options<B extends object> {
  form: Form<B>;
  path: CommandPath;
  /** What is sent of the body; null while there is nothing to send. */
  body: (b: B) => object | null;
  draft?: Draft<B>;
  /** What is said beside the body. */
  query?: (b: B) => Record<string, string>;
  /** Called once it is posted. */
  done: (posted: Posted) => void;
  /** Called with what stands in the way: the first is gone to. */
  refused: (refusals: Notice[]) => void;
}

/**
 * A command as it is written: what it would do, from Go, and the posting of
 * just that. Posting waits until all that was typed is understood and its own
 * Effect is on screen, and carries the token of it.
 */
export class Command<B extends object> {
  effect: Effect | undefined;
  /** Why the Effect could not be worked out. */
  error = '';
  /** What stands in the way of the post that was tried. */
  refusals: Notice[] = [];
  /** What is said of it, once. */
  told = '';
  strict = false;
  posting = false;
  /** Whether the post is on its way: what is typed now could not come along. */
  sending = false;
  /** The second person's word. */
  word = '';

  private of: string | null = null; // the body that the effect is of
  private wanted: string | null = null;
  private flight: { text: string; since: number; ended: Promise<void>; stop: AbortController } | undefined;
  private timer = 0;
  private failed = 0;
  private armed = ''; // the token of the warnings that were seen
  private unsure: { text: string; token: string; key: string } | undefined;
  private listeners = new Set<() => void>();

  constructor(private o: Options<B>) {}

  /** Takes what a later render gives. */
  update(o: Pick<Options<B>, 'body' | 'done' | 'refused'>) {
    this.o = { ...this.o, ...o };
  }

  subscribe = (on: () => void) => {
    this.listeners.add(on);
    return () => void this.listeners.delete(on);
  };

  version = 0;
  private tell() {
    this.version++;
    for (const on of [...this.listeners]) on();
  }

  /** Follows the form; answers how to end it. */
  open() {
    const form = this.o.form.subscribe(() => this.changed());
    const again = () => this.refresh();
    window.addEventListener('focus', again);
    this.wanted = null;
    this.changed();
    return () => {
      form();
      window.removeEventListener('focus', again);
      clearTimeout(this.timer);
      this.flight?.stop.abort();
      this.flight = undefined;
    };
  }

  /** What is sent: what is said beside the body in the first line, then the body. */
  private text(): string | null {
    const body = this.o.body(this.o.form.body);
    if (body === null) return null;
    return `${new URLSearchParams(this.o.query?.(this.o.form.body))}\n${JSON.stringify(body)}`;
  }

  /** Whether what is shown is of what was typed. */
  get fresh(): boolean {
    return this.isFresh();
  }

  /** The same, whatever one field still waits for. */
  isFresh(beside = ''): boolean {
    return !this.o.form.waits(beside) && this.of === this.wanted;
  }

  /** Whether it was said that there are warnings, and another press posts. */
  get confirming(): boolean {
    return this.armed !== '' && this.fresh && this.armed === this.effect?.token;
  }

  private changed() {
    const text = this.text();
    if (text === this.wanted) {
      this.tell(); // a field may have become understood
      return;
    }
    this.wanted = text;
    this.refusals = [];
    this.told = '';
    this.failed = 0;
    if (text === null) {
      this.of = null;
      this.effect = undefined;
      this.strict = false;
    }
    this.tell();
    this.fetch();
  }

  /** Works it out again: something else has changed. */
  refresh() {
    if (this.posting || this.wanted === null) return;
    this.of = null;
    this.fetch();
  }

  private fetch() {
    clearTimeout(this.timer);
    if (this.wanted === null || this.wanted === this.of || this.wanted === this.flight?.text) return;
    if (this.flight) {
      const left = patience - (performance.now() - this.flight.since);
      if (left > 0) {
        this.timer = window.setTimeout(() => this.fetch(), left);
        return;
      }
      this.flight.stop.abort();
    }
    const stop = new AbortController();
    const flight = { text: this.wanted, since: performance.now(), stop, ended: Promise.resolve() };
    this.flight = flight;
    flight.ended = this.preview(flight.text, stop.signal).finally(() => {
      if (this.flight !== flight) return;
      this.flight = undefined;
      if (!this.error) this.fetch();
    });
  }

  private async preview(text: string, signal: AbortSignal): Promise<void> {
    const [beside, body] = parts(text);
    const query = new URLSearchParams(beside);
    query.set('preview', 'true');
    // What its own draft reserves must not stand in its way, nor one that is begun meanwhile.
    const beginning = this.o.draft?.beginning();
    if (beginning) await beginning;
    const draft = this.o.draft?.id ?? 0;
    if (draft) query.set('draft', String(draft));
    try {
      const answer = await send(this.o.path, body, query, {}, signal);
      if (answer.effect?.refusals.length) await this.o.draft?.beginning();
      if (signal.aborted) return;
      if (answer.effect?.refusals.length && draft !== (this.o.draft?.id ?? 0)) return await this.preview(text, signal);
      this.effect = answer.effect;
      this.of = text;
      this.error = '';
      this.failed = 0;
      this.tell();
    } catch (e) {
      if (signal.aborted) return;
      this.error = e instanceof Problem ? e.message : 'The Effect could not be worked out.';
      const passing = !(e instanceof Problem) || e.status === 0 || e.status === 401 || e.status >= 500;
      if (passing) {
        clearTimeout(this.timer);
        this.timer = window.setTimeout(() => this.fetch(), pauses[Math.min(this.failed++, pauses.length - 1)]);
      }
      this.tell();
    }
  }

  /** Waits for the Effect of just this body. */
  private async shown(text: string): Promise<Effect | undefined> {
    while (this.wanted === text && this.of !== text) {
      this.fetch();
      const ended = this.flight?.ended;
      await (ended ?? new Promise((resolve) => setTimeout(resolve, patience)));
      if (this.error && this.of !== text) throw new Problem(0, 'preview', this.error);
    }
    return this.wanted === text ? this.effect : undefined;
  }

  /** Posts what is on screen, or says what stands in the way. */
  act = async () => {
    if (this.posting) return;
    this.posting = true;
    this.told = '';
    this.tell();
    try {
      await this.attempt();
    } catch (e) {
      this.fail(e);
    } finally {
      this.posting = this.sending = false;
      this.tell();
    }
  };

  /** Has it wait for a second person's word, which they give from their own screen. */
  ask = async () => {
    if (this.posting) return;
    this.posting = true;
    this.told = '';
    this.tell();
    try {
      await this.o.form.settled();
      const text = this.text();
      const effect = text === null ? undefined : await this.shown(text);
      if (text === null || !effect) return;
      if (effect.refusals.length > 0) return this.refuse(effect.refusals);
      const [beside, body] = parts(text);
      const query = new URLSearchParams(beside);
      query.set('ask', 'true');
      // It is posted from its draft, once somebody agreed.
      if (this.o.draft) query.set('draft', String(await this.o.draft.begun()));
      await send(this.o.path, body, query, {});
      this.say(`Asked. ${(effect.others ?? []).join(' or ')} will see it on the Desk; you will see there what was said.`);
    } catch (e) {
      this.fail(e);
    } finally {
      this.posting = false;
      this.tell();
    }
  };

  private async attempt(): Promise<void> {
    await this.o.form.settled();
    const unclear = [...this.o.form.unclear].map(([field, text]) => ({ field, text, rule: 'unclear', limit: '' }));
    if (unclear.length > 0) return this.refuse(unclear);
    const text = this.text();
    if (text === null) return;
    if (this.unsure?.text === text) return this.post(this.unsure);
    const effect = await this.shown(text);
    if (!effect) return this.attempt(); // something was typed meanwhile
    this.strict = true;
    if (effect.refusals.length > 0) return this.refuse(effect.refusals);
    if (effect.warnings.length > 0 && this.armed !== effect.token) {
      this.armed = effect.token;
      return this.say(effect.warnings.map((w) => w.text).join(' '));
    }
    if (effect.word && !this.word && !effect.agreed) return this.refuse([effect.word]);
    this.tell();
    await painted();
    return this.post({ text, token: effect.token, key: crypto.randomUUID() });
  }

  private async post(what: { text: string; token: string; key: string }) {
    const [beside, body] = parts(what.text);
    const query = new URLSearchParams(beside);
    query.set('token', what.token);
    const headers: Record<string, string> = { 'Idempotency-Key': what.key };
    const draft = await this.o.draft?.settle();
    if (draft?.id) {
      query.set('draft', String(draft.id));
      headers['If-Match'] = draft.etag;
    }
    if (this.word) headers['Second-Word'] = encodeURIComponent(this.word);
    // An answer that does not come leaves open whether it was posted: the same
    // key asks again.
    this.unsure = what;
    this.sending = true;
    this.tell();
    const answer = await send(this.o.path, body, query, headers);
    this.unsure = undefined;
    this.armed = '';
    this.strict = false;
    if (answer.posted) this.o.done(answer.posted);
  }

  private fail(e: unknown) {
    if (!(e instanceof Problem)) return this.say('Something went wrong. Nothing is known to be posted: try again.');
    const answered = e.status > 0 && e.status < 500 && e.status !== 401;
    if (answered) this.unsure = undefined;
    if (e.effect) {
      this.effect = e.effect;
      this.of = this.wanted;
      this.armed = '';
      return this.say(e.message);
    }
    if (e.refusals.length > 0) {
      this.refuse(e.refusals);
      this.refresh();
      return;
    }
    this.say(e.type === 'preview' ? `Not posted: ${e.message}` : e.message);
    if (answered) this.refresh();
  }

  private refuse(refusals: Notice[]) {
    this.refusals = refusals;
    this.say(refusals.map((r) => r.text).join(' '));
    this.o.refused(refusals);
  }

  private say(told: string) {
    this.told = told;
    this.tell();
  }
}

/** What is said beside the body, and the body. */
function parts(text: string): [string, string] {
  const end = text.indexOf('\n');
  return [text.slice(0, end), text.slice(end + 1)];
}

/** Waits until what was told is on screen. */
function painted(): Promise<void> {
  return new Promise((resolve) => {
    const frame = requestAnimationFrame(() => setTimeout(resolve));
    // A window in the background paints nothing.
    setTimeout(() => {
      cancelAnimationFrame(frame);
      resolve();
    }, 100);
  });
}
