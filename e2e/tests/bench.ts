import type { Page } from '@playwright/test';
import { customer, expect, test } from './firm';

// What a typist feels, measured in one run beside what this machine needs for
// nothing: an empty page, one request. Printed by make bench-ui.

const middle = (all: number[]) => [...all].sort((a, b) => a - b)[Math.floor(all.length / 2)]!;

/** From a key to the change that it makes in the Effect, in the page itself. */
const keyToEffect = (page: Page, field: string, value: string) =>
  page.evaluate(
    ([field, value]) => {
      const input = document.querySelector<HTMLInputElement>(`[data-field="${field}"] input`)!;
      const table = () => document.querySelector('aside .inside table')?.textContent;
      const was = table();
      const aside = document.querySelector('aside .inside')!;
      return new Promise<number>((resolve) => {
        const begun = performance.now();
        const seen = new MutationObserver(() => {
          if (table() === was) return;
          seen.disconnect();
          resolve(Math.round(performance.now() - begun));
        });
        seen.observe(aside, { subtree: true, childList: true, characterData: true });
        Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!.call(input, value);
        input.dispatchEvent(new Event('input', { bubbles: true }));
      });
    },
    [field, value] as const,
  );

/** The longest task of the page's thread since it was watched, in ms; 50 and less are not told. */
const watchTasks = (page: Page) =>
  page.evaluate(() => {
    const w = window as unknown as { longest: number };
    w.longest = 0;
    new PerformanceObserver((list) => {
      for (const e of list.getEntries()) w.longest = Math.max(w.longest, Math.round(e.duration));
    }).observe({ type: 'longtask' });
  });

test('what a typist feels', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Measured');
  const told: string[] = [];
  for (const lines of [5, 200]) {
    const body = { customer: of, day: '2026-11-20', lines: Array.from({ length: lines }, (_, n) => ({ text: `Line ${n}`, quantity: '2', unitPrice: `${n + 1}.50`, taxCode: 1 })) };
    const requests: number[] = [];
    for (let i = 0; i < 7; i++) {
      const begun = performance.now();
      await page.request.post(`${demo.url}/api/v1/invoices?preview=true`, { data: body });
      requests.push(Math.round(performance.now() - begun));
    }
    const draft = await (await page.request.post(`${demo.url}/api/v1/drafts`, { data: { kind: 'invoice', body } })).json();
    await page.goto(`${demo.url}/papers/drafts/${draft.id}`);
    await expect(page.getByRole('complementary', { name: 'Effect' }).getByText('balances')).toBeVisible();
    await page.locator('[data-line="3"]').click({ position: { x: 20, y: 10 } });
    await expect(page.getByRole('combobox', { name: 'What, line 4' })).toBeFocused();
    await watchTasks(page);
    await page.keyboard.type('The long text of a line, forty characters');
    await expect(page.getByText('saved', { exact: true })).toBeVisible();
    const longest = await page.evaluate(() => (window as unknown as { longest: number }).longest);
    const effects: number[] = [];
    for (let i = 0; i < 7; i++) {
      effects.push(await keyToEffect(page, 'lines[3].unitPrice', `${30 + i}.00`));
      await expect(page.getByText('saved', { exact: true })).toBeVisible();
    }
    const begun = performance.now();
    await page.keyboard.press('Control+Enter');
    await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
    const posted = Math.round(performance.now() - begun);
    told.push(
      `${lines} lines: key to Effect ${middle(effects)} ms (one preview ${middle(requests)} ms), longest task while typing ${longest || 'under 50'} ms, Ctrl+Enter to the paper ${posted} ms`,
    );
  }
  const cold = async (path: string, there: () => Promise<void>) => {
    const begun = performance.now();
    await page.goto(demo.url + path);
    await there();
    return Math.round(performance.now() - begun);
  };
  const nothing: number[] = [];
  const desks: number[] = [];
  const client = await page.context().newCDPSession(page);
  for (let i = 0; i < 3; i++) {
    await client.send('Network.clearBrowserCache');
    nothing.push(await cold('/healthz', async () => {}));
    await client.send('Network.clearBrowserCache');
    desks.push(await cold('/desk', () => expect(page.getByRole('heading', { name: /loose ends/ })).toBeVisible()));
  }
  told.push(`the Desk cold ${middle(desks)} ms (an empty page ${middle(nothing)} ms)`);
  console.log(told.join('\n'));
});
