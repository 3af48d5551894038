import type { Page } from '@playwright/test';
import { check, customer, expect, expectAccessible, put, test, type Firm } from './firm';

// Customers abroad: billed in another currency, paid at other rates and into other accounts.

const effect = (page: Page) => page.getByRole('complementary', { name: 'Effect' });
const row = (page: Page, name: string | RegExp) => effect(page).getByRole('row', { name });
const post = (page: Page) => page.keyboard.press('Control+Enter');
const confirmed = '?confirmed=long%20past&confirmed=in%20the%20future';

async function inDollars(page: Page, demo: Firm, of: number, price: string): Promise<string> {
  const lines = [{ text: 'Stair, crated', quantity: '1', unitPrice: price, taxCode: 3 }];
  return (await put(page, demo, `invoices${confirmed}`, { customer: of, day: '2026-11-03', currency: 'USD', rate: '0.9', lines })).posted.number;
}

test('an invoice in dollars is paid in two parts at other rates', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Paid In Two Parts', { currency: 'USD' });
  await page.goto(`${demo.url}/papers/new/invoice?customer=${of}`);
  // The customer's currency, the day's rate and its age stand there.
  await expect(page.getByLabel('Currency')).toHaveValue('USD');
  await expect(page.getByRole('textbox', { name: 'Rate of USD' })).toHaveValue('0.9192');
  await expect(page.getByText('of 16 Nov 2026, 4 days old')).toBeVisible();
  await page.getByLabel('What, line 1').fill('Landing rail');
  await page.getByLabel('Unit price, line 1').fill('1000');
  await expect(page.getByText('USD 1,200.00 = EUR 1,103.04, of it tax 183.84')).toBeVisible();
  await page.getByRole('textbox', { name: 'Rate of USD' }).fill('0');
  await expect(effect(page).getByText('A rate is above nil', { exact: false })).toBeVisible();
  await page.getByRole('textbox', { name: 'Rate of USD' }).fill('0.92');
  await expect(page.getByText('USD 1,200.00 = EUR 1,104.00, of it tax 184.00')).toBeVisible();
  await expect(row(page, '120 Trade receivables 1,104.00')).toContainText('USD 1,200.00');
  await post(page);
  await expect(page.getByRole('heading', { name: /^Invoice I26-/ })).toBeVisible();
  await expect(page.getByText('USD 1,200.00 at 0.9200: EUR 1,104.00')).toBeVisible();
  await expect(page.getByText('Tax in EUR: 184.00', { exact: false })).toBeVisible();
  // Half of it comes at 0.91, which loses, the rest at 0.94, which gains.
  for (const [rate, worth, exchange] of [['0.91', '546.00', /691 Exchange differences 6\.00$/], ['0.94', '564.00', /691 Exchange differences 12\.00$/]] as const) {
    await page.goto(`${demo.url}/papers/new/receipt?customer=${of}`);
    await page.getByRole('textbox', { name: 'Amount received, USD' }).fill('600');
    await page.getByRole('textbox', { name: 'Rate of USD' }).fill(rate);
    await page.getByRole('button', { name: 'Take the proposal' }).click();
    await expect(row(page, `103 Dollar account ${worth}`)).toBeVisible();
    await expect(row(page, exchange)).toBeVisible();
    await post(page);
    await expect(page.getByRole('heading', { name: 'Paid In Two Parts' })).toBeVisible();
  }
  // Nothing is left open in dollars, nor of what it was worth.
  await expect(page.getByRole('table', { name: 'By currency' })).toBeHidden();
  await expect(page.locator('dl > div').filter({ hasText: 'Balance' }).locator('dd')).toHaveText('0.00');
  expect(await check(demo)).toBe(0);
});

