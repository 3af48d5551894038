import type { Page } from '@playwright/test';
import { customer, expect, put, test, type Firm } from './firm';

// What the bookkeeper does when money comes, waits, goes back or is given up:
// each told as it happens, with what went before put in through the API.

const effect = (page: Page) => page.getByRole('complementary', { name: 'Effect' });
const row = (page: Page, name: string | RegExp) => effect(page).getByRole('row', { name });
const figure = (page: Page, name: string) => page.locator('dl > div').filter({ hasText: name }).locator('dd');
const post = (page: Page) => page.keyboard.press('Control+Enter');

async function invoice(page: Page, demo: Firm, of: number, net: string, more: object = {}): Promise<string> {
  const lines = [{ text: 'Stair, made and fitted', quantity: '1', unitPrice: net, taxCode: 1 }];
  return (await put(page, demo, 'invoices?confirmed=long%20past&confirmed=in%20the%20future', { customer: of, day: '2026-11-02', lines, ...more })).posted.number;
}

test('two deposits and a balance', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Two Deposits');
  for (const amount of ['1000', '700']) {
    await page.goto(`${demo.url}/papers/new/deposit?customer=${of}`);
    await page.getByRole('textbox', { name: 'Amount' }).fill(amount);
    await expect(row(page, /held 0\.00/)).toBeVisible();
    await post(page);
    await expect(page.getByRole('heading', { name: /Deposit D26-/ })).toBeVisible();
  }
  const number = await invoice(page, demo, of, '2000');
  // Several to one, posted in one action.
  await page.goto(`${demo.url}/customers/${of}`);
  const bench = page.getByRole('region', { name: 'Matching bench' });
  for (const held of [0, 1]) {
    await bench.getByRole('button', { name: new RegExp(number) }).click();
    await bench.locator('[data-side="credit"]').nth(held).click();
  }
  await expect(row(page, `${number} open 2,400.00 700.00`)).toBeVisible();
  await post(page);
  await expect(figure(page, 'We hold')).toHaveText('0.00');
  // The balance comes; the proposal says why, and is taken.
  await page.goto(`${demo.url}/papers/new/receipt?customer=${of}`);
  await page.getByRole('textbox', { name: 'Amount received' }).fill('700');
  await expect(page.getByText(`${number}: exactly what is open`)).toBeVisible();
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await expect(page.getByText('All of it is set against something')).toBeVisible();
  await expect(row(page, `${number} open 700.00 0.00`)).toBeVisible();
  await post(page);
  await expect(figure(page, 'Balance')).toHaveText('0.00');
});

test('an overpayment is refunded by cheque, and the cheque is printed', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Overpaid By Seventy');
  const number = await invoice(page, demo, of, '430', { lines: [{ text: 'Handrail', quantity: '1', unitPrice: '430', taxCode: 3 }] });
  await page.goto(`${demo.url}/papers/new/receipt?customer=${of}`);
  // The Desk shows the six oldest: this one is older than what the demo and other tests have.
  await page.getByRole('textbox', { name: 'Date' }).fill('2026-11-02');
  await page.getByRole('textbox', { name: 'Amount received' }).fill('500');
  await page.getByRole('row', { name: new RegExp(number) }).getByRole('button', { name: 'Set against' }).click();
  await expect(page.getByText('70.00 set against nothing yet')).toBeVisible();
  await post(page);
  await expect(effect(page).getByRole('button', { name: /70\.00 of this receipt is set against nothing/ })).toBeVisible();
  await page.getByLabel('What is set against nothing stays on account').check();
  await post(page);
  await expect(figure(page, 'Credits not used')).toHaveText('70.00');
  // The Desk tells it, with its next step in one key.
  await page.goto(`${demo.url}/desk`);
  await page.getByRole('region', { name: 'Paid too much' }).getByRole('row', { name: /Overpaid By Seventy/ }).press('Enter');
  await expect(page.getByRole('textbox', { name: /Taken of R26-/ })).toHaveValue('70.00');
  await page.getByLabel('Method').selectOption('cheque');
  await expect(row(page, /120 Trade receivables 70\.00/)).toBeVisible();
  await expect(page.getByPlaceholder(/is next$/).first()).toBeVisible();
  // It came by transfer: another way is said first.
  await expect(row(page, /120 Trade receivables 70\.00/)).toBeVisible();
  await expect(page.getByText(/came by transfer\. Is it to go back by cheque\?/)).toBeVisible();
  await post(page);
  await expect(page.getByRole('button', { name: /Post all the same/ })).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /Refund F26-/ })).toBeVisible();
  await page.goto(`${demo.url}/papers/cheques`);
  const cheque = page.getByRole('row', { name: /Overpaid By Seventy/ });
  await expect(cheque).toBeVisible();
  for (const other of await page.getByRole('row').getByRole('checkbox').all()) await other.uncheck();
  await cheque.getByRole('checkbox').check();
  await expect(page.getByText('Seventy and 00/100 EUR')).toBeVisible();
  await page.getByRole('button', { name: 'They are printed already' }).click();
  await expect(cheque).toHaveCount(0);
  await page.goto(`${demo.url}/customers/${of}`);
  await expect(figure(page, 'Balance')).toHaveText('0.00');
});

