import type { Page } from '@playwright/test';
import { camt, entry } from './camt';
import { customer, expect, expectAccessible, put, session, signIn, start, stop, test, twoKeys, type Firm } from './firm';

/** Opens an account at a bank of its own. */
async function account(page: Page, firm: Firm, name: string): Promise<number> {
  await put(page, firm, 'banks', { name });
  const all = (await (await page.request.get(`${firm.url}/api/v1/banks`)).json()).rows as { id: number; name: string }[];
  return all.find((b) => b.name === name)!.id;
}

const line = (page: Page, name: RegExp) => page.getByRole('row', { name });

const read = (page: Page, name: string, text: string) =>
  page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/xml', buffer: Buffer.from(text) });

/** Waits until what each line may be stands beside it: the lines are there before. */
const compared = (page: Page) => expect(page.getByRole('table', { name: 'Lines of the bank' })).toHaveAttribute('aria-busy', 'false');

test('a file of the bank is read, each line tied or made into a paper by keys, and taken off again', async ({ page, demo }) => {
  const bank = await account(page, demo, 'Quay Bank');
  const of = await customer(page, demo, 'Pays By The Bank');
  const invoice = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-17', lines: [{ text: 'Rail', unitPrice: '731', taxCode: 1 }] })).posted;
  const deposit = (await put(page, demo, 'deposits', { customer: of, day: '2026-11-18', amount: '613.07', bank, method: 'transfer' })).posted;
  await page.goto(`${demo.url}/desk`);
  await expect(page.getByRole('heading', { name: /loose end/ })).toBeVisible();
  await twoKeys(page, 'g', 'b', page.getByRole('table', { name: 'Bank accounts' }));
  await expectAccessible(page);
  await page.getByRole('table', { name: 'Bank accounts' }).getByRole('link', { name: 'Quay Bank' }).click();
  await expect(page.getByText('Nothing was read of this account yet.')).toBeVisible();
  await expectAccessible(page);
  // A file that does not add up changes nothing.
  await read(page, 'wrong.xml', camt('1000.00', '1.00', entry('613.07', 'CRDT', '2026-11-18', 'X1', 'PAYS BY THE BANK', 'STAIR')));
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
  await read(page, 'november.xml', file);
  await expect(page.getByText('4 lines were read.')).toBeVisible();
  const may = page.getByRole('region', { name: 'What it may be' });
  await expect(may).toContainText('posted already, to the cent, the name is Pays By The Bank');
  await expectAccessible(page);
  await line(page, /STAIR/).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText(`Tied to ${deposit.number}.`)).toBeVisible();
  await expect(line(page, /STAIR/)).toHaveCount(0);
  // An invoice that is open is settled by a receipt, filled in.
  await line(page, new RegExp(invoice.number)).focus();
  await expect(may).toContainText(`the amount fits, it names ${invoice.number}`);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'Amount received' })).toHaveValue('877.20');
  await expect(page.getByRole('complementary')).toContainText('877.20');
  await page.keyboard.press('Control+Enter');
  await expect(line(page, /ADVANCE/)).toBeVisible();
  await expect(line(page, new RegExp(invoice.number))).toHaveCount(0);
  // What nothing fits becomes what one says, by a letter.
  await line(page, /ADVANCE/).focus();
  await expect(may).toContainText('Nothing that was posted, or is open, fits.');
  await expectAccessible(page);
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
  await expect(line(page, /FEES/)).toBeVisible();
  await expect(line(page, /ADVANCE/)).toHaveCount(0);
  await line(page, /FEES/).focus();
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
  await read(page, 'november.xml', file);
  await expect(page.getByText('0 of 4 lines were new.')).toBeVisible();
  await page.getByRole('button', { name: 'All', exact: true }).click();
  await expect(line(page, /STAIR/)).toContainText(deposit.number);
  await expectAccessible(page);
  await line(page, /STAIR/).focus();
  await page.getByRole('button', { name: 'Take the tie off' }).click();
  await expect(page.getByText('The line is unexplained again.')).toBeVisible();
  await page.goto(`${demo.url}/desk`);
  await page.getByRole('region', { name: 'Lines of the bank that nothing explains' }).getByRole('row', { name: /Quay Bank/ }).click();
  await expect(line(page, /STAIR/)).toBeVisible();
});

