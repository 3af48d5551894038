import type { Page } from '@playwright/test';
import { customer, expect, expectAccessible, put, signIn, start, stop, test } from './firm';

// Lists by keys: one stop, arrows inside, the way back comes to the row.

const effect = (page: Page) => page.getByRole('complementary', { name: 'Effect' });
const press = (page: Page, key: string) => page.keyboard.press(key);
const focusedRow = (page: Page) => page.locator('tr[data-row]:focus');

test('a list shows the paper in hand, opens it, and comes back to it', async ({ page, demo }) => {
  // The head of a long list stays where it is when its first row takes the focus.
  await page.goto(`${demo.url}/papers`);
  await expect(focusedRow(page)).toBeVisible();
  await expect(page.getByRole('heading', { level: 1, name: 'Papers' })).toBeInViewport();
  await page.goto(`${demo.url}/papers?kind=invoice`);
  await expect(focusedRow(page)).toBeVisible();
  for (let i = 0; i < 40; i++) await press(page, 'ArrowDown');
  const number = (await focusedRow(page).locator('td').nth(2).textContent())!;
  await expect(effect(page).getByRole('region', { name: `Invoice ${number}` })).toBeVisible();
  await expect(effect(page).getByRole('table', { name: 'Journal entry' }).first()).toBeVisible();
  const top = await page.locator('#work').evaluate((e) => e.scrollTop);
  expect(top).toBeGreaterThan(300);
  await press(page, 'Enter');
  await expect(page.getByRole('heading', { level: 1, name: `Invoice ${number}` })).toBeVisible();
  await expect(page).toHaveTitle(`Invoice ${number} – Clean Tally`);
  await press(page, 'Escape');
  await expect(focusedRow(page)).toContainText(number);
  await expect.poll(() => page.locator('#work').evaluate((e) => e.scrollTop)).toBeGreaterThan(300);
  // One stop for Tab; every row is a link.
  expect(await page.locator('tr[data-row][tabindex="0"]').count()).toBe(1);
  // Ctrl leaves it to the browser to open it beside. The driver does not see each page that a browser opens by itself: here it does not come to that.
  const link = focusedRow(page).getByRole('link');
  const leadsTo = await link.getAttribute('href'); // a click takes the focus from the row
  await page.evaluate(() =>
    addEventListener(
      'click',
      (e) => {
        document.body.dataset.left = String(!e.defaultPrevented);
        e.preventDefault();
      },
      { once: true },
    ),
  );
  await link.click({ modifiers: ['Control'] });
  await expect(page.locator('body')).toHaveAttribute('data-left', 'true');
  await expect(page).toHaveURL(/papers\?kind=invoice/);
  await page.goto(`${demo.url}${leadsTo}`);
  await expect(page.getByRole('heading', { level: 1, name: `Invoice ${number}` })).toBeVisible();
});

test('filters are seen, taken off and kept by a name; sums are told where they add up', async ({ page, demo }) => {
  await page.goto(`${demo.url}/papers?customer=1&kind=invoice`);
  await expect(page.getByRole('button', { name: 'Customer: Odalys Brandt' })).toBeVisible();
  await expect(page.locator('tfoot')).toContainText('in all');
  await expect(page.locator('tfoot')).toContainText(/\d\.\d\d/);
  await page.getByRole('button', { name: 'Keep this filter' }).click();
  await page.getByRole('textbox', { name: 'Name of the filter' }).fill('Brandt’s bills');
  await press(page, 'Enter');
  await page.goto(`${demo.url}/papers`);
  await expect(page.locator('tfoot')).not.toContainText(/\d\.\d\d/); // invoices and refunds add up to nothing
  await page.getByRole('button', { name: 'Brandt’s bills' }).click();
  await expect(page).toHaveURL(/customer=1/);
  await page.getByRole('button', { name: 'Customer: Odalys Brandt' }).press('Delete');
  await expect(page).not.toHaveURL(/customer=1/);
  // A search that was typed just before leaving does not come after one.
  await page.getByRole('textbox', { name: 'Number, name, reference, amount' }).fill('I26-0040');
  await expect(page.getByText('1 in all')).toBeVisible();
  await page.getByRole('textbox', { name: 'Number, name, reference, amount' }).fill('zzz');
  await page.getByRole('link', { name: 'Customers' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Customers' })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Name, number, town, phone' })).toHaveValue('');
  await expect(page).not.toHaveURL(/zzz/);
});

