import type { Page } from '@playwright/test';
import { rmSync } from 'node:fs';
import { check, customer, expect, put, signIn, start, stop, test, type Firm } from './firm';

// Nothing that was typed is lost, and nothing is begun by looking.

const effect = (page: Page) => page.getByRole('complementary', { name: 'Effect' });
const saved = (page: Page) => expect(page.getByText('saved', { exact: true })).toBeVisible();
const draftsOf = async (page: Page, firm: Firm) => ((await (await page.request.get(`${firm.url}/api/v1/drafts`)).json()).rows as { id: number; kind: string }[]).length;

async function throwAway(page: Page) {
  await page.getByRole('button', { name: 'Throw away' }).click();
  await expect(page.getByText('Thrown away.')).toBeVisible();
}

async function held(page: Page, demo: Firm, of: number, amount: string): Promise<number> {
  await put(page, demo, 'deposits', { customer: of, day: '2026-11-03', amount, bank: 1, method: 'transfer' });
  return (await (await page.request.get(`${demo.url}/api/v1/customers/${of}/bench`)).json()).credits[0].id;
}

test('what becomes of a deposit, a transfer, a write-off go on after a reload', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Went On Later');
  const item = await held(page, demo, of, '300.00');
  const invoice = await put(page, demo, 'invoices', { customer: of, day: '2026-11-02', lines: [{ text: 'Stair', unitPrice: '100', taxCode: 1 }] });
  await page.goto(`${demo.url}/papers/new/deposit_split?customer=${of}&credit=${item}`);
  await page.getByRole('checkbox', { name: 'A part is given back' }).check();
  await page.getByRole('textbox', { name: 'Given back' }).fill('50');
  await saved(page);
  await page.reload();
  await expect(page.getByRole('combobox', { name: 'Customer' })).toHaveValue('Went On Later');
  await expect(page.getByRole('combobox', { name: 'Deposit' })).toHaveValue(String(item));
  await expect(page.getByRole('textbox', { name: 'Given back' })).toHaveValue('50');
  await expect(page.getByText('250.00 stays held of 300.00')).toBeVisible();
  await throwAway(page);

  await page.goto(`${demo.url}/papers/new/transfer?customer=${of}&credit=${item}`);
  await page.getByRole('textbox', { name: 'Amount' }).fill('20');
  await saved(page);
  await page.reload();
  await expect(page.getByRole('combobox', { name: 'Customer' }).first()).toHaveValue('Went On Later');
  await expect(page.getByRole('combobox', { name: 'Credit' })).toHaveValue(String(item));
  await expect(page.getByRole('combobox', { name: 'As' })).toHaveValue('deposit'); // it stays what it was
  await throwAway(page);

  await page.goto(`${demo.url}/papers/new/write-off?small=1`);
  await page.getByLabel('Why is it given up?').fill('Not worth a letter');
  await saved(page);
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Small balances' })).toBeVisible();
  await expect(page.getByLabel('Why is it given up?')).toHaveValue('Not worth a letter');
  await throwAway(page);
  expect(invoice.posted.number).toMatch(/^I26-/);
});

test('looking begins nothing; the same loose end goes on with the same draft', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Only Looked At');
  const item = await held(page, demo, of, '80.00');
  const before = await draftsOf(page, demo);
  const refund = `${demo.url}/papers/new/refund?customer=${of}&credit=${item}`;
  for (let i = 0; i < 2; i++) {
    await page.goto(refund);
    await expect(effect(page).getByRole('row', { name: /221 Customer deposits 80\.00/ })).toBeVisible();
    await page.keyboard.press('Escape');
    await page.keyboard.press('Escape');
    await expect(page.getByRole('heading', { level: 1, name: 'Papers' })).toBeVisible(); // from an address, not out of the program
  }
  expect(await draftsOf(page, demo)).toBe(before);
  await page.goto(refund);
  await page.getByRole('textbox', { name: 'Reference' }).fill('as agreed');
  await saved(page);
  await page.goto(`${demo.url}/desk`);
  await page.goto(refund);
  await expect(page.getByRole('textbox', { name: 'Reference' })).toHaveValue('as agreed');
  expect(await draftsOf(page, demo)).toBe(before + 1);
  // The money goes elsewhere meanwhile: the draft says so, and offers to go.
  await put(page, demo, 'transfers?confirmed=another%20month', { from: item, amount: '80.00', customer: of, day: '2026-11-20', asDeposit: false });
  await page.reload();
  await expect(page.getByText('What this draft is about is settled meanwhile')).toBeVisible();
  await page.getByRole('button', { name: 'Throw it away' }).click();
  await expect(page.getByText('Thrown away.')).toBeVisible();
  expect(await draftsOf(page, demo)).toBe(before);
});