test('a CSV is read by its columns, which are kept', async ({ page, demo }) => {
  const bank = await account(page, demo, 'Savings by CSV');
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

test('a month at the bank: what was paid, paid ahead, given back, charged, unknown, a cheque, a card payout; then reconciled, printed and locked', async ({
  page,
}) => {
  const firm = await start(['serve', '--today', '2026-11-20']);
  try {
    const setup = { firm: 'Lattice Stairs', currency: 'EUR', bank: 'Bank', owner: 'W', email: 'office@sparrow-winder.example', password: 'winding stairs', codes: [{ code: 'STD', percent: '20' }] };
    const answer = await page.request.post(`${firm.url}/api/v1/setup`, { data: setup });
    expect(answer.ok(), await answer.text()).toBe(true);
    await page.context().addCookies(await session(firm.url));
    const brandt = await customer(page, firm, 'Odalys Brandt');
    const surgery = await customer(page, firm, 'Vesper Lane Surgery');
    const bill = async (of: number, net: string, day: string) =>
      (await put(page, firm, 'invoices', { customer: of, day, lines: [{ text: 'Stair', unitPrice: net, taxCode: 1 }] })).posted as { paper: number; number: string };
    const paid = await bill(brandt, '1000', '2026-11-02');
    await bill(surgery, '500', '2026-11-03'); // 600.00, which is not what arrives
    // Bought, paid and brought back: its credit note is there, its money not yet.
    const back = await bill(surgery, '100', '2026-11-03');
    const item = async (of: number) => ((await (await page.request.get(`${firm.url}/api/v1/papers/${of}`)).json()).parts as { itemId: number }[])[0]!.itemId;
    await put(page, firm, 'receipts?confirmed=future', { customer: surgery, day: '2026-11-04', arrived: '120.00', bank: 2, method: 'cash', placements: [{ item: await item(back.paper) }] });
    await put(page, firm, 'credit-notes', { paper: back.paper, day: '2026-11-05', cause: 'return', what: 'all', text: 'came back' });
    const cheque = (await put(page, firm, 'deposits', { customer: brandt, day: '2026-11-05', amount: '300.00', bank: 1, method: 'cheque', reference: 'CHQ 77' })).posted as { number: string };
    await put(page, firm, 'receipts', { customer: brandt, day: '2026-11-06', arrived: '50.00', bank: 3, method: 'card', onAccount: true });
    await page.goto(`${firm.url}/bank/1`);
    await read(
      page,
      'november.xml',
      camt(
        '0.00',
        '2175.75',
        entry('1200.00', 'CRDT', '2026-11-09', 'A1', 'ODALYS BRANDT', `INVOICE ${paid.number}`),
        entry('600.00', 'CRDT', '2026-11-10', 'A2', 'ODALYS BRANDT', 'DEPOSIT WINDOW SEAT'),
        entry('120.00', 'DBIT', '2026-11-11', 'A3', 'VESPER LANE SURGERY', 'BACK'),
        entry('12.50', 'DBIT', '2026-11-12', 'A4', '', 'ACCOUNT FEE'),
        entry('160.00', 'CRDT', '2026-11-13', 'A5', 'B PENHALLOW', 'HELLO'),
        entry('300.00', 'CRDT', '2026-11-13', 'A6', '', 'CHQ 77'),
        entry('48.25', 'CRDT', '2026-11-16', 'A7', 'CARD GATEWAY', 'PAYOUT'),
      ),
    );
    await expect(page.getByText('7 lines were read.')).toBeVisible();
    const may = page.getByRole('region', { name: 'What it may be' });
    const post = async (gone: RegExp) => {
      await expect(page.getByRole('complementary')).toContainText('balances');
      await page.keyboard.press('Control+Enter');
      await expect(page.getByRole('heading', { level: 1, name: 'Bank' })).toBeVisible();
      await expect(line(page, gone)).toHaveCount(0);
    };
    // An invoice, paid.
    await line(page, /INVOICE I26/).focus();
    await expect(may).toContainText(`Receipt of ${paid.number}`);
    await page.keyboard.press('Enter');
    await post(/INVOICE I26/);
    // Money in advance of somebody else than the invoice of that amount: what speaks against it is said.
    await line(page, /WINDOW SEAT/).focus();
    await expect(may).toContainText(/the amount fits.*but .*the name is another’s|the amount fits.*but .*the name is another's: Odalys Brandt/);
    await page.keyboard.press('d');
    await page.getByRole('combobox', { name: 'Customer' }).fill('Odalys');
    await page.getByRole('option', { name: /Odalys Brandt/ }).click();
    await post(/WINDOW SEAT/);
    // A refund of what came back, its credit note is there.
    await line(page, /BACK/).focus();
    await expect(may).toContainText('Refund of CN26-0001');
    await page.keyboard.press('Enter');
    await expect(page.getByRole('group', { name: 'Line of the bank' })).toContainText('120.00');
    // It was paid in cash then: that is asked once.
    await expect(page.getByRole('complementary')).toContainText('balances');
    await page.keyboard.press('Control+Enter');
    await expect(page.getByText('came by cash. Is it to go back by transfer?').first()).toBeVisible();
    await expect(page.getByRole('button', { name: /all the same/ })).toBeVisible();
    await post(/BACK/);
    await line(page, /ACCOUNT FEE/).focus();
    await page.keyboard.press('h');
    await post(/ACCOUNT FEE/);
    await line(page, /HELLO/).focus();
    await page.keyboard.press('i');
    await post(/HELLO/);
    // The cheque that was taken to the bank is found there.
    await line(page, /CHQ 77/).focus();
    await expect(may).toContainText(`Tie to ${cheque.number}`);
    await page.keyboard.press('Enter');
    await expect(line(page, /CHQ 77/)).toHaveCount(0);
    await line(page, /CARD GATEWAY/).focus();
    await expect(may).toContainText('50.00 waits in card takings: the fee would be 1.75');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: /Take all/ }).click();
    await expect(page.getByRole('textbox', { name: 'Fee' })).toHaveValue('1.75');
    await post(/CARD GATEWAY/);
    await expect(page.getByText('Every line that was read is explained.')).toBeVisible();
    await page.getByRole('link', { name: 'Reconcile' }).click();
    await expect(page.getByText('it agrees', { exact: true })).toBeVisible();
    await page.emulateMedia({ media: 'print' });
    await expect(page.getByRole('table', { name: 'Reconciliation' })).toBeVisible();
    await expect(page.getByRole('navigation', { name: 'Places' })).toBeHidden();
    await page.emulateMedia({ media: 'screen' });
    await page.keyboard.press('Control+Enter');
    await expect(page.getByText('through 20 Nov 2026, by W')).toBeVisible();
    await page.goto(`${firm.url}/ledger/tie-out`);
    await expect(line(page, /Bank bank, reconciled through 20 Nov 2026/)).toContainText('ties out');
    const locked = await page.request.put(`${firm.url}/api/v1/lock`, { data: { through: '2026-11-20' } });
    expect(locked.ok()).toBe(true);
    // What is locked stays.
    await page.goto(`${firm.url}/bank/1?of=all`);
    await line(page, /CHQ 77/).focus();
    await page.getByRole('button', { name: 'Take the tie off' }).click();
    await expect(page.getByText(/The books are locked through 20 Nov 2026, and this line is of/)).toBeVisible();
  } finally {
    await stop(firm);
  }
});

test('one transfer is explained by several papers, one after the other, and two lines by one', async ({ page, demo }) => {
  const bank = await account(page, demo, 'Ferry Bank');
  const of = await customer(page, demo, 'Pays For Two');
  await put(page, demo, 'deposits', { customer: of, day: '2026-11-16', amount: '410.00', bank, method: 'transfer' });
  await put(page, demo, 'deposits', { customer: of, day: '2026-11-18', amount: '77.00', bank, method: 'transfer' });
  await page.goto(`${demo.url}/bank/${bank}`);
  await read(
    page,
    'x.xml',
    camt('0.00', '987.00', entry('910.00', 'CRDT', '2026-11-17', 'S1', '', 'ALL IN ONE'), entry('40.00', 'CRDT', '2026-11-18', 'S2', '', 'FIRST HALF'), entry('37.00', 'CRDT', '2026-11-18', 'S3', '', 'OTHER HALF')),
  );
  await line(page, /ALL IN ONE/).focus();
  await page.keyboard.press('v');
  await expect(page.getByRole('heading', { level: 1, name: 'Several that belong together' })).toBeVisible();
  await expectAccessible(page);
  const posted = page.getByRole('table', { name: 'Posted, and not at the bank yet' });
  await posted.getByRole('row', { name: /410\.00/ }).focus();
  await page.keyboard.press(' ');
  await expect(page.getByText('For the 500.00 that are left')).toBeVisible();
  await expect(page.getByRole('button', { name: /Tie them/ })).toBeDisabled();
  await page.getByRole('region', { name: 'Make what is left' }).getByRole('link', { name: 'Deposit' }).click();
  await expect(page.getByRole('textbox', { name: 'Amount', exact: true })).toHaveValue('500.00');
  await expect(page.getByRole('group', { name: 'Line of the bank' })).toContainText('Explains a part of 910.00');
  await page.getByRole('combobox', { name: 'Customer' }).fill('Pays For T');
  await page.getByRole('option', { name: /Pays For Two/ }).click();
  await expect(page.getByRole('complementary')).toContainText('balances');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Several that belong together' })).toBeVisible();
  await expect(page.getByRole('button', { name: /Tie them/ })).toBeEnabled();
  await expect(posted.getByRole('checkbox', { checked: true })).toHaveCount(2);
  await page.keyboard.press('Control+Enter');
  await expect(line(page, /FIRST HALF/)).toBeVisible();
  await expect(line(page, /ALL IN ONE/)).toHaveCount(0);
  // Two lines, chosen by the space bar, and what was posted in one.
  await line(page, /FIRST HALF/).focus();
  await page.keyboard.press(' ');
  await line(page, /OTHER HALF/).focus();
  await page.keyboard.press(' ');
  await expect(page.getByRole('button', { name: 'Tie these 2 together' })).toBeVisible();
  await page.keyboard.press('v');
  await expect(page.getByText('The bank says, in 2 lines')).toBeVisible();
  await posted.getByRole('checkbox').first().click();
  await expect(posted.getByRole('checkbox', { checked: true })).toHaveCount(1);
  await expect(page.getByRole('button', { name: /Tie them/ })).toBeEnabled();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Every line that was read is explained.')).toBeVisible();
});

test('lines are typed, taken away again, and fetched from the bank', async ({ page, demo }) => {
  const bank = await account(page, demo, 'Paper Bank');
  await page.goto(`${demo.url}/bank/${bank}`);
  await page.getByRole('button', { name: 'Statements' }).click();
  await expect(page.getByRole('dialog')).toContainText('None yet.');
  await page.getByRole('button', { name: 'Type lines' }).click();
  const dialog = page.getByRole('dialog', { name: 'What does the bank say?' });
  await dialog.getByRole('textbox', { name: 'Amount (− for what went)' }).fill('-14,50');
  await dialog.getByRole('button', { name: 'Take them' }).click();
  await expect(dialog).toContainText('Say what the bank says of line 1.');
  await expectAccessible(page);
  await dialog.getByRole('textbox', { name: 'Text' }).fill('CHAIR');
  await page.keyboard.press('Control+Enter');
  await expect(line(page, /CHAIR/)).toContainText('−14.50');
  await page.getByRole('button', { name: 'Statements' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Take away typed/ }).click();
  await expect(page.getByRole('dialog')).toContainText('None yet.');
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(line(page, /CHAIR/)).toHaveCount(0);
  // What the demo's bank booked today is not read yet.
  await page.goto(`${demo.url}/bank/1`);
  await page.getByRole('button', { name: 'Fetch' }).click();
  await expect(line(page, /GRANARY ROW RESIDENTS/)).toBeVisible();
  await page.getByRole('button', { name: 'Fetch' }).click();
  await expect(page.getByText('The bank has nothing new.')).toBeVisible();
});

test('the till is counted, its difference posted, and the count kept', async ({ page, demo }) => {
  await put(page, demo, 'banks', { name: 'Workshop till', cash: true });
  const all = (await (await page.request.get(`${demo.url}/api/v1/banks`)).json()).rows as { id: number; name: string }[];
  const till = all.find((b) => b.name === 'Workshop till')!.id;
  const of = await customer(page, demo, 'Pays In Coins');
  await put(page, demo, 'deposits', { customer: of, day: '2026-11-18', amount: '71.00', bank: till, method: 'cash' });
  await page.goto(`${demo.url}/bank`);
  await page.getByRole('link', { name: 'Workshop till' }).click();
  await page.getByRole('textbox', { name: 'How many of 50', exact: true }).fill('1');
  await page.getByRole('textbox', { name: 'How many of 20', exact: true }).fill('1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'How many of 10', exact: true })).toBeFocused();
  await page.getByRole('textbox', { name: 'How many of 0.50', exact: true }).fill('1');
  await expect(page.getByRole('row', { name: 'Between them' })).toContainText('−0.50');
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('70.50 was counted, and the books say 71.00')).toBeVisible();
  await page.getByRole('link', { name: /Post the difference of −0\.50/ }).click();
  await expect(page.getByRole('complementary')).toContainText('balances');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /J26-\d+/ })).toBeVisible();
  await page.goto(`${demo.url}/bank/${till}/count`);
  await expect(page.getByRole('row', { name: 'Between them' })).toContainText('0.00');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('20 Nov: 70.50, by')).toBeVisible();
});

