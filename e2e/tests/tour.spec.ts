import { expect, test as base, type Page } from '@playwright/test';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { check, signIn, start, stop } from './firm';

// The tour of the README, followed to the letter: its steps are read from there,
// and each is done as it is written.

const readme = readFileSync(join(import.meta.dirname, '../../README.md'), 'utf8');
const steps = [...(readme.split('### The tour')[1] ?? '').split(/\n##? /)[0]!.matchAll(/^\d+\. (.*(?:\n {3}.*)*)/gm)].map((m) => m[1]!.replace(/\n {3}/g, ' '));

const press = (page: Page, key: string) => page.keyboard.press(key);
const type = (page: Page, text: string) => page.keyboard.type(text);
const effect = (page: Page) => page.getByRole('complementary', { name: 'Effect' });
const shows = async (page: Page, ...rows: RegExp[]) => {
  for (const row of rows) await expect(effect(page).getByRole('row', { name: row }).first()).toBeVisible();
};
const posted = (page: Page, what: RegExp) => expect(page.getByRole('heading', { level: 1, name: what })).toBeVisible();
const happened = async (page: Page, words: string) => {
  await press(page, 'w');
  await expect(page.getByRole('combobox', { name: 'What happened?' })).toBeFocused();
  await type(page, words);
  await press(page, 'Enter');
};

/** What a step says in backticks is typed, and in this order. */
const typed = (step: string) => [...step.matchAll(/`([^`]+)`/g)].map((m) => m[1]!);

const does: ((page: Page, words: string[]) => Promise<void>)[] = [
  async (page) => {
    await expect(page.getByRole('heading', { level: 1, name: /^\d+ loose ends$/ })).toBeVisible();
    await expect(page.getByText('all tie out')).toBeVisible();
  },
  async (page, [w, before, enter, name, , , job, , , amount, post]) => {
    expect([w, enter, post]).toEqual(['w', 'Enter', 'Ctrl Enter']);
    await happened(page, before!);
    await expect(page.getByRole('combobox', { name: 'Customer' })).toBeFocused();
    await type(page, name!);
    await expect(page.getByRole('option', { name: `New customer “${name}”` })).toBeVisible();
    await press(page, 'Enter');
    await expect(page.getByRole('dialog', { name: 'New customer' })).toBeVisible();
    await press(page, 'Control+Enter');
    await expect(page.getByRole('combobox', { name: 'Job' })).toBeFocused();
    await type(page, job!);
    await expect(page.getByRole('option', { name: `New job “${job}”` })).toBeVisible();
    await press(page, 'Enter');
    await expect(page.getByRole('dialog', { name: 'New job' })).toBeVisible();
    await press(page, 'Control+Enter');
    await expect(page.getByRole('textbox', { name: 'Amount' })).toBeFocused();
    await type(page, amount!);
    await shows(page, /101 Bank 1,200\.00/, /221 Customer deposits 1,200\.00/);
    await press(page, 'Control+Enter');
    await posted(page, /Deposit D26-/);
  },
  async (page, [, words, , supplier, what, net]) => {
    await page.getByRole('main').getByRole('link', { name: /^job / }).first().click();
    await posted(page, /Garden stair/);
    await happened(page, words!);
    await posted(page, /Expense/);
    await page.getByRole('combobox', { name: 'Supplier' }).fill(supplier!);
    await expect(page.getByRole('option', { name: /Larkfield/ }).first()).toBeVisible();
    await press(page, 'Enter');
    await page.getByRole('textbox', { name: 'What, line 1' }).fill(what!);
    await page.getByRole('combobox', { name: 'Passed on, line 1' }).selectOption('as our own supply');
    await page.getByRole('textbox', { name: 'Net, line 1' }).fill(net!);
    await shows(page, /511 Job costs.* 300\.00/, /101 Bank 360\.00/);
    await press(page, 'Control+Enter');
    await posted(page, /Expense E26-/);
  },
  async (page, [slash, job, , , words, , what, price]) => {
    await press(page, slash!);
    await type(page, job!);
    await expect(page.getByRole('option', { name: /Garden stair/ }).first()).toBeVisible();
    await press(page, 'Enter');
    await posted(page, /Garden stair/);
    await happened(page, words!);
    await posted(page, /Invoice/);
    await page.getByRole('combobox', { name: 'What, line 1' }).fill(what!);
    await page.getByRole('textbox', { name: 'Unit price, line 1' }).fill(price!);
    await page.getByRole('button', { name: /^Crane, half a day/ }).click();
    await page.getByRole('button', { name: /set against it: D26-/ }).first().click();
    await shows(page, /411 .* 330\.00/, /241 Output tax 666\.00/);
    await press(page, 'Control+Enter');
    await posted(page, /Invoice I26-/);
  },
  async (page, [amount]) => {
    await page.getByRole('button', { name: 'Receipt' }).click();
    await page.getByRole('textbox', { name: 'Amount received' }).fill(amount!);
    await page.getByRole('button', { name: 'Take the proposal' }).click();
    await page.getByRole('checkbox', { name: /stays on account/ }).check();
    await shows(page, /101 Bank 2,800\.00/);
    await press(page, 'Control+Enter');
    await posted(page, /Clementine Fogg/);
  },
  async (page, [amount]) => {
    await page.getByRole('region', { name: 'Story' }).getByRole('row', { name: /Garden stair, larch/ }).first().click();
    await page.getByRole('link', { name: /^Open I26-/ }).click();
    await posted(page, /Invoice I26-/);
    await page.getByRole('button', { name: 'Credit', exact: true }).click();
    await page.getByRole('combobox', { name: 'Why is it credited?' }).selectOption('fault');
    await page.getByRole('combobox', { name: 'What of it?' }).selectOption('lines');
    await page.getByRole('textbox', { name: 'Amount of Garden stair, larch' }).fill(amount!);
    await shows(page, /401 .* 100\.00/, /241 Output tax 20\.00/, /120 Trade receivables 120\.00/);
    await press(page, 'Control+Enter');
    await posted(page, /Credit note CN26-/);
    await expect(page.getByText('not used', { exact: true })).toBeVisible();
  },
  async (page) => {
    await page.getByRole('button', { name: 'Refund' }).click();
    await page.getByRole('button', { name: 'Give back' }).first().click();
    await shows(page, /101 Bank 124\.00/);
    await press(page, 'Control+Enter');
    await posted(page, /Refund F26-/);
  },
  async (page) => {
    await page.getByRole('link', { name: 'Clementine Fogg' }).click();
    await posted(page, /Clementine Fogg/);
    await expect(page.locator('dl > div').filter({ hasText: 'Balance' }).locator('dd')).toHaveText('0.00');
    await expect(page.getByRole('region', { name: 'Story' }).getByRole('row').nth(1)).toContainText('0.00');
  },
  async (page, [slash, name, , w, words, , reason, word]) => {
    expect([slash, w]).toEqual(['/', 'w']);
    await press(page, '/');
    await type(page, name!);
    await expect(page.getByRole('option', { name: /Harrow & Finn/ }).first()).toBeVisible();
    await press(page, 'Enter');
    await posted(page, /Harrow & Finn/);
    await happened(page, words!);
    await posted(page, /Write-off/);
    await page.getByRole('button', { name: 'Give up' }).first().click();
    await page.getByRole('textbox', { name: /Why/ }).fill(reason!);
    await shows(page, /120 Trade receivables 1,080\.00/, /241 Output tax 180\.00/);
    await press(page, 'Control+Enter');
    await page.getByLabel(/password/i).fill(word!);
    await press(page, 'Control+Enter');
    await posted(page, /Harrow & Finn/);
    await expect(page.locator('dl > div').filter({ hasText: 'Balance' }).locator('dd')).toHaveText('0.00');
  },
  async (page, [g, l]) => {
    await press(page, g!);
    await press(page, l!);
    await page.getByRole('tab', { name: 'Tie-out' }).click();
    await expect(page.getByText(/all tie out|ties out/i).first()).toBeVisible();
    await press(page, 'g');
    await press(page, 'd');
    await posted(page, /loose ends/);
    await expect(page.getByRole('main').getByText('Clementine Fogg')).toHaveCount(0);
  },
];

base('the tour of the README, to the letter', async ({ page }) => {
  base.setTimeout(240_000);
  page.setDefaultTimeout(20_000);
  expect(steps.length).toBe(does.length);
  const firm = await start(['demo']);
  try {
    await signIn(page, firm.url);
    for (const [n, step] of steps.entries()) await base.step(step, () => does[n]!(page, typed(step)));
  } finally {
    await stop(firm);
    const code = await check(firm);
    rmSync(firm.dir, { recursive: true });
    expect(code).toBe(0);
  }
});