test('what was typed for one customer does not come to the next', async ({ page, demo }) => {
  const [one, two] = [await customer(page, demo, 'First Of Two'), await customer(page, demo, 'Second Of Two')];
  await page.goto(`${demo.url}/papers/new/deposit?customer=${one}`);
  await page.route('**/api/v1/drafts', (route) => route.abort());
  await page.getByRole('textbox', { name: 'Note' }).fill('for the first alone');
  await expect(page.getByText('not saved yet, kept in this browser')).toBeVisible();
  await page.goto(`${demo.url}/papers/new/deposit?customer=${two}`);
  await expect(page.getByRole('combobox', { name: 'Customer' })).toHaveValue('Second Of Two');
  await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('');
  await page.goBack();
  await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('for the first alone');
  await page.unroute('**/api/v1/drafts');
  await saved(page); // by itself
  await throwAway(page);
});

test('what was typed while a save was on its way survives the next save that fails', async ({ page, demo }) => {
  await page.goto(`${demo.url}/papers/new/deposit?customer=3`);
  await page.getByRole('textbox', { name: 'Note' }).fill('one');
  await saved(page);
  let release = () => {};
  const on = new Promise<void>((resolve) => (release = resolve));
  let puts = 0;
  let sick = true;
  await page.route('**/api/v1/drafts/*', async (route) => {
    if (route.request().method() !== 'PUT') return route.continue();
    if (puts++ === 0) {
      await on;
      return route.continue();
    }
    return sick ? route.fulfill({ status: 500, body: '{}' }) : route.continue();
  });
  await page.getByRole('textbox', { name: 'Note' }).fill('one two');
  await expect.poll(() => puts).toBe(1);
  await page.getByRole('textbox', { name: 'Note' }).fill('one two three');
  release();
  await expect(page.getByText('not saved yet, kept in this browser')).toBeVisible();
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('one two three');
  sick = false;
  await expect.poll(async () => (await (await page.request.get(page.url().replace('/papers/', '/api/v1/'))).json()).body.note).toBe('one two three');
  await page.unroute('**/api/v1/drafts/*');
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('one two three');
  // Throwing away that fails says so, and the draft stays.
  await page.route('**/api/v1/drafts/*', (route) => (route.request().method() === 'DELETE' ? route.fulfill({ status: 500, body: '{}' }) : route.continue()));
  await page.getByRole('button', { name: 'Throw away' }).click();
  await expect(page.getByRole('alert')).toContainText('It is not thrown away.');
  await expect(page.getByRole('textbox', { name: 'Note' })).toHaveValue('one two three');
  await page.unroute('**/api/v1/drafts/*');
  await throwAway(page);
});

test('a draft of more than 64 KB is saved, also on the way out', async ({ page, demo }) => {
  await page.goto(`${demo.url}/papers/new/invoice?customer=3`);
  await page.getByRole('combobox', { name: 'What, line 1' }).focus();
  const rows = Array.from({ length: 300 }, (_, n) => `Line ${n} ${'with a long text '.repeat(16)}\t1\t${n + 1}`).join('\n');
  await page.evaluate((text) => {
    const data = new DataTransfer();
    data.setData('text/plain', text);
    document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, rows);
  await expect(page.getByText('300 lines are pasted.')).toBeVisible();
  await saved(page);
  await page.getByRole('textbox', { name: 'Reference' }).fill('typed last');
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'Reference' })).toHaveValue('typed last');
  await expect(page.getByRole('table', { name: 'Lines' })).toHaveAttribute('aria-rowcount', '302');
  await throwAway(page);
});

test('the program goes away and comes back: what is on screen stays, and it goes on by itself', async ({ page }) => {
  let firm = await start(['demo']);
  // A part of the program that a newer version no longer has.
  await page.route('**/assets/CustomerList*.js', (route) => route.fulfill({ status: 404, body: '' }));
  await signIn(page, firm.url);
  await page.goto(`${firm.url}/papers/new/deposit?customer=3`);
  await page.getByRole('textbox', { name: 'Amount' }).fill('40');
  await saved(page);
  await stop(firm);
  await page.getByRole('textbox', { name: 'Note' }).fill('typed while it was away');
  await expect(page.getByText('The program does not answer. What is here stays')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'Not posted' })).toBeVisible();
  // A page that is there stays; one that was never read says what it waits for.
  const list = page.getByRole('link', { name: 'Customers' });
  firm = await start(['demo'], firm.dir, new URL(firm.url).host);
  await expect(page.getByText('The program does not answer. What is here stays')).toBeHidden();
  await saved(page);
  await expect(effect(page).getByText('nothing written yet')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Deposit D26-/ })).toBeVisible();
  await expect(page.getByText('typed while it was away')).toBeVisible();
  await list.click();
  await expect(page.getByRole('heading', { name: 'The program was renewed' })).toBeVisible();
  await page.unroute('**/assets/CustomerList*.js');
  await page.getByRole('button', { name: 'Load again' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Customers' })).toBeVisible();
  await stop(firm);
  expect(await check(firm)).toBe(0);
  rmSync(firm.dir, { recursive: true });
});