test('a dozen lines are worked through by few keys', async ({ page, demo }) => {
  const bank = await account(page, demo, 'Busy Bank');
  const lines: string[] = [];
  let closing = 0;
  for (let n = 0; n < 12; n++) {
    const of = await customer(page, demo, `Zubey Payer ${n}`);
    const amount = 3100 + n;
    closing += amount;
    const figure = `${amount}.00`;
    if (n % 4 === 0) await put(page, demo, 'deposits', { customer: of, day: '2026-11-16', amount: figure, bank, method: 'transfer' });
    else await put(page, demo, 'invoices', { customer: of, day: '2026-11-10', lines: [{ text: 'Stair', unitPrice: figure, taxCode: 3 }] });
    lines.push(entry(figure, 'CRDT', '2026-11-17', `K${n}`, `ZUBEY PAYER ${n}`, 'STAIR'));
  }
  await page.goto(`${demo.url}/bank/${bank}`);
  await read(page, 'busy.xml', camt('0.00', `${closing}.00`, ...lines));
  await expect(page.getByText('12 lines were read.')).toBeVisible();
  await compared(page);
  await line(page, /ZUBEY PAYER 0 /).focus();
  let keys = 0;
  const press = async (key: string) => {
    keys += key.split('+').length;
    await page.keyboard.press(key);
  };
  for (let n = 0; n < 12; n++) {
    const here = line(page, new RegExp(`ZUBEY PAYER ${n} `));
    await expect(here).toBeFocused();
    await press('Enter');
    if (n % 4 !== 0) {
      await expect(page.getByRole('complementary')).toContainText('balances');
      await press('Control+Enter');
    }
    await expect(here).toHaveCount(0);
  }
  await expect(page.getByText('Every line that was read is explained.')).toBeVisible();
  console.log(`twelve lines took ${keys} keys`);
  expect(keys).toBeLessThanOrEqual(36);
});

