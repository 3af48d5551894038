import { test as base, expect, request, type Cookie, type Locator, type Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const program = join(import.meta.dirname, '../../bin/cleantally');
const axeSource = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** A served firm of its own. */
export interface Firm {
  url: string;
  dir: string;
  child: ChildProcess;
}

/** Starts the program on a free port and waits for its address. */
export async function start(args: string[], dir?: string, addr = '127.0.0.1:0'): Promise<Firm> {
  const data = dir ?? mkdtempSync(join(tmpdir(), 'cleantally-e2e-'));
  const child = spawn(program, [...args, '--data', data, '--addr', addr], { stdio: ['ignore', 'pipe', 'pipe'] });
  const url = await new Promise<string>((resolve, reject) => {
    let said = '';
    child.stdout!.on('data', (d) => {
      said += d;
      const found = /http:\/\/\S+/.exec(said);
      if (found) resolve(found[0]);
    });
    child.on('exit', () => reject(new Error(`the program ended: ${said}`)));
  });
  return { url, dir: data, child };
}

export async function stop(firm: Firm) {
  const ended = new Promise((resolve) => firm.child.on('exit', resolve));
  firm.child.kill('SIGTERM');
  await ended;
}

/** What `cleantally check` answers of a firm's books: its exit code. */
export async function check(firm: Firm): Promise<number | null> {
  return new Promise((resolve) => spawn(program, ['check', '--data', firm.dir]).on('exit', resolve));
}

/** Signs in without the form: the session goes to every page of the context. */
export async function session(url: string, email = 'office@sparrow-winder.example', password = 'winding stairs'): Promise<Cookie[]> {
  const client = await request.newContext({ baseURL: url });
  const answer = await client.post('/api/v1/session', { data: { email, password } });
  expect(answer.ok()).toBe(true);
  const { cookies } = await client.storageState();
  await client.dispose();
  return cookies;
}

/** Puts something into the books through the API, as what went before. */
export async function put(page: Page, firm: Firm, path: string, body: object) {
  const answer = await page.request.post(`${firm.url}/api/v1/${path}`, { data: body });
  expect(answer.ok(), await answer.text()).toBe(true);
  return answer.json();
}

/** Reads something through the API. */
export const get = async (page: Page, firm: Firm, path: string) => (await page.request.get(`${firm.url}/api/v1/${path}`)).json();

export const customer = async (page: Page, firm: Firm, name: string, more: object = {}): Promise<number> => (await put(page, firm, 'customers', { name, ...more })).id;

/** Presses two keys after one another, again where the machine took longer between them than a hand does. */
export async function twoKeys(page: Page, first: string, second: string, there: Locator) {
  await expect(async () => {
    if (await there.isVisible()) return;
    await page.keyboard.press(first);
    await page.keyboard.press(second);
    await expect(there).toBeVisible({ timeout: 3000 });
  }).toPass();
}

/** Answers of the API come so late, in milliseconds. */
export async function delay(page: Page, ms: number | (() => number), of: string | RegExp = '**/api/v1/**') {
  await page.route(of, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, typeof ms === 'number' ? ms : ms()));
    await route.continue().catch(() => undefined); // the page may be gone
  });
}

export async function signIn(page: Page, url: string) {
  await page.goto(url);
  await page.getByLabel('E-mail').fill('office@sparrow-winder.example');
  await page.getByLabel('Password').fill('winding stairs');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
}

/** Fails when axe finds anything on the page; or anything against one rule. */
export async function expectAccessible(page: Page, only?: string) {
  // What is of before is dimmed until the answer is there; behind a dialog nobody reads it.
  await expect(page.locator('[data-behind]:not([aria-hidden="true"] *)')).toHaveCount(0);
  await page.evaluate(() => Promise.allSettled(document.getAnimations().map((a) => (a instanceof CSSTransition ? a.finished : undefined))));
  await page.evaluate(axeSource);
  const found = await page.evaluate(async (only) => {
    const axe = (window as unknown as { axe: { run: (o: object) => Promise<{ violations: { id: string; nodes: { html: string; failureSummary: string }[] }[] }> } }).axe;
    const result = await axe.run({ runOnly: only ? { type: 'rule', values: [only] } : ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] });
    return result.violations.map((v) => `${v.id}: ${v.nodes.map((n) => `${n.html} ${n.failureSummary}`).join('\n')}`);
  }, only);
  expect(found).toEqual([]);
}

/** The demo firm, told anew for each worker; tests use customers of their own. */
export const test = base.extend<{ demo: Firm }, { worker: Firm & { cookies: Cookie[] } }>({
  worker: [
    // eslint-disable-next-line no-empty-pattern
    async ({}, use) => {
      const firm = await start(['demo']);
      await use({ ...firm, cookies: await session(firm.url) });
      await stop(firm);
      const code = await check(firm);
      rmSync(firm.dir, { recursive: true });
      if (code !== 0) throw new Error('the books do not tie out after the tests');
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  demo: async ({ worker, page }, use) => {
    const trouble: string[] = [];
    page.on('pageerror', (e) => trouble.push(e.message));
    page.on('console', (m) => m.text().includes('Content Security Policy') && trouble.push(m.text()));
    // SLOW=400: answers come up to so many milliseconds late, as on a busy machine.
    // What waits for the wrong thing then fails here, and not on some other day.
    const slow = Number(process.env.SLOW ?? 0);
    if (slow) await delay(page, () => Math.random() * slow);
    await page.context().addCookies(worker.cookies);
    await page.goto(worker.url);
    await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
    await use(worker);
    expect(trouble).toEqual([]);
  },
});

export { expect };
