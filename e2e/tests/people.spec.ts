import type { Browser, Page } from '@playwright/test';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { check, customer, expect, expectAccessible, put, session, start, stop, test, twoKeys, type Firm } from './firm';

const bookkeeper = ['books@sparrow-winder.example', 'newel and baluster'] as const;
const cashier = ['till@sparrow-winder.example', 'nosing and handrail'] as const;
const biller = ['bills@sparrow-winder.example', 'tread over riser'] as const;

/** A page of somebody else, signed in beside the owner. */
async function as(browser: Browser, firm: Firm, who: readonly [string, string]): Promise<Page> {
  const context = await browser.newContext();
  await context.addCookies(await session(firm.url, ...who));
  const page = await context.newPage();
  await page.goto(firm.url);
  await expect(page.getByRole('navigation', { name: 'Places' })).toBeVisible();
  return page;
}

/** A small firm of its own, whose owner is signed in on the page. */
async function ownFirm(page: Page, today: string): Promise<Firm> {
  const firm = await start(['serve', '--today', today]);
  const codes = [{ code: 'STD', name: 'Standard', percent: '20' }];
  const answer = await page.request.post(`${firm.url}/api/v1/setup`, { data: { firm: 'Lattice Stairs', currency: 'EUR', bank: 'Bank', owner: 'W', email: 'office@lattice.example', password: 'winding stairs', codes } });
  expect(answer.ok(), await answer.text()).toBe(true);
  return firm;
}

async function done(firm: Firm) {
  await stop(firm);
  expect(await check(firm)).toBe(0);
  rmSync(firm.dir, { recursive: true });
}

const places = (page: Page) => page.getByRole('navigation', { name: 'Places' }).getByRole('link');

test('a cashier takes a deposit, hands over the receipt, and reaches no ledger by any address', async ({ demo, page, browser }) => {
  const name = 'Zinnia Tillward';
  await customer(page, demo, name);
  const till = await as(browser, demo, cashier);
  await expect(places(till)).toHaveText([/^Desk/, 'Customers', 'Papers']);
  await till.keyboard.press('w');
  const said = till.getByRole('listbox').getByRole('option');
  await expect(said.filter({ hasText: 'They paid before we billed' })).toBeVisible();
  await expect(said.filter({ hasText: 'The month is over' })).toHaveCount(0);
  await till.keyboard.press('Escape');
  await till.goto(`${demo.url}/papers/new/deposit`);
  await till.getByRole('combobox', { name: 'Customer' }).fill(name);
  await till.getByRole('option', { name }).first().click();
  await till.getByRole('textbox', { name: 'Amount' }).first().fill('300');
  await till.keyboard.press('Tab');
  const effect = till.getByRole('complementary', { name: 'Effect' });
  await till.keyboard.press('Control+Enter');
  await expect(till.getByRole('heading', { name: /^Deposit D26-/ })).toBeVisible();
  await expect(effect.getByText('Entries')).toHaveCount(0);
  await expectAccessible(till);
  const id = /papers\/(\d+)/.exec(till.url())![1]!;
  const pdf = await till.request.get(`${demo.url}/api/v1/papers/${id}/pdf`);
  expect([pdf.status(), pdf.headers()['content-type']]).toEqual([200, 'application/pdf']);
  await expect(till.getByRole('button', { name: 'Reverse' })).toHaveCount(0);
  for (const address of ['/ledger', '/ledger/accounts', '/ledger/income', '/bank', '/jobs', '/setup/firm', '/setup/people', '/customers/suppliers', '/papers/credits']) {
    await till.goto(demo.url + address);
    if (address.startsWith('/setup')) await expect(till.getByRole('heading', { name: 'Not yours to look at' }).or(till.getByRole('tab', { name: 'My sign-in' }))).toBeVisible();
    else await expect(till.getByRole('heading', { name: 'Not yours to look at' })).toBeVisible();
  }
  for (const of of ['trial-balance', 'journal', 'ageing', 'bank', 'costs', 'suppliers', 'audit', 'why?of=account&id=1']) expect((await till.request.get(`${demo.url}/api/v1/${of}`)).status(), of).toBe(403);
  await till.context().close();
});

