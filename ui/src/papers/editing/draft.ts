import { inBrowser, inTab, under } from '../../api/at';
import { api, heard, Problem } from '../../api/client';
import type { components } from '../../api/schema';
import { isHere } from '../../parts/step';
import type { Form } from './form';

export type DraftKind = components['schemas']['DraftBody']['kind'];

/** A draft and the version of it that is on screen. */
export interface DraftRef {
  id: number;
  etag: string;
}

interface Kept {
  body: object;
  etag: string;
}

// How long after the last key a draft is saved, and how long until it is tried
// again, in milliseconds; the last pause stays.
const pause = 600;
const pauses = [1000, 2000, 4000, 8000, 15000];

// The browser sends no more than 64 KB after a page is gone.
const mostKeptAlive = 60_000;

/**
 * Saves what is written, by itself. What could not be saved yet lies in the
 * browser, under the draft or, while it is new, under its step in the history,
 * and is tried again until it is.
 */
export class Draft<B extends object> {
  told = '';
  /** Why it cannot be saved until a person decides. */
  trouble: Problem | null = null;
  private edits: number;
  private saving: Promise<void> | undefined;
  private timer = 0;
  private failed = 0;
  private closed = false;
  private listeners = new Set<() => void>();

  constructor(
    readonly form: Form<B>,
    private kind: DraftKind,
    public id: number,
    public etag: string,
    /** Names the step in the history that this draft began in. */
    private step: string,
    private onSaved: () => void,
  ) {
    this.edits = form.edits;
  }

  subscribe = (on: () => void) => {
    this.listeners.add(on);
    return () => void this.listeners.delete(on);
  };

  private tell(told = this.told) {
    this.told = told;
    for (const on of [...this.listeners]) on();
  }

  /** Saves from here on; answers how to end it. */
  open() {
    this.closed = false;
    const form = this.form.subscribe(() => this.changed());
    const again = () => this.dirty && this.schedule(0);
    const gone = () => this.dirty && void this.save(true);
    window.addEventListener('online', again);
    heard.addEventListener('answers', again);
    window.addEventListener('pagehide', gone);
    if (this.dirty) this.schedule(pause);
    return () => {
      form();
      window.removeEventListener('online', again);
      heard.removeEventListener('answers', again);
      window.removeEventListener('pagehide', gone);
      clearTimeout(this.timer);
      if (this.dirty && !this.closed) void this.save();
    };
  }

  private get dirty() {
    return this.form.edits !== this.edits;
  }

  private changed() {
    if (this.closed) return;
    if (this.dirty) this.keep();
    if (this.trouble) return;
    if (this.dirty) this.schedule(pause);
    // What is typed and not there yet is never called saved.
    const told = this.dirty || this.form.waits() ? 'saving' : 'saved';
    if (told !== this.told && (this.told === 'saved' || this.told === 'saving')) this.tell(told);
  }

