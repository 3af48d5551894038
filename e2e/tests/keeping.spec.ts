import { expect, signIn, start, stop, test } from './firm';
import { expectAccessible } from './firm';
import { rmSync } from 'node:fs';

test('a session lost in the middle of a draft loses nothing that was typed', async ({ page, demo }) => {
  await page.goto(`${demo.url}/papers/new/invoice?customer=2`);
  await page.getByRole('combobox', { name: 'What, line 1' }).fill('Before the session ended');
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.context().clearCookies();
  await page.getByRole('combobox', { name: 'What, line 1' }).fill('Typed after the session ended');
  const again = page.getByRole('dialog', { name: 'Sign in again' });
  await expect(again).toBeVisible();
  await expectAccessible(page);
  await again.getByLabel('E-mail').fill('office@sparrow-winder.example');
  await again.getByLabel('Password').fill('winding stairs');
  await page.keyboard.press('Enter');
  await expect(again).toBeHidden();
  await expect(page.getByRole('combobox', { name: 'What, line 1' })).toHaveValue('Typed after the session ended');
  await page.getByRole('textbox', { name: 'Unit price, line 1' }).fill('100');
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByRole('row', { name: /Typed after the session ended.* 100\.00/ })).toBeVisible();
  await page.getByRole('button', { name: 'Throw away' }).click();
  await expect(page.getByRole('button', { name: 'Throw away' })).toHaveCount(0);
});

test('two windows: the same draft, and the same deposit', async ({ page, demo, context }) => {
  const made = await page.request.post(`${demo.url}/api/v1/customers`, { data: { name: 'Two Windows' } });
  const customer = (await made.json()).id;
  await page.request.post(`${demo.url}/api/v1/deposits`, { data: { customer, day: '2026-11-20', amount: '500.00', bank: 1, method: 'cash' } });
  await page.request.post(`${demo.url}/api/v1/invoices`, { data: { customer, day: '2026-11-20', lines: [{ text: 'x', unitPrice: '1000', taxCode: 1 }] } });

  const other = await context.newPage();
  for (const p of [page, other]) {
    await p.goto(`${demo.url}/customers/${customer}`);
    await expect(p.locator('[data-card]')).toHaveCount(2);
    for (const card of await p.locator('[data-card]').all()) await card.click();
    await expect(p.getByLabel('Amount of the pair')).toHaveValue('500.00');
    await p.getByLabel('Amount of the pair').fill('400');
    await expect(p.getByText('400.00 set against in 1 pair')).toBeVisible();
  }
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('button', { name: 'Set against lately (1)' })).toBeVisible(); // posted, not only shown
  await other.keyboard.press('Control+Enter');
  await expect(other.getByText(/Only 100\.00 of D26-\d+ is open, not 400\.00\. Take 100\.00 or less\./).first()).toBeVisible();

  await page.goto(`${demo.url}/papers/new/deposit?customer=${customer}`);
  await page.getByRole('textbox', { name: 'Amount' }).fill('5');
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await other.goto(page.url());
  await other.getByRole('textbox', { name: 'Reference' }).fill('from the other window');
  await expect(other.getByText('saved', { exact: true })).toBeVisible();
  await page.getByRole('textbox', { name: 'Reference' }).fill('from this window');
  await expect(page.getByText('This draft was changed in another window')).toBeVisible();
  await page.getByRole('button', { name: 'Take the other, and lose what is here' }).click();
  await expect(page.getByRole('textbox', { name: 'Reference' })).toHaveValue('from the other window');
  await page.getByRole('button', { name: 'Throw away' }).click();
  await expect(page.getByRole('button', { name: 'Throw away' })).toHaveCount(0);
});

test('a refused post keeps every field and puts the cursor where the trouble is', async ({ page, demo }) => {
  await page.goto(`${demo.url}/papers/new/deposit`);
  const amount = page.getByRole('textbox', { name: 'Amount' });
  await amount.fill('86,40+12');
  await expect(page.getByText('= 98.40')).toBeVisible();
  await page.getByRole('textbox', { name: 'Date' }).fill('31 feb');
  await expect(page.getByRole('complementary', { name: 'Effect' }).getByText('31 feb')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('alert').getByText('Say which customer this is for.')).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Date' })).toBeFocused();
  await page.getByRole('textbox', { name: 'Date' }).fill('1/1/2027');
  await page.getByRole('combobox', { name: 'Customer' }).fill('brandt');
  await page.getByRole('option', { name: /Odalys Brandt/ }).click();
  await expect(page.getByText('1 Jan 2027 is in the future: today is 20 Nov 2026.')).toBeVisible();
  await page.getByRole('button', { name: 'Post' }).click();
  await page.getByRole('button', { name: 'Post all the same' }).click();
  await expect(page.getByRole('heading', { name: /Deposit D27-/ })).toBeVisible();
});