test('a deposit is split between refund and forfeit in one step', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Called It Off');
  await put(page, demo, 'deposits', { customer: of, day: '2026-11-03', amount: '1200.00', bank: 1, method: 'transfer' });
  await page.goto(`${demo.url}/customers/${of}`);
  await page.locator('[data-side="credit"]').click();
  await page.getByRole('button', { name: 'Keep a part' }).click();
  await page.getByRole('checkbox', { name: 'A part is given back' }).check();
  await page.getByRole('textbox', { name: 'Given back' }).fill('1100');
  await page.getByRole('checkbox', { name: 'A part is kept' }).check();
  await page.getByRole('textbox', { name: 'Kept', exact: true }).fill('150');
  // More than is held, and it says how much is.
  await expect(effect(page).getByText(/Only 100\.00 of D26-\d+ is open, not 150\.00/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Given back' }).fill('450');
  await page.getByLabel('Tax in it').selectOption({ label: 'Standard 20 %' });
  await expect(row(page, '421 Deposits forfeited 125.00')).toBeVisible();
  await expect(row(page, '241 Output tax 25.00')).toBeVisible();
  await expect(page.getByText('600.00 stays held of 1,200.00')).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /Refund F26-/ })).toBeVisible();
  await page.goto(`${demo.url}/ledger/deposits`);
  await page.getByRole('textbox', { name: 'Deposit, customer, reference' }).fill('Called It Off');
  await expect(page.getByRole('row', { name: /D26-\d+.*1,200\.00 450\.00 150\.00 600\.00/ })).toBeVisible();
  await expect(effect(page).getByText('ties out')).toBeVisible();
});