test('one receipt in euros settles two invoices in dollars, with a fee and too much', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Pays In Euros', { currency: 'USD' });
  const [first, second] = [await inDollars(page, demo, of, '1000'), await inDollars(page, demo, of, '500')];
  await page.goto(`${demo.url}/papers/new/receipt?customer=${of}`);
  // The account is one in dollars until another is chosen.
  await expect(page.getByRole('textbox', { name: 'Rate of USD' })).toBeVisible();
  await page.getByLabel('Into').selectOption({ label: 'Bank' });
  await expect(page.getByRole('textbox', { name: 'Rate of USD' })).toBeHidden();
  await page.getByRole('textbox', { name: 'Amount received' }).fill('1490');
  await page.getByRole('textbox', { name: 'Bank charges taken off' }).fill('10');
  for (const [number, own, takes] of [[first, '1000', '905'], [second, '500', '450']] as const) {
    await page.getByRole('row', { name: new RegExp(number) }).getByRole('button', { name: 'Set against' }).click();
    // What it takes of the money is asked for, and nothing is guessed.
    await expect(effect(page).getByText(/says? both|both amounts|how much/i).first()).toBeVisible();
    await page.getByRole('textbox', { name: `Set against ${number}` }).fill(own);
    await page.getByRole('textbox', { name: `Out of the money for ${number}, EUR` }).fill(takes);
  }
  await page.getByLabel('What is set against nothing stays on account').check();
  await expect(page.getByText('145.00 on account')).toBeVisible();
  await expect(row(page, `${second} open USD500.00 USD0.00`)).toBeVisible();
  await post(page);
  const table = page.getByRole('table', { name: 'By currency' });
  await expect(table.getByRole('row', { name: /^EUR .* 145\.00 −145\.00 −145\.00$/ })).toBeVisible();
  await expect(table.getByRole('row', { name: /^USD/ })).toBeHidden();
  expect(await check(demo)).toBe(0);
});

test('the month end is revalued and taken back', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Open At The End', { currency: 'USD' });
  const number = await inDollars(page, demo, of, '1000');
  await page.goto(`${demo.url}/ledger/exchange?day=2026-11-18`);
  const open = page.getByRole('table', { name: 'Open in other currencies' });
  await expect(open.getByRole('row', { name: new RegExp(`${number} invoice Open At The End USD1,000.00 900.00 919.20 19.20`) })).toBeVisible();
  await page.getByRole('textbox', { name: 'Rate of USD' }).fill('0.95');
  await expect(effect(page).getByRole('row', { name: /138 Currency revaluation 50\.00/ }).first()).toBeVisible();
  await expect(effect(page).getByText('balances')).toBeVisible();
  await expectAccessible(page);
  await post(page);
  const by = page.getByText(/^Revalued by RV26-/);
  await expect(by).toBeVisible();
  await expect(page.getByRole('button', { name: 'Revalue' })).toBeHidden();
  // The paper says both: the day, and the next one, on which it is taken back.
  await by.getByRole('link').click();
  await expect(page.getByRole('complementary').getByText(/18 Nov 2026/).first()).toBeVisible();
  await expect(page.getByRole('complementary').getByText(/19 Nov 2026/).first()).toBeVisible();
  await page.goto(`${demo.url}/ledger/closing?through=2026-10-31`);
  await expect(page.getByRole('table', { name: 'Before the period is closed' }).getByRole('row', { name: /Other currencies/ })).toBeVisible();
  expect(await check(demo)).toBe(0);
});