test('a biller prepares an invoice, and sees no costs and no ledger', async ({ demo, page, browser }) => {
  const id = await customer(page, demo, 'Zebedee Billworth');
  const desk = await as(browser, demo, biller);
  await expect(places(desk)).toHaveText([/^Desk/, 'Customers', 'Jobs', 'Papers']);
  await desk.goto(`${demo.url}/papers/new/invoice?customer=${id}`);
  await expect(desk.getByText('It becomes a draft: somebody who may posts it')).toBeVisible(); // nothing is kept yet
  await desk.getByRole('combobox', { name: 'What, line 1' }).fill('Survey');
  await desk.getByRole('textbox', { name: 'Unit price, line 1' }).fill('240');
  await desk.keyboard.press('Tab');
  await expect(desk.getByText('Kept as a draft: somebody who may posts it')).toBeVisible();
  await expect(desk.getByRole('button', { name: /^Post/ })).toHaveCount(0);
  await expect(desk.getByText('288.00').first()).toBeVisible();
  await expectAccessible(desk);
  await expect(desk).toHaveURL(/drafts\/\d+/); // it is saved
  await desk.context().close();
  // Who may posts it finds it among the drafts.
  await page.goto(`${demo.url}/papers?state=draft`);
  await expect(page.getByRole('row', { name: /Zebedee Billworth/ })).toBeVisible();
});