test('columns are ordered and widened; the widest name cuts nothing off', async ({ page, demo }) => {
  await customer(page, demo, `The ${'Very '.repeat(18)}Long Name of a Firm`);
  await page.goto(`${demo.url}/customers?q=Very+Very`);
  await expect(page.getByText('1 in all')).toBeVisible();
  expect(await page.locator('#work').evaluate((e) => e.scrollWidth <= e.clientWidth)).toBe(true);
  await expect(page.locator('tbody td').nth(1)).toHaveAttribute('title', /Very Very Very/);
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('button', { name: 'Town further left' }).click();
  await press(page, 'Escape');
  await expect(page.locator('thead th').nth(1)).toHaveText('Town');
  await page.reload();
  await expect(page.locator('thead th').nth(1)).toHaveText('Town');
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('button', { name: 'As they were at first' }).click();
  await press(page, 'Escape');
  await expect(page.locator('thead th').nth(1)).toHaveText('Name');
});

test('the desk: the first end has the focus, n goes on, the way back comes to the end', async ({ page, demo }) => {
  await page.goto(`${demo.url}/desk`);
  await expect(focusedRow(page)).toBeVisible();
  const first = (await focusedRow(page).locator('td').first().textContent())!;
  await press(page, 'ArrowDown');
  const second = (await focusedRow(page).locator('td').first().textContent())!;
  expect(second).not.toBe(first);
  await press(page, 'Enter');
  await expect(page.locator('[data-card]').first()).toBeVisible();
  await press(page, 'Escape');
  await press(page, 'Escape');
  await expect(focusedRow(page)).toContainText(second);
  await press(page, 'n');
  await expect(page).not.toHaveURL(/desk/);
  const third = page.url();
  await page.goBack();
  await expect(page).toHaveURL(/desk/);
  await expect(focusedRow(page)).toBeVisible();
  await press(page, 'n');
  expect(page.url()).not.toBe(third);
});

test('a paper is copied, and put right: reversed and written again, both tied', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Written Twice');
  const made = await put(page, demo, 'invoices', { customer: of, day: '2026-11-10', reference: 'PO 5', lines: [{ text: 'Stair', unitPrice: '100', taxCode: 1 }] });
  await page.goto(`${demo.url}/papers/${made.posted.paper}`);
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Copy' }).click();
  await expect(page.getByRole('row', { name: /^Stair 1 100\.00 20 % 100\.00/ })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Invoice date' })).toHaveValue('20 Nov 2026');
  await page.goBack();
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Put right' }).click();
  await expect(page.getByRole('textbox', { name: 'Invoice date' })).toHaveValue('10 Nov 2026');
  await expect(page.getByLabel('What is wrong with')).toBeFocused();
  await page.keyboard.type('Wrong price');
  // Both are shown before either is posted, and looking takes nothing back.
  await expect(effect(page).getByText(`Reversal of ${made.posted.number}`)).toBeVisible();
  expect((await (await page.request.get(`${demo.url}/api/v1/papers/${made.posted.paper}`)).json()).reversedBy).toBe('');
  await expect(page.getByRole('textbox', { name: 'Reference' })).toHaveValue('PO 5');
  await page.getByRole('row', { name: /^Stair/ }).click();
  await page.getByRole('textbox', { name: 'Unit price, line 1' }).fill('90');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('link', { name: `in place of ${made.posted.number}` })).toBeVisible();
  await page.getByRole('link', { name: `in place of ${made.posted.number}` }).click();
  await expect(page.getByRole('link', { name: /written again as I26-/ })).toBeVisible();
  const left = (await (await page.request.get(`${demo.url}/api/v1/customers/${of}`)).json()).position.net;
  expect(left).toBe('108.00');
  await page.goto(`${demo.url}/customers/${of}`);
  await expect(page.getByRole('region', { name: 'Story' }).getByText(`in place of ${made.posted.number}`)).toBeVisible();
});