test('a currency is taken into use, its rates are said and read, and a statement is in it', async ({ page, demo }) => {
  await page.goto(`${demo.url}/setup/currencies`);
  await page.getByRole('button', { name: 'New currency' }).click();
  await page.getByLabel('Code, as USD').fill('YEN');
  await post(page);
  await expect(page.getByRole('dialog').getByText(/YEN/).first()).toBeVisible();
  await page.getByLabel('Code, as USD').fill('JPY');
  await post(page);
  await expect(page.getByRole('row', { name: 'JPY none yet yes' })).toBeVisible();
  await page.getByLabel('Currency', { exact: true }).selectOption('JPY');
  await page.getByRole('button', { name: 'Say a rate' }).click();
  await page.getByRole('textbox', { name: 'Rate: 1 JPY in EUR' }).fill('1/163.9');
  await expect(page.getByText('= 0.00610128')).toBeVisible();
  await post(page);
  await expect(page.getByRole('row', { name: /20 Nov 2026 0\.00610128 by hand/ })).toBeVisible();
  // A file is looked at first.
  const rates = 'Currency;Date;Rate\nJPY;2026-11-19;0.0062\nCHF;2026-11-19;1.05\n';
  await page.locator('input[type=file]').setInputFiles({ name: 'rates.csv', mimeType: 'text/csv', buffer: Buffer.from(rates) });
  await expect(page.getByText('1 new, 1 of currencies that are not in use, left out.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Take them' }).click();
  await expect(page.getByRole('row', { name: /19 Nov 2026 0\.0062 rates\.csv/ })).toBeVisible();
  // The customer is billed in yen: nothing stands behind a point.
  const of = await customer(page, demo, 'Statement In Yen', { currency: 'JPY' });
  await page.goto(`${demo.url}/papers/new/invoice?customer=${of}`);
  await page.getByLabel('What, line 1').fill('Model of a stair');
  await page.getByLabel('Unit price, line 1').fill('100000');
  await expect(page.getByText('JPY 120,000 = EUR 732.15, of it tax 122.03')).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /^Invoice I26-/ })).toBeVisible();
  await page.goto(`${demo.url}/customers/${of}/statement`);
  await expect(page.getByText('All amounts in JPY')).toBeVisible();
  await expect(page.getByRole('row', { name: /Balance 120,000$/ })).toBeVisible();
  expect(await check(demo)).toBe(0);
});

test('an article costs what it costs in the currency of the paper, and nothing is guessed', async ({ page, demo }) => {
  await page.goto(`${demo.url}/setup/articles`);
  await page.getByRole('row', { name: /Turned baluster, oak/ }).click();
  await page.getByLabel('Price in USD').fill('31');
  await post(page);
  await expect(page.getByRole('dialog')).toBeHidden();
  for (const [find, name, price] of [
    ['turned bal', /Turned baluster/, '31.00'],
    ['square bal', /Square baluster/, ''],
  ] as const) {
    const of = await customer(page, demo, `Abroad, ${find}`, { currency: 'USD' });
    await page.goto(`${demo.url}/papers/new/invoice?customer=${of}`);
    await expect(page.getByLabel('Currency')).toHaveValue('USD');
    await page.getByLabel('What, line 1').fill(find);
    await page.getByRole('option', { name }).click();
    await expect(page.getByLabel('What, line 1')).toHaveValue(name);
    await expect(page.getByLabel('Unit price, line 1')).toHaveValue(price);
  }
});