test('a second person gives their word from their own screen', async ({ demo, page, browser }) => {
  const name = 'Zachary Wordley';
  const id = await customer(page, demo, name);
  await put(page, demo, 'invoices?confirmed=long%20past', { customer: id, day: '2026-10-01', lines: [{ text: 'Stair', unitPrice: '1000', taxCode: 1 }] });
  const bench = await (await page.request.get(`${demo.url}/api/v1/customers/${id}/bench`)).json();
  const asks = await as(browser, demo, bookkeeper);
  await asks.goto(`${demo.url}/papers/new/write-off?customer=${id}&item=${bench.owed[0].itemId ?? bench.owed[0].id}`);
  await asks.getByLabel('Why is it given up?').fill('Insolvent');
  await asks.keyboard.press('Tab');
  await asks.getByRole('button', { name: 'Ask from their own screen' }).click();
  await expect(asks.getByText(/^Asked\. Wren Sparrow/)).toBeVisible();
  await page.goto(`${demo.url}/desk`);
  const waits = page.getByRole('region', { name: 'Waits for your word' });
  await waits.getByRole('row', { name: /1,200\.00/ }).click();
  await expect(page.getByRole('heading', { name: 'Tobias Winder asks for your word' })).toBeVisible();
  await expect(page.getByRole('complementary', { name: 'Effect' }).getByText('128 Allowance for doubtful debts')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Agree', exact: true }).press('Enter');
  await expect(page.getByText('Agreed. Tobias Winder can post it now.')).toBeVisible();
  await asks.goto(`${demo.url}/desk`);
  await asks.getByRole('region', { name: 'Said to what you asked' }).getByRole('row', { name: /1,200\.00/ }).click();
  await expect(asks.getByText('Wren Sparrow agreed to this: it can be posted.')).toBeVisible();
  await asks.keyboard.press('Control+Enter');
  await expect(asks.getByRole('heading', { level: 1, name })).toBeVisible();
  await expect(asks.getByRole('row', { name: /Write-off W26-|W26-\d+/ }).first()).toBeVisible();
  await asks.context().close();
});

test('somebody is invited by a link, and their access ends', async ({ demo, page, browser }) => {
  await page.goto(`${demo.url}/setup/people`);
  await page.getByRole('button', { name: 'New person' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Zelda Reedmace');
  await dialog.getByLabel('E-mail').fill('zelda@reedmace.example');
  await dialog.getByLabel('Role').selectOption('reader');
  await page.keyboard.press('Control+Enter');
  const link = await page.getByRole('dialog').getByLabel('Link').inputValue();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('region', { name: 'Invited' }).getByText('zelda@reedmace.example')).toBeVisible();
  await expectAccessible(page);
  const other = await (await browser.newContext()).newPage();
  await other.goto(link);
  await expect(other.getByText('Wren Sparrow invited you, Zelda Reedmace, as reader.')).toBeVisible();
  await expectAccessible(other);
  await other.getByLabel('Password').fill('short');
  await other.getByLabel('The same again').fill('short');
  await other.keyboard.press('Enter');
  await expect(other.getByRole('alert')).toHaveText(/at least 12 characters/);
  await other.getByLabel('Password').fill('gravel otter mandolin');
  await other.getByLabel('The same again').fill('gravel otter mandolin');
  await other.keyboard.press('Enter');
  await expect(places(other)).toHaveText([/^Desk/, 'Customers', 'Jobs', 'Papers', 'Bank', 'Ledger']);
  await other.goto(`${demo.url}/papers`);
  await expect(other.getByRole('row').nth(3)).toBeVisible();
  await expect(other.getByRole('button', { name: /^New / })).toHaveCount(0);
  await expect(other.getByRole('button', { name: 'Export' })).toHaveCount(0);
  await other.goto(`${demo.url}/setup/me`);
  await expect(other.getByRole('region', { name: 'Signed in' }).getByRole('row')).toHaveCount(2);
  await expectAccessible(other);
  await page.reload(); // the list is from before they came
  await page.getByRole('row', { name: /Zelda Reedmace.*reader/ }).first().click();
  await page.getByRole('dialog').getByLabel('May sign in').selectOption('no');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('row', { name: /Zelda Reedmace.*ended/ })).toBeVisible();
  await other.goto(`${demo.url}/papers`);
  await expect(other.getByLabel('Password')).toBeVisible();
  await other.context().close();
});

test('a firm moves in from files, and its ageing is that of the old books', async ({ page }) => {
  const firm = await ownFirm(page, '2026-01-15');
  for (const name of ['Odalys Brandt', 'Dunmarrow Builders']) await customer(page, firm, name);
  await page.goto(`${firm.url}/setup/beginning`);
  await page.getByRole('textbox', { name: 'Last day of the old books' }).fill('31 dec 2025');
  await page.keyboard.press('Tab');
  const items = page.getByRole('region', { name: 'Open items' });
  const [template] = await Promise.all([page.waitForEvent('download'), items.getByRole('link', { name: 'Template' }).click()]);
  expect(readFileSync(await template.path(), 'utf8')).toContain('What,Number,Day,Due,Name,Job,Amount');
  const file = (name: string, rows: string[]) => {
    const path = join(firm.dir, name);
    writeFileSync(path, rows.join('\n'));
    return path;
  };
  const header = 'What,Number,Day,Due,Name,Amount,Tax inside,Tax code';
  const open = ['invoice,4711,2025-11-12,2025-12-12,Odalys Brandt,5000.00,833.33,STD', 'invoice,4712,2025-12-10,2026-01-09,Dunmarrow Builders,2440.00,406.67,STD', 'kept back,4690,2025-10-01,2026-04-01,Dunmarrow Builders,720.00,,'];
  // A name that is nobody's keeps it from being posted.
  await items.locator('input[type=file]').setInputFiles(file('wrong.csv', [header, ...open, 'deposit,D-12,2025-12-20,,Odalys Brand,1500.00,,']));
  await expect(items.getByRole('alert')).toHaveText(/no customer or supplier "Odalys Brand"/);
  await expect(page.getByRole('button', { name: /^Begin with this/ })).toBeDisabled();
  await items.locator('input[type=file]').setInputFiles(file('items.csv', [header, ...open]));
  await expect(items.getByRole('row')).toHaveCount(4);
  // The deposit by hand.
  await items.getByRole('button', { name: 'Add a row' }).click();
  const row = page.getByRole('dialog');
  await row.getByLabel('What').selectOption('deposit');
  await row.getByLabel('Number').fill('D-12');
  await row.getByLabel('Name').fill('Odalys Brandt');
  await row.getByLabel('Amount').fill('1500.00');
  await page.keyboard.press('Control+Enter');
  await expect(items.getByRole('row')).toHaveCount(5);
  const trial = page.getByRole('region', { name: 'Trial balance' });
  await trial.locator('input[type=file]').setInputFiles(file('trial.csv', ['Account,Debit,Credit', '101,5000.00,', '120,7440.00,', '124,720.00,', '221,,1500.00', '241,,1240.00', '301,,10420.00']));
  await expect(page.getByRole('complementary', { name: 'Effect' }).getByText('301 Capital')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Begin with this/ }).click();
  await expect(page.getByText('The firm began with what stood in its old books on 31 Dec 2025: 5 papers.')).toBeVisible();
  await page.goto(`${firm.url}/ledger/ageing?asOf=2025-12-31`);
  const total = page.getByRole('row', { name: /^Total/ });
  for (const figure of ['2,440.00', '5,000.00', '7,440.00']) await expect(total.getByText(figure).first()).toBeVisible();
  await page.goto(`${firm.url}/setup/beginning`);
  await page.getByRole('button', { name: 'Undo the opening' }).click();
  await page.getByLabel('Why is it undone?').fill('a cent');
  await page.getByRole('button', { name: 'Undo all of it' }).click();
  await expect(page.getByRole('textbox', { name: 'Last day of the old books' })).toBeVisible();
  await done(firm);
});