test('a receipt is put right: what it was set against is free to be set against again', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Paid the Other');
  const lines = [{ text: 'Stair', unitPrice: '100', taxCode: 1 }];
  const [first, second] = [await put(page, demo, 'invoices', { customer: of, day: '2026-11-02', lines }), await put(page, demo, 'invoices', { customer: of, day: '2026-11-03', lines })];
  const bench = await (await page.request.get(`${demo.url}/api/v1/customers/${of}/bench`)).json();
  const wrong = await put(page, demo, 'receipts', { customer: of, day: '2026-11-10', arrived: '120.00', bank: 1, method: 'transfer', placements: [{ item: bench.owed[0].id, amount: '120.00' }] });
  await page.goto(`${demo.url}/papers/new/receipt?again=${wrong.posted.paper}`);
  await expect(page.getByLabel('What is wrong with')).toBeFocused();
  await page.keyboard.type('It was for the other');
  const set = (number: string) => page.getByRole('textbox', { name: `Set against ${number}` });
  await expect(set(first.posted.number)).toHaveValue('120.00');
  await set(first.posted.number).fill('');
  await page.getByRole('row', { name: new RegExp(second.posted.number) }).getByRole('button', { name: 'Set against' }).click();
  await expect(set(second.posted.number)).toHaveValue('120.00'); // what fits is offered
  await press(page, 'Control+Enter');
  await expect(page.getByRole('region', { name: 'Story' }).getByText(`in place of ${wrong.posted.number}`)).toBeVisible();
  const after = await (await page.request.get(`${demo.url}/api/v1/customers/${of}/bench`)).json();
  expect(after.owed.map((i: { number: string }) => i.number)).toEqual([first.posted.number]);
});

test('several rows are chosen by keys: added up, printed, exported, set against', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Chosen Several');
  const invoice = await put(page, demo, 'invoices', { customer: of, day: '2026-11-02', lines: [{ text: 'Stair', unitPrice: '100', taxCode: 1 }] });
  for (const amount of ['30.00', '50.00']) await put(page, demo, 'receipts', { customer: of, day: '2026-11-10', arrived: amount, bank: 1, method: 'transfer', onAccount: true });
  await page.goto(`${demo.url}/papers?customer=${of}`);
  await expect(focusedRow(page)).toBeVisible();
  await press(page, ' ');
  await press(page, 'Shift+ArrowDown');
  const bar = page.getByRole('group', { name: 'What is chosen' });
  await expect(bar.getByText('2 chosen')).toBeVisible();
  await press(page, 'Control+a');
  await expect(bar.getByText('3 chosen')).toBeVisible();
  await bar.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: 'As CSV' }).click()]);
  expect(file.suggestedFilename()).toBe('papers.csv');
  await bar.getByRole('button', { name: 'Set against' }).click();
  await expect(page.getByLabel(/^Amount/).first()).toHaveValue(/30\.00|50\.00/);
  await press(page, 'Control+Enter');
  await expect(page.getByText('Set against. It stands under')).toBeVisible();
  expect((await (await page.request.get(`${demo.url}/api/v1/papers/${invoice.posted.paper}`)).json()).open).toBe('40.00');
  await page.goto(`${demo.url}/papers?customer=${of}&kind=receipt`);
  await expect(focusedRow(page)).toBeVisible();
  await press(page, 'Control+a');
  await expect(bar.getByText('80.00')).toBeVisible();
  await bar.getByRole('button', { name: 'Print' }).click();
  await expect(page.getByRole('button', { name: 'Print 2' })).toBeEnabled();
  expect(await page.getByRole('article').count()).toBe(2);
  await press(page, 'Escape');
  await expect(focusedRow(page)).toBeVisible();
  await press(page, ' ');
  await press(page, 'Escape');
  await expect(bar).toBeHidden();
  await expect(page).toHaveURL(/papers\?/);
});

test('the firm writes days and numbers its own way, and reads them so', async ({ page }) => {
  const own = await start(['demo']);
  try {
    await signIn(page, own.url);
    await page.goto(`${own.url}/setup/firm`);
    await page.getByLabel('Dates are written').selectOption({ label: '20.11.2026' });
    await page.getByLabel('Numbers are written').selectOption({ label: '1.234,56' });
    await press(page, 'Control+Enter');
    await expect(page.getByText('Saved.')).toBeVisible();
    await page.goto(`${own.url}/papers/new/deposit?customer=4`);
    await page.getByRole('textbox', { name: 'Amount' }).pressSequentially('1.250');
    await page.getByRole('textbox', { name: 'Date' }).fill('2/11');
    await page.keyboard.press('Tab');
    await expect(page.getByRole('textbox', { name: 'Date' })).toHaveValue('02.11.2026');
    await expect(page.getByRole('textbox', { name: 'Amount' })).toHaveValue('1.250,00');
    await expect(effect(page).getByRole('table', { name: 'Journal entry' }).getByText('1.250,00').first()).toBeVisible();
  } finally {
    await stop(own);
  }
});