test('a contract in dollars is claimed by its plan, and its money expected in dollars', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Claims In Dollars', { currency: 'USD' });
  const stages = [{ name: 'On order', percent: '30', day: '2026-11-20' }, { name: 'On site', percent: '70', day: '2026-12-11' }];
  const job = (await put(page, demo, 'jobs', { customer: of, name: 'Stair over the crossing', stages })).id;
  const lines = [{ text: 'Stair over the crossing', unitPrice: '20000', taxCode: 3 }];
  await put(page, demo, `orders${confirmed}`, { customer: of, job, day: '2026-11-02', rate: '0.90', lines });
  await page.goto(`${demo.url}/jobs/${job}`);
  await expect(page.getByRole('row', { name: /Stair over the crossing USD20,000\.00 USD20,000\.00/ })).toBeVisible();
  await page.getByRole('row', { name: /On order.* 30 % USD6,000\.00 to be billed now/ }).getByRole('link', { name: 'Bill it' }).click();
  await expect(page.getByRole('textbox', { name: 'Rate of USD' })).toHaveValue('0.9192');
  await expect(page.getByText('USD 6,000.00 = EUR 5,515.20')).toBeVisible();
  await page.getByRole('textbox', { name: 'Rate of USD' }).fill('0.92');
  await expect(row(page, '120 Trade receivables 5,520.00')).toContainText('USD 6,000.00');
  await expectAccessible(page);
  await post(page);
  await expect(page.getByRole('heading', { name: /^Stage invoice I26-|^Invoice I26-/ })).toBeVisible();
  await page.goto(`${demo.url}/jobs/${job}`);
  await expect(page.getByRole('row', { name: /On order.* USD6,000\.00 billed/ })).toBeVisible();
  // The rest is expected on its day with the firm's usual tax, by the customer's terms, in dollars alone and in all.
  await page.goto(`${demo.url}/ledger/expected`);
  await page.getByLabel('In', { exact: true }).selectOption('USD');
  await expect(page.getByText('In bank and till, USD')).toBeVisible();
  await page.getByRole('button', { name: '8 Jan 2027 to 14 Jan 2027' }).click();
  await expect(page.getByRole('row', { name: /On site billing plan, Claims In Dollars 16,800\.00/ })).toBeVisible();
  await expectAccessible(page);
  await page.getByLabel('In', { exact: true }).selectOption('');
  await expect(page.getByRole('row', { name: /On site billing plan, Claims In Dollars.*USD16,800\.00/ })).toBeVisible();
  await page.goto(`${demo.url}/ledger/tie-out`);
  await expect(page.getByRole('row', { name: /of it in USD receivables USD.* ties out/ })).toBeVisible();
});

test('what a supplier abroad is ordered from comes, is billed and paid in its currency', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Crossing Ironmongers', { supplier: true, noCustomer: true, currency: 'USD' });
  await page.goto(`${demo.url}/papers/new/purchase_order?customer=${of}`);
  await expect(page.getByLabel('Currency')).toHaveValue('USD');
  await page.getByRole('textbox', { name: 'What, line 1' }).fill('Brackets');
  await page.getByRole('combobox', { name: 'Account, line 1' }).fill('511');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Net, line 1' }).fill('750');
  await page.getByRole('combobox', { name: 'Tax, line 1' }).selectOption({ label: 'Nil 0 %' });
  await expect(page.getByText('USD 750.00 = EUR 689.40')).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /^Purchase order PO26-/ })).toBeVisible();
  await page.getByRole('button', { name: 'They billed it' }).click();
  await expect(page.getByLabel('Currency')).toHaveValue('USD');
  await page.getByRole('textbox', { name: 'Their number' }).fill('CI 9');
  await page.getByRole('textbox', { name: 'Rate of USD' }).fill('0.93');
  await expect(row(page, '201 Trade payables 697.50')).toContainText('USD 750.00');
  await expectAccessible(page);
  await post(page);
  await expect(page.getByRole('heading', { name: /^Supplier bill B26-/ })).toBeVisible();
  await page.getByRole('button', { name: 'Pay', exact: true }).click();
  await page.getByLabel('Out of', { exact: true }).selectOption({ label: 'Dollar account, USD' });
  await expect(row(page, /we owe USD750\.00 USD0\.00/)).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /^Supplier payment P26-/ })).toBeVisible();
  expect(await check(demo)).toBe(0);
});

test('what the bank took on the account in dollars is entered in dollars', async ({ page, demo }) => {
  await put(page, demo, 'banks/5/typed', { lines: [{ day: '2026-11-20', amount: '-12.50', text: 'ACCOUNT FEE' }] });
  await page.goto(`${demo.url}/bank/5`);
  await page.getByRole('row', { name: /ACCOUNT FEE/ }).focus();
  await page.keyboard.press('h');
  await expect(page.getByRole('textbox', { name: 'Rate of USD' })).toHaveValue('0.9192');
  await expect(row(page, '621 Bank charges 11.49')).toContainText('USD 12.50');
  await expect(row(page, /^103 Dollar account/).first()).toContainText('USD 12.50');
  await expectAccessible(page);
  await post(page);
  await expect(page.getByRole('row', { name: /ACCOUNT FEE/ })).toHaveCount(0);
  expect(await check(demo)).toBe(0);
});