test('October is closed, opened again with a reason, and closed', async ({ page }) => {
  const firm = await ownFirm(page, '2026-11-20');
  const id = await customer(page, firm, 'Odalys Brandt');
  await put(page, firm, 'receipts', { customer: id, day: '2026-10-05', arrived: '300.00', bank: 1, method: 'transfer', onAccount: true });
  await put(page, firm, 'invoices', { customer: id, day: '2026-10-06', lines: [{ text: 'Stair', unitPrice: '1000', taxCode: 1 }] });
  // What is looked at quickly stands there, and the rest comes into its places.
  let tell = () => {};
  const told = new Promise<void>((resolve) => (tell = resolve));
  await page.route(/closing\?.*part=rest/, async (route) => {
    await told;
    await route.continue();
  });
  await page.goto(`${firm.url}/ledger/closing`);
  const step = (name: string) => page.locator(`[data-step="${name}"]`);
  await expect(step('drafts')).toHaveAttribute('data-state', 'done');
  await expect(step('on account')).toContainText('is being looked at');
  await expect(page.getByText(/to look at\.|Nothing is left to do/)).toHaveCount(0);
  const height = (await page.getByRole('table', { name: 'Before the period is closed' }).boundingBox())?.height;
  tell();
  await expect(page.getByText(/things to look at\./)).toBeVisible();
  await page.unroute(/closing\?.*part=rest/);
  expect((await page.getByRole('table', { name: 'Before the period is closed' }).boundingBox())?.height).toBe(height);
  await expect(step('on account')).toHaveAttribute('data-state', 'open');
  await expect(step('drafts')).toHaveAttribute('data-state', 'done');
  await expect(step('tie-out')).toHaveAttribute('data-state', 'done');
  await expectAccessible(page);
  // Each leads to its place.
  await step('tax').getByRole('link', { name: 'Tax' }).click();
  await expect(page.getByRole('row', { name: /To pay/ }).getByText('200.00')).toBeVisible();
  await page.getByRole('button', { name: /^Settle this span/ }).click();
  await expect(page.getByText('This span is settled. What is put right goes into the next.')).toBeVisible();
  await page.goto(`${firm.url}/ledger/closing`);
  await expect(step('tax')).toHaveAttribute('data-state', 'done');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('The books are locked through 31 Oct 2026')).toBeVisible();
  const refused = await page.request.post(`${firm.url}/api/v1/deposits`, { data: { customer: id, day: '2026-10-31', amount: '5.00', bank: 1, method: 'transfer' } });
  expect(refused.status()).toBe(422);
  await page.getByRole('textbox', { name: 'Close through' }).fill('30 sep');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: /^Unlock back to 30 Sep 2026/ }).click();
  await expect(page.getByText(/Opening them again needs a reason/)).toBeVisible();
  await page.getByLabel('Why open it again?').fill('A bill came late');
  await page.getByRole('button', { name: /^Unlock back to 30 Sep 2026/ }).click();
  await expect(page.getByRole('region', { name: 'Locked and unlocked' }).getByText(/A bill came late/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Close through' }).fill('31 oct');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: /^Lock through 31 Oct 2026/ }).click();
  await expect(page.getByText('The books are locked through 31 Oct 2026')).toBeVisible();
  await done(firm);
});