test('what is late is promised, and the desk keeps the promise', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Promises Much');
  const made = await put(page, demo, 'invoices?confirmed=long%20past', { customer: of, day: '2026-10-01', due: '2026-10-10', lines: [{ text: 'Stair', unitPrice: '100', taxCode: 1 }] });
  await page.goto(`${demo.url}/papers/${made.posted.paper}`);
  await page.getByRole('button', { name: 'Promised' }).click();
  await expect(page.getByRole('textbox', { name: 'Promised for' })).toBeFocused();
  await page.keyboard.type('19 nov');
  await press(page, 'Control+Enter');
  await expect(page.getByText('Say a day from 20 Nov 2026 on.').first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Promised for' }).fill('24 nov');
  await press(page, 'Control+Enter');
  await expect(page.getByText(/promised for 24 Nov 2026/)).toBeVisible();
  const groups = async (asOf: string) => JSON.stringify((await (await page.request.get(`${demo.url}/api/v1/desk?asOf=${asOf}`)).json()).groups);
  expect(await groups('2026-11-20')).not.toContain(made.posted.number);
  expect(await groups('2026-11-25')).toContain(made.posted.number);
});

test('behind a figure of the tax return stand its papers, the first and then more', async ({ page, demo }) => {
  await page.goto(`${demo.url}/ledger/tax?from=2025-01-01&through=2026-10-31`);
  const table = page.getByRole('table', { name: 'Tax return' });
  const row = table.getByRole('row', { name: /Standard 20 %/ }).first();
  await row.getByRole('button').click();
  await expect(table.getByRole('link')).toHaveCount(100);
  const count = Number(await row.getByRole('cell').nth(1).textContent());
  const more = table.getByRole('button', { name: /more$/ });
  await expect(more).toHaveText(`${count - 100} more`);
  await more.click();
  await expect(table.getByRole('link')).toHaveCount(count);
  await expect(more).toHaveCount(0);
  await expectAccessible(page);
});

test('statements for all take the day’s own set and say when there is none; the search knows parts of an amount', async ({ page, demo }) => {
  await page.goto(`${demo.url}/customers/statements?through=2025-01-31`);
  await page.getByRole('button', { name: 'Make them' }).click();
  await expect(page.getByText('Nothing happened in that span, and nobody owed anything')).toBeVisible();
  await press(page, '/');
  await page.keyboard.type('363');
  await expect(page.getByRole('option', { name: /U26-0002.*363\.50/ })).toBeVisible();
  await page.getByRole('combobox', { name: 'Find a name, number, amount' }).fill('odalys');
  await expect(page.getByRole('option', { name: /Odalys Brandt/ }).first()).toBeVisible();
  await expect(page.getByRole('option', { name: /212 Oak helical/ })).toBeVisible();
  await expect(page.getByRole('option', { name: /I26-\d+.* open · paper/ }).first()).toBeVisible();
});

test('what happened knows the trade’s words, and what the place knows is looked at first', async ({ page, demo }) => {
  await page.goto(`${demo.url}/customers/1`);
  await expect(page.getByRole('heading', { level: 1, name: 'Odalys Brandt' })).toBeVisible();
  for (const word of ['copy', 'wrong amount', 'discount', 'dispute', 'late', 'interest', 'reminder', 'expense', 'opening', 'promise', 'prepayment', 'recovery', 'contra', 'allowance', 'tie-out', 'retention', 'withheld', 'overpayment', 'reversal', 'write-off']) {
    await press(page, 'w');
    await page.keyboard.type(word);
    await expect(page.getByRole('option').first(), word).toBeVisible();
    await press(page, 'Escape');
    await expect(page.getByRole('combobox', { name: 'What happened?' })).toHaveCount(0);
  }
  await press(page, 'w');
  await page.keyboard.type('before we billed');
  await press(page, 'Enter');
  const who = page.getByRole('combobox', { name: 'Customer' });
  await expect(who).toBeFocused();
  await expect(who).toHaveValue('Odalys Brandt');
  await page.keyboard.type('corvane');
  await press(page, 'Tab');
  await expect(who).toHaveValue('Corvane Interiors');
  await page.getByRole('textbox', { name: 'Amount' }).focus();
  await press(page, 'Control+Alt+w'); // from inside a field
  await expect(page.getByRole('combobox', { name: 'What happened?' })).toBeFocused();
  await press(page, 'Escape');
  await page.getByRole('button', { name: 'Throw away' }).click();
  await expect(page.getByText('Thrown away.')).toBeVisible();
});