test('a debt is written off with relief past the limit, and partly recovered', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Insolvent Since Monday');
  const number = await invoice(page, demo, of, '1500');
  await put(page, demo, 'receipts', { customer: of, day: '2026-11-05', arrived: '720.00', bank: 1, method: 'transfer', onAccount: true });
  await page.goto(`${demo.url}/customers/${of}`);
  await page.locator('[data-side="owed"]').click();
  await page.locator('[data-side="credit"]').click();
  await post(page);
  await expect(page.getByRole('button', { name: 'Set against lately (1)' })).toBeVisible();
  await expect(figure(page, 'Balance')).toHaveText('1,080.00');
  await page.locator('[data-side="owed"]').click();
  await page.getByRole('button', { name: 'Write off' }).click();
  await expect(page.getByRole('textbox', { name: `Taken of ${number}` })).toHaveValue('1,080.00');
  await page.getByLabel('Why is it given up?').fill('The court says nothing is left');
  await expect(row(page, '241 Output tax 180.00')).toBeVisible();
  await expect(row(page, '120 Trade receivables 1,080.00')).toBeVisible();
  await expect(page.getByText(/1,080\.00 is past the limit of 1,000\.00/)).toBeVisible();
  await post(page);
  await expect(effect(page).getByText(/a second person must agree/).or(page.getByText(/a second person must agree/)).first()).toBeVisible();
  await page.getByLabel('The second person’s password').fill('newel and baluster');
  await post(page);
  await expect(figure(page, 'Balance')).toHaveText('0.00');
  await expect(page.getByRole('row', { name: new RegExp(`${number}.*written off`) })).toBeVisible();
  // A part of it comes after all.
  await page.getByRole('row', { name: /given up/ }).click();
  await page.getByRole('link', { name: /^Open W26-/ }).click();
  await page.getByRole('button', { name: 'Recovery' }).click();
  await page.getByRole('textbox', { name: 'Amount received' }).fill('1080.01');
  await expect(effect(page).getByText(/only 1,080\.00 has not come back yet/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Amount received' }).fill('540');
  await expect(row(page, '441 Bad debts recovered 450.00')).toBeVisible();
  await expect(row(page, '241 Output tax 90.00')).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /Recovery RC26-/ })).toBeVisible();
});

test('a contra: they owe us and we owe them', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Both Ways Timber', { supplier: true });
  const number = await invoice(page, demo, of, '750');
  await page.goto(`${demo.url}/papers/new/supplier_bill?customer=${of}`);
  await page.getByLabel('Their number').fill('BW-17');
  await page.getByLabel('What, line 1').fill('Stringers, rough cut');
  await page.getByRole('combobox', { name: 'Account, line 1' }).fill('job costs');
  await expect(page.getByRole('option', { name: /511 Job costs/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Net, line 1' }).fill('533.33');
  await expect(row(page, '151 Input tax 106.67')).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /Supplier bill B26-/ })).toBeVisible();
  await page.goto(`${demo.url}/desk`);
  await page.getByRole('region', { name: 'They owe us, and we owe them' }).getByRole('row', { name: /Both Ways Timber/ }).click();
  await page.getByRole('row', { name: new RegExp(number) }).getByRole('button', { name: 'Set off' }).click();
  await page.getByRole('row', { name: /Stringers, rough cut/ }).getByRole('button', { name: 'Set off' }).click();
  await expect(row(page, '201 Trade payables 640.00')).toBeVisible();
  await expect(row(page, `${number} open 900.00 260.00`)).toBeVisible();
  await post(page);
  await expect(figure(page, 'Owes now').or(figure(page, 'Not yet due')).filter({ hasText: '260.00' })).toBeVisible();
});

test('an unknown receipt is identified later', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Nobody Knew Them');
  const number = await invoice(page, demo, of, '300');
  await page.goto(`${demo.url}/desk`);
  await expect(page.getByRole('heading', { name: /loose ends/ })).toBeVisible();
  await page.keyboard.press('w');
  await page.keyboard.type('nobody knows');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Amount received' }).fill('500');
  await page.getByLabel('Reference').fill('WITH THANKS 300');
  await page.getByRole('textbox', { name: 'Value date' }).fill('13 nov');
  await expect(row(page, '224 Receipts not yet identified 500.00')).toBeVisible();
  await post(page);
  await page.getByRole('region', { name: 'Money that nobody has claimed' }).getByRole('row', { name: /WITH THANKS 300/ }).focus();
  await page.keyboard.press('Enter');
  await page.getByRole('combobox', { name: 'Customer' }).fill('Nobody Knew');
  await expect(page.getByRole('option', { name: /Nobody Knew Them/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Share' }).fill('360');
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await expect(row(page, `${number} open 360.00 0.00`)).toBeVisible();
  await page.getByRole('textbox', { name: 'Sent back to where it came from' }).fill('140');
  await expect(page.getByText('0.00 will stay not identified')).toBeVisible();
  await expect(row(page, '224 Receipts not yet identified 360.00')).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /loose ends/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /WITH THANKS 300/ })).toHaveCount(0);
  await page.goto(`${demo.url}/customers/${of}`);
  await expect(figure(page, 'Balance')).toHaveText('0.00');
});