  private schedule(ms: number) {
    clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.save(), ms);
  }

  private async save(goodbye = false): Promise<void> {
    if (this.saving) return this.saving.then(() => (this.dirty && !goodbye ? this.save() : undefined));
    if (!this.dirty || this.closed || this.trouble) return;
    clearTimeout(this.timer);
    this.saving = this.send(goodbye).finally(() => (this.saving = undefined));
    return this.saving;
  }

  private async send(goodbye: boolean) {
    const edits = this.form.edits;
    const body = { kind: this.kind, body: this.form.body as Record<string, unknown> };
    const keepalive = goodbye && JSON.stringify(body).length < mostKeptAlive;
    this.tell('saving');
    try {
      const answer = this.id
        ? await api.PUT('/api/v1/drafts/{id}', {
            params: { path: { id: this.id }, header: { 'If-Match': this.etag } },
            body,
            keepalive,
          })
        : await api.POST('/api/v1/drafts', { body, keepalive });
      this.etag = answer.response.headers.get('ETag') ?? '';
      const begun = !this.id;
      if (!this.id && answer.data) this.id = answer.data.id;
      this.edits = edits;
      this.failed = 0;
      forget(this.slot(0));
      if (this.dirty) this.keep();
      else forget(this.slot());
      if (begun && !this.closed && isHere(this.step))
        window.history.replaceState(window.history.state, '', under(`/papers/drafts/${this.id}`));
      this.tell(this.dirty ? 'saving' : 'saved');
      if (this.dirty && !this.closed) this.schedule(pause);
      this.onSaved();
    } catch (e) {
      this.fail(e instanceof Problem ? e : new Problem(0, 'offline', 'Something went wrong.'));
    }
  }

  private fail(e: Problem) {
    const passing = e.status === 0 || e.status === 401 || e.status === 429 || e.status >= 500;
    this.keep();
    if (passing) this.schedule(pauses[Math.min(this.failed++, pauses.length - 1)]!);
    else this.trouble = e;
    this.tell('not saved yet, kept in this browser');
  }

  /** What to wait for until a draft that is just being begun has its ID; undefined when none is. */
  beginning(): Promise<void> | undefined {
    return this.id ? undefined : this.saving;
  }

  /** Waits until what is on its way is there; answers the draft, ID 0 when there is none. */
  async settle(): Promise<DraftRef> {
    clearTimeout(this.timer);
    while (this.saving) await this.saving;
    return { id: this.id, etag: this.etag };
  }

  /** Saves it at once, so that something can be attached to it; answers its ID. */
  async begun(): Promise<number> {
    if (!this.id && !this.saving) {
      this.edits = -1;
      await this.save();
    }
    const { id } = await this.settle();
    if (!id)
      throw new Problem(0, 'offline', 'The draft is not saved yet, so nothing can be attached to it. Try again in a moment.');
    if (this.dirty) this.schedule(pause);
    return id;
  }

  /** Saves no more: it was posted or thrown away. */
  close() {
    this.closed = true;
    clearTimeout(this.timer);
    forget(this.slot());
    forget(this.slot(0));
  }

  /** Throws it away. It stays where that fails. */
  async discard() {
    const { id } = await this.settle();
    this.closed = true;
    try {
      if (id) await api.DELETE('/api/v1/drafts/{id}', { params: { path: { id } } });
    } catch (e) {
      if (!(e instanceof Problem && (e.status === 410 || e.status === 404))) {
        this.closed = false;
        if (this.dirty) this.schedule(pause);
        throw e;
      }
    }
    this.close();
  }

  /** What is on screen takes the place of what another window saved; or of a draft that is gone. */
  async keepMine() {
    if (this.trouble?.status === 412) {
      const there = await api.GET('/api/v1/drafts/{id}', { params: { path: { id: this.id } } });
      this.etag = there.response.headers.get('ETag') ?? '';
    } else {
      this.id = 0;
      this.etag = '';
    }
    this.trouble = null;
    this.edits = -1;
    await this.save();
  }

  private slot(id = this.id) {
    return id ? `draft:${id}` : `draft:new:${this.step}`;
  }

  private keep() {
    const kept: Kept = { body: this.form.body, etag: this.etag };
    try {
      storeOf(this.id).setItem(this.slot(), JSON.stringify(kept));
    } catch {
      this.tell('not saved yet: keep this page open');
    }
  }
}

/** What was typed into a draft, or into one that is new at a step of the history, and not saved. */
export function keptOf(id: number, step: string): Kept | null {
  try {
    return JSON.parse(storeOf(id).getItem(id ? `draft:${id}` : `draft:new:${step}`) ?? 'null') as Kept | null;
  } catch {
    return null;
  }
}

/** Forgets what was kept of a draft: the other version is taken. */
export function forgetKept(id: number) {
  forget(`draft:${id}`);
}

// A new one is kept for this window alone: another must not find it.
const storeOf = (id: number) => (id ? inBrowser : inTab);

function forget(slot: string) {
  inBrowser.removeItem(slot);
  inTab.removeItem(slot);
}
