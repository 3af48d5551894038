import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from './firm';

const to = join(import.meta.dirname, '../../docs/screenshots');

// One current picture of each main view, from the demo data: make shots.
test('pictures of the main views', async ({ page, demo }) => {
  test.setTimeout(120_000);
  mkdirSync(to, { recursive: true });
  await page.emulateMedia({ reducedMotion: 'reduce' });
  const shot = async (name: string) => {
    await page.waitForLoadState('networkidle');
    await page.evaluate(() => document.fonts.ready);
    await page.waitForTimeout(250); // for the Effect, which follows the typing
    await page.screenshot({ path: join(to, `${name}.png`) });
  };
  const open = async (path: string) => {
    await page.goto(demo.url + path);
    await expect(page.locator('h1').first()).toBeVisible();
  };
  const discard = async () => {
    await page.getByRole('button', { name: 'Throw away' }).click();
    await expect(page.getByRole('button', { name: 'Throw away' })).toHaveCount(0);
  };
  await open('/desk');
  await shot('desk');
  await page.keyboard.press('w');
  await page.keyboard.type('paid be');
  await shot('what-happened');
  await open('/customers');
  await shot('customers');
  await open('/customers/1');
  for (const [owed, credit] of [[0, 'Receipt on account'], [0, 'Deposit for job 212']] as const) {
    await page.locator('[data-card][data-side=owed]').nth(owed).click();
    await page.locator('[data-card][data-side=credit]', { hasText: credit }).first().click();
  }
  await shot('customer');
  await open('/customers/1/statement?from=2026-01-01');
  await shot('statement');
  await open('/jobs/9');
  await shot('job');
  await open('/papers');
  await shot('papers');
  await open('/papers/new/invoice?customer=1&job=17');
  const line = async (n: number, what: string, quantity: string, price: string) => {
    await page.getByRole('combobox', { name: `What, line ${n}` }).fill(what);
    await page.getByRole('textbox', { name: `Quantity, line ${n}` }).fill(quantity);
    await page.getByRole('textbox', { name: `Unit price, line ${n}` }).fill(price);
  };
  await line(1, 'Second oiling, after six weeks', '1', '310');
  await line(2, 'Turned balusters, oak', '4', '25');
  await page.getByRole('textbox', { name: 'Less, line 2' }).fill('10');
  await page.getByRole('button', { name: /set against it: D26-/ }).first().click();
  await shot('invoice');
  await discard();
  await open('/papers/new/deposit?customer=12');
  await page.getByRole('textbox', { name: 'Amount' }).fill('1500');
  await shot('deposit');
  await discard();
  await open('/papers/new/receipt?customer=13');
  await page.getByRole('textbox', { name: 'Arrived' }).fill('940.80');
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await shot('receipt');
  await discard();
  await open('/papers/new/deposit_split?customer=15&credit=99');
  await page.getByRole('checkbox', { name: 'A part is given back' }).check();
  await page.getByRole('textbox', { name: 'Given back' }).fill('1500');
  await page.getByRole('checkbox', { name: 'A part is kept for good' }).check();
  await page.getByRole('textbox', { name: 'Kept', exact: true }).fill('600');
  await shot('split');
  await discard();
  await open('/ledger/deposits?all=true');
  await shot('deposits');
  await open('/ledger/expected');
  await shot('expected');
  await open('/papers?kind=invoice&state=settled');
  await page.getByRole('row').nth(3).click();
  await shot('paper');
  await open('/ledger/accounts');
  await shot('trial-balance');
  await open('/ledger/ageing');
  await shot('ageing');
  await open('/ledger/tie-out?asOf=2026-08-31');
  await shot('tie-out');
  await page.getByRole('button', { name: 'Back to today' }).click();
  await open('/setup/accounts');
  await shot('setup');
  await page.emulateMedia({ colorScheme: 'dark' });
  await open('/desk');
  await shot('desk-by-night');
});
