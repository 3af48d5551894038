import { camt, entry } from './camt';
import { customer, expect, expectAccessible, put, test } from './firm';

test('a file of the bank is read, each line tied or made into a paper by keys, and taken off again', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Pays By The Bank');
  const invoice = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-17', lines: [{ text: 'Rail', unitPrice: '731', taxCode: 1 }] })).posted;
  const deposit = (await put(page, demo, 'deposits', { customer: of, day: '2026-11-18', amount: '613.07', bank: 1, method: 'transfer' })).posted;
  await page.goto(`${demo.url}/desk`);
  await expect(page.getByRole('heading', { name: /loose end/ })).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('b');
  await page.getByRole('table', { name: 'Bank accounts' }).getByRole('link', { name: 'Bank', exact: true }).click();
  await expect(page.getByText('Nothing was read of this account yet.')).toBeVisible();
  await expectAccessible(page);
  const read = (name: string, text: string) =>
    page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/xml', buffer: Buffer.from(text) });
  // A file that does not add up changes nothing.
  await read('wrong.xml', camt('1000.00', '1.00', entry('613.07', 'CRDT', '2026-11-18', 'X1', 'PAYS BY THE BANK', 'STAIR')));
  await expect(page.getByRole('dialog')).toContainText('The statement does not add up');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(page.getByText('Nothing was read of this account yet.')).toBeVisible();
  const file = camt(
    '1000.00',
    '2878.27',
    entry('613.07', 'CRDT', '2026-11-18', 'X1', 'PAYS BY THE BANK', 'STAIR'),
    entry('877.20', 'CRDT', '2026-11-19', 'X2', 'PAYS BY THE BANK', invoice.number),
    entry('400.00', 'CRDT', '2026-11-19', 'X3', 'SOMEBODY ELSE', 'ADVANCE'),
    entry('12.00', 'DBIT', '2026-11-20', 'X4', '', 'FEES'),
  );
  await read('november.xml', file);
  await expect(page.getByText('4 lines were read.')).toBeVisible();
  const may = page.getByRole('region', { name: 'What it may be' });
  await expect(may).toContainText('posted already, to the cent, the name is Pays By The Bank');
  await expectAccessible(page);
  const line = (name: RegExp) => page.getByRole('row', { name });
  await line(/STAIR/).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(`Tied to ${deposit.number}.`)).toBeVisible();
  await expect(line(/STAIR/)).toHaveCount(0);
  // An invoice that is open is settled by a receipt, filled in.
  await line(new RegExp(invoice.number)).focus();
  await expect(may).toContainText(`the amount fits, it names ${invoice.number}`);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Amount received' })).toHaveValue('877.20');
  await expect(page.getByRole('complementary')).toContainText('877.20');
  await page.keyboard.press('Control+Enter');
  await expect(line(/ADVANCE/)).toBeVisible();
  await expect(line(new RegExp(invoice.number))).toHaveCount(0);
  // What nothing fits becomes what one says, by a letter.
  await line(/ADVANCE/).focus();
  await expect(may).toContainText('Nothing that was posted, or is open, fits.');
  await page.keyboard.press('d');
  await expect(page.getByRole('textbox', { name: 'Amount', exact: true })).toHaveValue('400.00');
  await expect(page.getByRole('group', { name: 'Line of the bank' })).toContainText('Explains 400.00 of 19 Nov 2026 at the bank: SOMEBODY ELSE · ADVANCE');
  await page.getByRole('combobox', { name: 'Customer' }).fill('Pays By The B');
  await page.getByRole('option', { name: /Pays By The Bank/ }).click();
  await expect(page.getByRole('complementary')).toContainText('400.00');
  // Another amount than the bank's is refused.
  await page.getByRole('textbox', { name: 'Amount', exact: true }).fill('401');
  await expect(page.getByText(/The bank says 400\.00 on 19 Nov 2026, and this moves 401\.00/).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Amount', exact: true }).fill('400');
  await expect(page.getByText(/this moves 401\.00/)).toHaveCount(0);
  await page.keyboard.press('Control+Enter');
  await expect(line(/FEES/)).toBeVisible();
  await expect(line(/ADVANCE/)).toHaveCount(0);
  await line(/FEES/).focus();
  await page.keyboard.press('h');
  await expect(page.getByRole('complementary')).toContainText('Bank charges');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Every line that was read is explained.')).toBeVisible();
  // What is left between the books and the bank is told; here there was something before.
  await page.getByRole('link', { name: 'Reconcile' }).click();
  await expect(page.getByRole('table', { name: 'Reconciliation' })).toContainText('The bank says2,878.27');
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText(/they are .* apart/).first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Every line that was read is explained.')).toBeVisible();
  // Read again, nothing is new; a tie is taken off.
  await read('november.xml', file);
  await expect(page.getByText('0 of 4 lines were new.')).toBeVisible();
  await page.getByRole('button', { name: 'All', exact: true }).click();
  await expect(line(/STAIR/)).toContainText(deposit.number);
  await expectAccessible(page);
  await line(/STAIR/).focus();
  await page.getByRole('button', { name: 'Take the tie off' }).click();
  await expect(page.getByText('The line is unexplained again.')).toBeVisible();
  await page.goto(`${demo.url}/desk`);
  await page.getByRole('region', { name: 'Lines of the bank that nothing explains' }).getByRole('row').first().click();
  await expect(line(/STAIR/)).toBeVisible();
});

test('a CSV is read by its columns, which are kept', async ({ page, demo }) => {
  await put(page, demo, 'banks', { name: 'Savings by CSV' });
  const all = (await (await page.request.get(`${demo.url}/api/v1/banks`)).json()).rows as { id: number; name: string }[];
  const bank = all.find((b) => b.name === 'Savings by CSV')!.id;
  await page.goto(`${demo.url}/bank/${bank}`);
  const read = (text: string) => page.locator('input[type=file]').setInputFiles({ name: 'x.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
  await read('Day;What;Amount\n19.11.2026;INTEREST;1,25\n');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('INTEREST');
  await expectAccessible(page);
  await dialog.getByRole('combobox', { name: 'Date', exact: true }).selectOption('Day');
  await dialog.getByRole('combobox', { name: 'Amount, in one column' }).selectOption('Amount');
  await dialog.getByRole('combobox', { name: 'Text' }).selectOption('What');
  await dialog.getByRole('button', { name: 'Read it' }).click();
  await expect(dialog).toContainText('"19.11.2026" is no day in the form 2026-11-20.');
  await dialog.getByRole('combobox', { name: 'Dates are written' }).selectOption('20.11.2026');
  await dialog.getByRole('checkbox', { name: 'A comma stands before the places' }).check();
  await dialog.getByRole('button', { name: 'Read it' }).click();
  await expect(page.getByRole('row', { name: /INTEREST/ })).toContainText('1.25');
  await read('Day;What;Amount\n20.11.2026;MORE;2,50\n');
  await expect(dialog.getByRole('combobox', { name: 'Date', exact: true })).toHaveValue('Day');
  await dialog.getByRole('button', { name: 'Read it' }).click();
  await expect(page.getByRole('row', { name: /MORE/ })).toContainText('2.50');
});