test('a name is a name, whatever it holds', async ({ page, demo }) => {
  const name = `<img src=x onerror=alert(1)> "O'Neil" שלום 🪜`;
  const { id } = await (await page.request.post(`${demo.url}/api/v1/customers`, { data: { name } })).json();
  await page.goto(`${demo.url}/customers/${id}`);
  await expect(page.getByRole('heading', { name })).toBeVisible();
  await page.goto(`${demo.url}/customers?q=${encodeURIComponent('<img')}`);
  await expect(page.getByRole('row', { name: /O'Neil/ })).toBeVisible();
});

test('the first start: the firm is set up in one screen, records are imported, a first deposit is taken', async ({ page }) => {
  const firm = await start(['serve', '--today', '2026-11-20']);
  await page.goto(firm.url);
  await expect(page.getByRole('heading', { name: 'A new set of books' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Firm is missing. Write one.').first()).toBeVisible();
  await page.getByLabel('Name of the firm').fill('Test Joinery');
  await page.getByLabel('Your name').fill('Ada');
  await page.getByLabel('E-mail').fill('ada@joinery.example');
  await page.getByLabel('Password, 12 characters or more').fill('a long password');
  await page.getByRole('button', { name: 'Open the books' }).click();
  await expect(page.getByRole('heading', { name: 'No loose ends' })).toBeVisible();
  await expectAccessible(page);

  await page.goto(`${firm.url}/setup/import?kind=customers`);
  const file = (text: string) => page.locator('input[type=file]').setInputFiles({ name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await file('Name,Terms\nGood One,30 days\n,14 days\nBad Terms,never\n');
  await expect(page.getByText('people.csv: 1 new, 0 changed, 2 refused')).toBeVisible();
  await expect(page.getByRole('row', { name: /^3 .*Name is missing/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^4 .*There is no terms “?"?never/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Import' })).toBeDisabled();
  await file('Name,Terms\nGood One,30 days\n');
  await expect(page.getByText('people.csv: 1 new, 0 changed, 0 refused')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('– imported')).toBeVisible();

  await page.keyboard.press('w');
  await page.keyboard.type('before');
  await page.keyboard.press('Enter');
  await page.getByRole('combobox', { name: 'Customer' }).fill('good');
  await expect(page.getByRole('option', { name: /Good One/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.getByRole('textbox', { name: 'Amount' }).fill('1500');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { name: 'Deposit D26-0001' })).toBeVisible();
  await stop(firm);
  rmSync(firm.dir, { recursive: true });
});

test('a long import tells how far it is, is stopped, and says what is left', async ({ page }) => {
  const firm = await start(['demo']);
  await signIn(page, firm.url);
  await page.goto(`${firm.url}/setup/import?kind=customers`);
  const rows = 12000;
  const text = 'Name\n' + Array.from({ length: rows }, (_, n) => `Imported ${n}`).join('\n') + '\n';
  await page.locator('input[type=file]').setInputFiles({ name: 'people.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await expect(page.getByText(`of ${rows} rows`)).toBeVisible();
  await expect(page.getByText(`people.csv: ${rows} new, 0 changed, 0 refused`)).toBeVisible({ timeout: 60000 });
  await page.getByRole('button', { name: /^Import/ }).click();
  await expect(page.getByText(/^Imported \d+ of/)).toBeVisible({ timeout: 60000 });
  await page.getByRole('button', { name: 'Stop' }).click();
  const said = page.getByText(/The import was stopped after \d+ of 12000 rows: what stands in the file from row \d+ on is not imported/).first();
  await expect(said).toBeVisible();
  const done = Number(/after (\d+) of/.exec((await said.textContent())!)![1]);
  const list = await (await page.request.get(`${firm.url}/api/v1/customers?q=Imported&limit=1`)).json();
  expect(list.count).toBe(done);
  await page.getByRole('button', { name: /Import the rest, from row \d+/ }).click();
  await expect(page.getByText(`people.csv: ${rows - done} new, 0 changed, 0 refused – imported`)).toBeVisible({ timeout: 60000 });
  const whole = await (await page.request.get(`${firm.url}/api/v1/customers?q=Imported&limit=1`)).json();
  expect(whole.count).toBe(rows);
  await stop(firm);
  rmSync(firm.dir, { recursive: true });
});

test('records, numbers and the period lock are kept in the interface', async ({ page }) => {
  const firm = await start(['demo']);
  await signIn(page, firm.url);
  await page.goto(`${firm.url}/setup/articles`);
  await page.getByRole('button', { name: 'New article' }).click();
  await page.getByLabel('Code', { exact: true }).fill('NEWEL');
  await page.getByLabel('Name', { exact: true }).fill('Newel post');
  await page.getByLabel('Price', { exact: true }).fill('2*45,50');
  await expect(page.getByText('= 91.00')).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('row', { name: /NEWEL Newel post service.*91\.00/ })).toBeVisible();
  await page.goto(`${firm.url}/setup/numbers`);
  const numbering = page.locator('form').filter({ has: page.getByLabel('Invoice', { exact: true }) });
  await numbering.getByLabel('Invoice').fill('no number');
  await numbering.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/is no numbering/)).toBeVisible();
  await page.goto(`${firm.url}/ledger/closing`);
  await expect(page.getByRole('textbox', { name: 'Close through' })).toHaveValue('31 Oct 2026');
  await page.getByRole('button', { name: /^Lock through 31 Oct 2026/ }).click();
  await expect(page.getByText('The books are locked through 31 Oct 2026')).toBeVisible();
  await page.goto(`${firm.url}/papers/new/deposit?customer=1`);
  await page.getByRole('textbox', { name: 'Amount' }).fill('5');
  await page.getByRole('textbox', { name: 'Date' }).fill('31 oct');
  await expect(page.getByText('The books are locked through 31 Oct 2026, so nothing can be dated 31 Oct 2026. Use 1 Nov 2026 or later.').first()).toBeVisible();
  await page.goto(`${firm.url}/ledger/record`);
  await expect(page.getByText('Locked the books through 31 Oct 2026')).toBeVisible();
  await stop(firm);
  rmSync(firm.dir, { recursive: true });
});