test('three lines are tied by three keys in a row, and a key that is held down ties one', async ({ page, demo }) => {
  const bank = await account(page, demo, 'Fast Bank');
  const of = await customer(page, demo, 'Fast Payer');
  const entries: string[] = [];
  const numbers: string[] = [];
  for (let n = 0; n < 5; n++) {
    const amount = `${5100 + n}.00`;
    numbers.push((await put(page, demo, 'deposits', { customer: of, day: '2026-11-16', amount, bank, method: 'transfer' })).posted.number);
    entries.push(entry(amount, 'CRDT', '2026-11-17', `F${n}`, 'FAST PAYER', `LINE ${n}`));
  }
  await page.goto(`${demo.url}/bank/${bank}`);
  await read(page, 'fast.xml', camt('0.00', '25510.00', ...entries));
  await expect(page.getByText('5 lines were read.')).toBeVisible();
  // The lines stand there at once, and what each may be comes into its place: until then a key ties nothing.
  let tell = () => {};
  const told = new Promise<void>((resolve) => (tell = resolve));
  const all = /\/lines\?(?!.*part=first)|bank-lines\/\d+$/;
  await page.route(all, async (route) => {
    await told;
    await route.continue();
  });
  await page.reload();
  await line(page, /LINE 0/).focus();
  const table = page.getByRole('table', { name: 'Lines of the bank' });
  await expect(table).toHaveAttribute('aria-busy', 'true');
  await page.keyboard.press('Enter');
  const height = (await table.boundingBox())?.height;
  tell();
  await compared(page);
  await page.unroute(all);
  // So does what the next line may be: what stands below keeps its place meanwhile.
  const below = page.getByRole('heading', { name: 'Or it becomes' });
  await expect(page.getByRole('region', { name: 'What it may be' })).toContainText('posted already');
  const place = (await below.boundingBox())?.y;
  let next = () => {};
  const asked = new Promise<void>((resolve) => (next = resolve));
  await page.route(/bank-lines\/\d+$/, async (route) => {
    await asked;
    await route.continue();
  });
  await line(page, /LINE 1/).focus();
  await expect(page.getByRole('region', { name: 'What it may be' }).getByRole('button', { name: /^Tie to/ })).toBeHidden();
  expect((await below.boundingBox())?.y).toBe(place);
  next();
  await expect(page.getByRole('region', { name: 'What it may be' }).getByRole('button', { name: /^Tie to/ }).first()).toBeVisible();
  await page.unroute(/bank-lines\/\d+$/);
  await expect(line(page, /LINE 0/)).toContainText(numbers[0]!);
  expect((await table.boundingBox())?.height).toBe(height);
  await expect(line(page, /LINE/)).toHaveCount(5);
  await line(page, /LINE 0/).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Enter');
  await expect(line(page, /LINE [012]/)).toHaveCount(0);
  await expect(line(page, /LINE 3/)).toBeFocused();
  await page.keyboard.down('Enter');
  await page.keyboard.down('Enter');
  await page.keyboard.down('Enter');
  await page.keyboard.up('Enter');
  await expect(line(page, /LINE 3/)).toHaveCount(0);
  await expect(line(page, /LINE 4/)).toBeFocused();
  const tied = (await (await page.request.get(`${demo.url}/api/v1/banks/${bank}/lines?state=all`)).json()).rows as { papers: string }[];
  expect(tied.map((l) => l.papers)).toEqual([...numbers.slice(0, 4), '']);
});