test('a tax return is settled, and what is put right goes into the next', async ({ page }) => {
  const firm = await ownFirm(page, '2026-11-20');
  const id = await customer(page, firm, 'Odalys Brandt');
  const posted = await put(page, firm, 'invoices', { customer: id, day: '2026-10-06', lines: [{ text: 'Stair', unitPrice: '1000', taxCode: 1 }] });
  await page.goto(`${firm.url}/ledger/tax`);
  await page.getByRole('button', { name: /Standard 20 %/ }).click();
  await expect(page.getByRole('link', { name: 'Invoice I26-0001' })).toBeVisible();
  const effect = page.getByRole('complementary', { name: 'Effect' });
  await expect(effect.getByText('248 Tax to pay')).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('region', { name: 'Settled' }).getByText('TS26-0001')).toBeVisible();
  // Nothing is dated into it any more; the editor says so beside the date.
  await page.goto(`${firm.url}/papers/new/invoice?customer=${id}`);
  await page.getByRole('textbox', { name: 'Invoice date' }).fill('31 oct');
  await page.getByRole('combobox', { name: 'What, line 1' }).fill('Late');
  await page.getByRole('textbox', { name: 'Unit price, line 1' }).fill('10');
  await page.keyboard.press('Tab');
  await expect(effect.getByText(/The tax through 31 Oct 2026 is settled/)).toBeVisible();
  await put(page, firm, 'reversals', { paper: posted.posted.paper, day: '2026-11-02', reason: 'wrong customer' });
  await page.goto(`${firm.url}/ledger/tax?through=2026-11-20`);
  await expect(page.getByRole('row', { name: /Comes back/ }).getByText('200.00')).toBeVisible();
  await page.getByRole('button', { name: /Standard 20 %/ }).click();
  await expect(page.getByRole('link', { name: 'Reversal X26-0001' })).toBeVisible();
  // Work that is done is accrued at the end of October, and stands there alone.
  await put(page, firm, 'jobs', { name: 'Loft stair', customer: id, contractSum: '8000.00' });
  await page.goto(`${firm.url}/ledger/accruals`);
  await page.getByRole('textbox', { name: /^Done of job .* Loft stair, percent/ }).fill('25');
  await expect(effect.getByText('134 Work not yet billed').first()).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('row', { name: /Loft stair/ }).getByText('2,000.00')).toBeVisible();
  for (const view of ['income', 'balance', 'record']) {
    await page.goto(`${firm.url}/ledger/${view}`);
    await expect(page.getByRole('table').first()).toBeVisible();
    await expectAccessible(page);
  }
  await page.goto(`${firm.url}/setup/safety`);
  await page.getByRole('button', { name: 'Back up now' }).click();
  await expect(page.getByRole('table', { name: 'Backups' }).getByText('checked')).toBeVisible();
  await expectAccessible(page);
  await done(firm);
});

test('a bookkeeper is offered the import of what bookkeepers keep, and no more', async ({ demo, browser }) => {
  const keeps = await as(browser, demo, bookkeeper);
  await keeps.goto(`${demo.url}/setup/import?kind=accounts`);
  await expect(keeps.getByText('It must have: name.')).toBeVisible();
  await keeps.getByRole('combobox', { name: 'What' }).click();
  await expect(keeps.getByRole('option')).toHaveText(['Customers', 'Jobs', 'Articles']);
  await keeps.context().close();
});

test('a firm owes its tax when it is paid: the Effect says what falls due, and the return when', async ({ page }) => {
  const firm = await ownFirm(page, '2026-11-20');
  await page.goto(`${firm.url}/setup/firm`);
  await page.getByRole('combobox', { name: 'Tax on what is billed is owed' }).selectOption({ label: 'when it is paid' });
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Saved.')).toBeVisible();
  const id = await customer(page, firm, 'Odalys Brandt');
  await put(page, firm, 'invoices', { customer: id, day: '2026-11-02', lines: [{ text: 'Stair', unitPrice: '1000', taxCode: 1 }] });
  await page.goto(`${firm.url}/ledger/tax?through=2026-11-20`);
  await expect(page.getByText('No tax falls into this span.')).toBeVisible();
  await expect(page.getByRole('row', { name: /owed when it is paid.* 200.00/ })).toBeVisible();
  await page.goto(`${firm.url}/papers/new/receipt?customer=${id}`);
  await page.getByRole('textbox', { name: 'Amount received' }).fill('600');
  await page.keyboard.press('Tab');
  await page.getByRole('textbox', { name: /I26-0001/ }).first().fill('600');
  await page.keyboard.press('Tab');
  const effect = page.getByRole('complementary', { name: 'Effect' });
  await expect(effect.getByText('246 Output tax not due yet').first()).toBeVisible();
  await expect(effect.getByText('241 Output tax').first()).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('row', { name: /R26-0001 Receipt used up/ })).toBeVisible();
  await page.goto(`${firm.url}/ledger/tax?through=2026-11-20`);
  await expect(page.getByRole('row', { name: /Paid of what is owed when it is paid/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^To pay 100.00/ })).toBeVisible();
  await expectAccessible(page);
  await done(firm);
});