test('a discount is taken, then the cheque comes back', async ({ page, demo }) => {
  const terms = (await (await page.request.get(`${demo.url}/api/v1/terms`)).json()).rows.find((t: { discountPercent?: string }) => t.discountPercent);
  const of = await customer(page, demo, 'Paid Early', { terms: terms.id });
  const number = await invoice(page, demo, of, '1000', { day: '2026-11-12' });
  await page.goto(`${demo.url}/papers/new/receipt?customer=${of}`);
  await page.getByRole('textbox', { name: 'Amount received' }).fill('1176');
  await page.getByLabel('Method').selectOption('cheque');
  await expect(page.getByText(`${number}: exactly what is open, less its discount`)).toBeVisible();
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await expect(page.getByLabel(/less 24\.00 for paying by/)).toBeChecked();
  await expect(row(page, '491 Discount allowed 20.00')).toBeVisible();
  await expect(row(page, '241 Output tax 4.00')).toBeVisible();
  await post(page);
  await expect(figure(page, 'Balance')).toHaveText('0.00');
  await page.getByRole('row', { name: /R26-\d+ Receipt/ }).first().click();
  await page.getByRole('link', { name: /^Open R26-/ }).click();
  await page.getByRole('button', { name: 'Returned by the bank' }).click();
  await page.getByLabel('The bank’s fee').fill('8');
  await expect(row(page, '101 Bank 1,184.00')).toBeVisible();
  await expect(row(page, '621 Bank charges 8.00')).toBeVisible();
  await expect(row(page, '491 Discount allowed 20.00')).toBeVisible();
  await post(page);
  await expect(page.getByRole('heading', { name: /Returned payment RP26-/ })).toBeVisible();
  await page.goto(`${demo.url}/customers/${of}`);
  await expect(figure(page, 'Balance')).toHaveText('1,200.00');
  await expect(page.getByRole('row', { name: new RegExp(`${number}.*open`) })).toBeVisible();
});

test('everything as of a past day, and why a balance is what it is', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Looked Back At');
  const number = await invoice(page, demo, of, '100', { day: '2026-11-03' });
  await put(page, demo, 'receipts', { customer: of, day: '2026-11-17', arrived: '120.00', bank: 1, method: 'transfer', onAccount: true });
  await page.goto(`${demo.url}/customers/${of}`);
  await page.locator('[data-side="owed"]').click();
  await page.locator('[data-side="credit"]').click();
  await post(page);
  await expect(page.getByRole('button', { name: 'Set against lately (1)' })).toBeVisible();
  await expect(figure(page, 'Balance')).toHaveText('0.00');
  await page.getByTitle('Show everything as of a past day').click();
  await page.getByRole('textbox', { name: 'Show everything as of' }).fill('10 nov');
  await expect(page.getByText('= 10 Nov 2026')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByText('As of the end of Tuesday, 10 November 2026')).toBeVisible();
  await expect(figure(page, 'Balance')).toHaveText('120.00');
  await expect(page.getByRole('row', { name: /Receipt/ })).toHaveCount(0);
  // One key says why: the shortest list of papers that add up to it.
  await figure(page, 'Balance').getByRole('button').focus();
  await page.keyboard.press('y');
  const why = page.getByRole('dialog');
  await expect(why.getByRole('row', { name: new RegExp(`${number}.*120\\.00`) })).toBeVisible();
  await expect(why.getByRole('row', { name: 'Together 120.00' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.goto(`${demo.url}/papers?q=Looked+Back`);
  await expect(page.getByText('1 in all')).toBeVisible();
  await page.getByRole('button', { name: 'Back to today' }).click();
  await expect(page.getByText('2 in all')).toBeVisible();
});