test('another firm is two keys away, with books, drafts and a sign-in of its own', async ({ demo, page }) => {
  await page.goto(`${demo.url}/customers`);
  await expect(places(page).first()).toBeVisible();
  const firms = page.getByRole('dialog', { name: 'Firms' });
  await twoKeys(page, 'g', 'f', firms);
  await expect(firms.getByRole('menuitem', { name: 'Lower Quay Stair Repairs asks to sign in' })).toBeFocused();
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/firm\/stair-repairs\/desk$/);
  await expect(page.getByRole('heading', { name: 'Lower Quay Stair Repairs' })).toBeVisible();
  // Whose address it is goes along; the password is asked for.
  await expect(page.getByRole('textbox', { name: 'E-mail' })).toHaveValue('office@sparrow-winder.example');
  await page.keyboard.type('winding stairs');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Lower Quay Stair Repairs' })).toBeVisible();
  // A draft and a file here are of this firm.
  await page.goto(`${demo.url}/firm/stair-repairs/customers`);
  await expect(page.getByRole('row', { name: /Gideon Harkaway/ })).toBeVisible();
  await page.getByRole('row', { name: /Gideon Harkaway/ }).click();
  await expect(page).toHaveURL(/\/firm\/stair-repairs\/customers\/\d+/);
  // The address is there before the page is.
  await expect(page.getByRole('heading', { name: 'Gideon Harkaway' })).toBeVisible();
  await page.keyboard.press('w');
  await page.keyboard.type('before we billed');
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Amount' }).first().fill('75');
  await page.keyboard.press('Tab');
  await expect(page).toHaveURL(/\/firm\/stair-repairs\/papers\/drafts\/\d+/);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { name: /^Deposit D26-/ })).toBeVisible();
  const file = page.waitForEvent('download');
  await page.getByRole('link', { name: 'PDF' }).first().click();
  expect((await file).url()).toContain('/firm/stair-repairs/api/v1/papers');
  // Back by the same two keys, without signing in again.
  await twoKeys(page, 'g', 'f', firms);
  await expect(firms.getByRole('menuitem', { name: /^Sparrow & Winder Stairworks$/ })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Sparrow & Winder Stairworks' })).toBeVisible();
  expect(new URL(page.url()).pathname).toBe('/desk');
  const found = await page.request.get(`${demo.url}/api/v1/search?q=Harkaway`);
  expect(await found.text()).not.toContain('Gideon');
});

test('an owner starts another firm, and sets it up', async ({ page }) => {
  const firm = await ownFirm(page, '2026-11-20');
  await page.goto(firm.url);
  await page.getByRole('button', { name: 'Lattice Stairs' }).click();
  await page.getByRole('menuitem', { name: /^Other firms/ }).click();
  const name = page.getByRole('textbox', { name: 'Start another firm' });
  await name.fill('Lower Yard');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/small letters, figures and single hyphens/)).toBeVisible();
  await expectAccessible(page);
  await name.fill('lower-yard');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'A new set of books' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Name of the firm' }).fill('Lower Yard Sawmill');
  await page.getByRole('textbox', { name: 'Your name' }).fill('Wren Sparrow');
  await expect(page.getByRole('textbox', { name: 'E-mail' })).toHaveValue('office@lattice.example');
  await page.getByLabel(/^Password/).fill('winding stairs');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('button', { name: 'Lower Yard Sawmill' })).toBeVisible();
  expect(new URL(page.url()).pathname).toBe('/firm/lower-yard/desk');
  await twoKeys(page, 'g', 'f', page.getByRole('dialog', { name: 'Firms' }));
  await expect(page.getByRole('menuitem', { name: 'Lattice Stairs' })).toBeFocused();
  await page.keyboard.press('Escape');
  // Signed out, one comes to the other firm by its short name.
  await page.getByRole('button', { name: 'Lower Yard Sawmill' }).click();
  await page.getByRole('menuitem', { name: /^Sign out/ }).click();
  await expect(page.getByRole('heading', { name: 'Lower Yard Sawmill' })).toBeVisible();
  await page.goto(firm.url);
  await expect(page.getByRole('button', { name: 'Lattice Stairs' })).toBeVisible(); // still signed in there
  await done(firm);
});
