import type { Page } from '@playwright/test';
import { customer, delay, expect, expectAccessible, put, test, type Firm } from './firm';

// What is bought for a job, passed on, paid, kept in stock: each told as it happens.

const press = (page: Page, key: string) => page.keyboard.press(key);
const entry = (page: Page) => page.getByRole('complementary', { name: 'Effect' }).getByRole('table', { name: 'Journal entry' });
const posted = (page: Page, what: RegExp) => expect(page.getByRole('heading', { level: 1, name: what })).toBeVisible();
const supplier = (page: Page, demo: Firm, name: string, more: object = {}) => customer(page, demo, name, { noCustomer: true, ...more });

async function jobOf(page: Page, demo: Firm, name: string, more: object = {}) {
  const of = await customer(page, demo, name);
  return { of, job: (await put(page, demo, 'jobs', { name: `Stair of ${name}`, customer: of, ...more })).id as number };
}

/** Begins by what happened, at a place that knows for what. */
async function happened(page: Page, words: string) {
  await press(page, 'w');
  await expect(page.getByRole('combobox', { name: 'What happened?' })).toBeFocused();
  await page.keyboard.type(words);
  await press(page, 'Enter');
}

/** Takes the first that is found by some letters. */
async function pick(page: Page, field: string, letters: string, found: RegExp) {
  // An editor that has just come may take the cursor to its own first field.
  await expect(async () => {
    await page.getByRole('combobox', { name: field }).fill('');
    await page.getByRole('combobox', { name: field }).fill(letters);
    await expect(page.getByRole('option', { name: found }).first()).toBeVisible({ timeout: 5000 });
  }).toPass();
  await press(page, 'Enter');
}

test('a purchase order is paid as an expense for a job, billed to the customer and paid by them', async ({ page, demo }) => {
  const { job } = await jobOf(page, demo, 'Wants Lamps', { markup: '20' });
  await supplier(page, demo, 'Lanternworks');
  await page.goto(`${demo.url}/jobs/${job}`);
  await posted(page, /Stair of/);
  await happened(page, 'order something');
  await posted(page, /Purchase order/);
  await pick(page, 'Supplier', 'lantern', /Lanternworks/);
  await page.getByRole('textbox', { name: 'Expected' }).fill('30/11');
  await page.getByRole('textbox', { name: 'What, line 1' }).fill('Lamps on the newels');
  await page.getByRole('combobox', { name: 'Passed on, line 1' }).selectOption('as our own supply');
  await page.getByRole('textbox', { name: 'Net, line 1' }).fill('150');
  await press(page, 'Control+Enter');
  await posted(page, /Purchase order PO26-/);
  const order = (await page.getByRole('heading', { level: 1, name: /PO26-/ }).textContent())!.replace('Purchase order ', '');
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Sent' }).click();
  await page.getByRole('textbox', { name: 'How, and to whom' }).fill('by mail');
  await press(page, 'Control+Enter');
  await expect(page.getByText('is noted as sent.')).toBeVisible();
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Paid at once' }).click();
  await expect(page.getByRole('textbox', { name: 'What, line 1' })).toHaveValue('Lamps on the newels');
  for (const row of [/511 Job costs.* 150\.00/, /151 Input tax 30\.00/, /101 Bank 180\.00/]) await expect(entry(page).getByRole('row', { name: row })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Expense E26-/);
  await page.goto(`${demo.url}/jobs/${job}`);
  const waits = page.getByRole('region', { name: 'Costs to pass on' });
  await expect(waits).toContainText('passed on with 20 %');
  await waits.getByRole('button', { name: 'Bill them' }).click();
  // Cost and markup, worked out by the program: 150 and 20 %.
  await expect(entry(page).getByRole('row', { name: /411 .* 180\.00/ })).toBeVisible();
  await expect(entry(page).getByRole('row', { name: /120 Trade receivables 216\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Invoice I26-/);
  await page.getByRole('button', { name: 'Receipt' }).click();
  await page.getByRole('textbox', { name: 'Amount received' }).fill('216');
  await press(page, 'Alt+t');
  await expect(entry(page).getByRole('row', { name: /101 Bank 216\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await posted(page, /Wants Lamps/);
  await page.goto(`${demo.url}/jobs/${job}`);
  await expect(page.getByRole('region', { name: 'Margin' })).toContainText('30.00');
  await expect(waits).toHaveCount(0);
  await page.goto(`${demo.url}/papers?q=${order}`);
  await expect(page.getByRole('row', { name: new RegExp(`${order}.*billed`) })).toBeVisible();
});

test('crane hire with its markup and a permit fee as it is stand on the final invoice', async ({ page, demo }) => {
  const { of, job } = await jobOf(page, demo, 'Needs A Crane', { markup: '12.5' });
  await supplier(page, demo, 'Lifts Things');
  await put(page, demo, 'orders', { customer: of, job, day: '2026-11-02', lines: [{ text: 'Stair', unitPrice: '3000', taxCode: 1 }] });
  await page.goto(`${demo.url}/jobs/${job}`);
  await posted(page, /Stair of/);
  await happened(page, 'supplier billed');
  await pick(page, 'Supplier', 'lifts', /Lifts Things/);
  await page.getByRole('textbox', { name: 'Their number' }).fill('LT 31');
  // Older than what else waits: the Desk shows the six oldest.
  await page.getByRole('textbox', { name: 'Invoice date' }).fill('2026-11-02');
  await page.getByRole('textbox', { name: 'What, line 1' }).fill('Crane hire');
  await page.getByRole('combobox', { name: 'Passed on, line 1' }).selectOption('as our own supply');
  await page.getByRole('textbox', { name: 'Net, line 1' }).fill('480');
  // Enter passes the markup, which is the job's, and opens a line for the same job.
  await press(page, 'Enter');
  await page.keyboard.type('Permit fee');
  await page.getByRole('combobox', { name: 'Passed on, line 2' }).selectOption('on their behalf');
  await page.getByRole('combobox', { name: 'Tax, line 2' }).selectOption({ label: 'Nil 0 %' });
  await page.getByRole('textbox', { name: 'Net, line 2' }).fill('206');
  for (const row of [/511 .* 480\.00/, /131 .* 206\.00/, /201 .* 782\.00/]) await expect(entry(page).getByRole('row', { name: row })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Supplier bill B26-/);
  // The Desk tells both with their sum; the job is finished with them on it.
  await page.goto(`${demo.url}/desk`);
  await expect(page.getByRole('region', { name: /Bought for customers/ }).getByRole('row', { name: /Needs A Crane/ })).toHaveCount(2);
  await page.goto(`${demo.url}/jobs/${job}`);
  await page.getByRole('button', { name: 'Finish the job' }).click();
  for (const row of [/411 .* 540\.00/, /131 .* 206\.00/, /120 Trade receivables 4,454\.00/]) await expect(entry(page).getByRole('row', { name: row })).toBeVisible();
  await press(page, 'Control+Enter');
  await posted(page, /Invoice I26-/);
  await expect(page.getByRole('article')).toContainText('Permit feepaid on your behalf');
  await expect((await page.request.get(`${demo.url}/api/v1/costs?job=${job}`)).json()).resolves.toMatchObject({ count: 0 });
});

test('a supplier gives back what was billed: a credit to the customer is proposed, never made by itself', async ({ page, demo }) => {
  const { of, job } = await jobOf(page, demo, 'Half A Crane');
  const from = await supplier(page, demo, 'Gives Back');
  const bill = (await put(page, demo, 'supplier-bills', { supplier: from, day: '2026-11-02', reference: 'GB 1', lines: [{ text: 'Crane hire', job, net: '480', taxCode: 1, passOn: 'supply', markup: '12.5' }] })).posted.paper;
  await put(page, demo, 'invoices', { customer: of, job, day: '2026-11-03', lines: [{ costs: [{ paper: bill, line: 1 }] }] });
  await page.goto(`${demo.url}/papers/${bill}`);
  await page.getByRole('button', { name: 'They credit it' }).click();
  await page.getByRole('textbox', { name: 'Why is it given back?' }).fill('Half the time');
  await page.getByRole('textbox', { name: 'Net of Crane hire' }).fill('120');
  for (const row of [/201 .* 144\.00/, /511 .* 120\.00/, /151 .* 24\.00/]) await expect(entry(page).getByRole('row', { name: row })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Supplier credit SN26-/);
  await page.goto(`${demo.url}/desk`);
  const loose = page.getByRole('row', { name: /Half A Crane/ });
  await expect(loose).toContainText('120.00');
  await loose.focus();
  await press(page, 'Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Credit note' })).toBeVisible();
  // 120 and the markup.
  await page.getByRole('button', { name: /^135\.00 was given back/ }).click();
  await expect(page.getByRole('textbox', { name: 'Amount of Crane hire' })).toHaveValue('135.00');
  await expect(entry(page).getByRole('row', { name: /120 Trade receivables 162\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await posted(page, /Credit note CN26-/);
  await page.goto(`${demo.url}/desk`);
  await expect(page.getByRole('heading', { name: /loose ends/ })).toBeVisible();
  await expect(loose).toHaveCount(0);
});

test('a subcontractor is kept back a share, released and paid', async ({ page, demo }) => {
  const { job } = await jobOf(page, demo, 'Has Groundwork');
  const from = await supplier(page, demo, 'Digs Deep', { keepBack: '5' });
  await page.goto(`${demo.url}/customers/suppliers/${from}`);
  await page.getByRole('button', { name: 'Bill', exact: true }).click();
  await page.getByRole('textbox', { name: 'Their number' }).fill('DD 9');
  await page.getByRole('textbox', { name: 'What, line 1' }).fill('Groundwork');
  await pick(page, 'Job, line 1', 'Has Groundwork', /Has Groundwork/);
  await page.getByRole('textbox', { name: 'Net, line 1' }).fill('5000');
  for (const row of [/201 .* 5,750\.00/, /205 .* 250\.00/]) await expect(entry(page).getByRole('row', { name: row })).toBeVisible();
  await press(page, 'Control+Enter');
  await posted(page, /Supplier bill B26-/);
  await page.getByRole('button', { name: 'Release' }).click();
  await expect(entry(page).getByRole('row', { name: /201 .* 250\.00/ })).toBeVisible(); // which the bill itself has not
  await press(page, 'Control+Enter');
  await posted(page, /SR26-/);
  await page.goto(`${demo.url}/customers/suppliers/${from}`);
  await page.getByRole('button', { name: 'Pay', exact: true }).click();
  await page.getByRole('button', { name: /^Pay B26-/ }).click();
  await page.getByRole('button', { name: /^Pay / }).first().click();
  await expect(entry(page).getByRole('row', { name: /101 Bank 6,000\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /P26-/);
  await page.goto(`${demo.url}/customers/suppliers/${from}`);
  await expect(page.locator('dl > div').filter({ hasText: 'Balance' }).locator('dd')).toHaveText('0.00');
});

test('goods are ordered, come, are billed and delivered; the register of the article tells it all', async ({ page, demo }) => {
  const { of, job } = await jobOf(page, demo, 'Buys Brackets');
  const from = await supplier(page, demo, 'Bracket Forge');
  const code = `BRK${of}`;
  const article = (await put(page, demo, 'articles', { code, name: `Bracket ${of}`, kind: 'material', price: '120', taxCode: 1, stocked: true })).rows.find((a: { code: string }) => a.code === code).id;
  const order = (await put(page, demo, 'purchase-orders', { supplier: from, day: '2026-11-02', lines: [{ text: 'Brackets', article, quantity: '10', unitPrice: '70', taxCode: 1 }] })).posted.paper;
  const sold = (await put(page, demo, 'orders', { customer: of, job, day: '2026-11-02', lines: [{ article, text: 'Brackets', quantity: '6', unitPrice: '120', taxCode: 1 }] })).posted.paper;
  await page.goto(`${demo.url}/papers/${order}`);
  await page.getByRole('button', { name: 'It came' }).click();
  await page.getByRole('textbox', { name: 'Came of Brackets' }).fill('8');
  await expect(entry(page).getByRole('row', { name: /141 Stock 560\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Goods received GR26-/);
  await page.getByRole('button', { name: 'They billed it' }).click();
  await page.getByRole('textbox', { name: 'Their number' }).fill('BF 10');
  await page.getByRole('textbox', { name: 'Quantity, line 1' }).fill('8');
  await expect(entry(page).getByRole('row', { name: /201 .* 672\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await posted(page, /Supplier bill B26-/);
  await page.goto(`${demo.url}/papers/${sold}`);
  await page.getByRole('button', { name: 'Delivery' }).click();
  await expect(entry(page).getByRole('row', { name: /141 Stock 420\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await posted(page, /DN26-/);
  // One more than is there is refused, at its field.
  await page.goto(`${demo.url}/papers/new/stock_use?job=${job}`);
  await page.getByRole('combobox', { name: 'Article, line 1' }).selectOption({ label: `${code} Bracket ${of}` });
  await page.getByRole('textbox', { name: 'Used, line 1' }).fill('3');
  await expect(page.getByText(/More than is in stock|is in stock/).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Used, line 1' }).fill('1');
  await expect(entry(page).getByRole('row', { name: /141 Stock 70\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await posted(page, /SU26-/);
  await page.goto(`${demo.url}/ledger/registers?register=stock`);
  await page.getByRole('row', { name: new RegExp(code) }).click();
  const moves = page.getByRole('table', { name: 'What came and went' });
  await expect(moves.getByRole('row')).toHaveCount(4);
  await expect(moves.getByRole('row').nth(1)).toContainText('−1−70.00170.00');
});

test('a bill is typed beside its picture; what is no file for it is refused', async ({ page, demo }) => {
  const from = await supplier(page, demo, 'Sends Pictures');
  await page.goto(`${demo.url}/papers/new/supplier_bill?customer=${from}`);
  await page.getByRole('textbox', { name: 'Their number' }).fill('SP 1');
  const picture = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
  await page.getByLabel('Attach files').setInputFiles({ name: 'bill.png', mimeType: 'image/png', buffer: picture });
  await expect(page.getByRole('complementary', { name: 'bill.png' }).getByRole('img')).toBeVisible();
  await page.getByLabel('Attach files').setInputFiles({ name: 'empty.pdf', mimeType: 'application/pdf', buffer: Buffer.alloc(0) });
  await expect(page.getByRole('alert')).toContainText('empty');
  await expect(page.getByRole('textbox', { name: 'Their number' })).toHaveValue('SP 1');
  await page.getByRole('textbox', { name: 'What, line 1' }).fill('Varnish');
  await pick(page, 'Account, line 1', '601', /601/);
  await page.getByRole('textbox', { name: 'Net, line 1' }).fill('40');
  await expect(entry(page).getByRole('row', { name: /201 .* 48\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Supplier bill B26-/);
  const files = page.getByRole('region', { name: 'Attachments' });
  await files.getByRole('button', { name: 'Show' }).click();
  await expect(files.getByRole('img', { name: 'bill.png' })).toBeVisible();
});

test('what is due is paid in one run, and written for the bank once', async ({ page, demo }) => {
  const from = await supplier(page, demo, 'Paid By Run', { iban: 'ZZ17 LARK 0000 0000 778' });
  for (const reference of ['PR 1', 'PR 2'])
    await put(page, demo, 'supplier-bills', { supplier: from, day: '2026-11-02', due: '2026-11-20', reference, lines: [{ text: 'Oak', net: '100', taxCode: 1, ...(await anAccount(page, demo)) }] });
  await page.goto(`${demo.url}/papers/new/payment_run`);
  const due = page.getByRole('table', { name: 'What could be paid' });
  await expect(due.getByRole('row', { name: /Paid By Run/ })).toHaveCount(2);
  for (const row of await due.getByRole('row', { name: /Paid By Run/ }).all()) await row.getByRole('checkbox').check();
  await expect(entry(page).getByRole('row', { name: /101 Bank 240\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await expect(page).toHaveURL(/bank-file/);
  const payments = page.getByRole('table', { name: 'Payments for the bank' });
  const row = payments.getByRole('row', { name: /Paid By Run/ });
  await expect(row).toContainText('PR 1, PR 2');
  for (const box of await payments.getByRole('checkbox').all()) if (await box.isChecked()) await box.uncheck();
  await row.getByRole('checkbox').check();
  const file = page.waitForEvent('download');
  await press(page, 'Control+Enter');
  expect((await file).suggestedFilename()).toMatch(/\.xml$/);
  await expect(row).toHaveCount(0);
});

/** An expense account, as a line names it. */
async function anAccount(page: Page, demo: Firm) {
  const all = (await (await page.request.get(`${demo.url}/api/v1/accounts`)).json()).rows as { id: number; number: string }[];
  return { account: all.find((a) => a.number === '601')!.id };
}

test('two who bill one cost: who was second is told whose draft has it', async ({ page, demo, context }) => {
  const { of, job } = await jobOf(page, demo, 'Billed By Two');
  const from = await supplier(page, demo, 'Hires Out Towers');
  await put(page, demo, 'supplier-bills', { supplier: from, day: '2026-11-02', reference: 'HT 1', lines: [{ text: 'Tower hire', job, net: '90', taxCode: 1, passOn: 'supply' }] });
  const other = await context.newPage();
  for (const p of [page, other]) {
    await p.goto(`${demo.url}/papers/new/invoice?customer=${of}&job=${job}`);
    await expect(p.getByRole('button', { name: 'Tower hire, 90.00' })).toBeVisible();
  }
  await page.getByRole('button', { name: 'Tower hire, 90.00' }).click();
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await other.getByRole('button', { name: 'Tower hire, 90.00' }).click();
  await expect(other.getByText(/another draft has taken it/).first()).toBeVisible();
  // Saved later, it would take what the first has let go.
  await expect(other.getByText('saved', { exact: true })).toBeVisible();
  // It is thrown away: the cost is free for the other.
  await page.getByRole('button', { name: 'Throw away' }).click();
  await expect.poll(async () => (await (await page.request.get(`${demo.url}/api/v1/costs?job=${job}`)).json()).rows[0].drafted).toBe(false);
  await other.getByRole('textbox', { name: 'Cost of Tower hire, line 1' }).fill('50');
  await expect(entry(other).getByRole('row', { name: /120 Trade receivables 66\.00/ })).toBeVisible();
  await press(other, 'Control+Enter');
  await posted(other, /Invoice I26-/);
  // The rest is not to be billed, with a reason.
  await page.goto(`${demo.url}/jobs/costs?job=${job}`);
  await page.getByRole('row', { name: /Tower hire/ }).getByRole('checkbox').check();
  await page.getByRole('group', { name: 'What is chosen' }).getByRole('button', { name: 'Not to be billed' }).click();
  await page.getByRole('textbox', { name: 'Why is it not to be billed?' }).fill('Agreed on the site');
  await press(page, 'Control+Enter');
  await expect.poll(async () => (await (await page.request.get(`${demo.url}/api/v1/costs?job=${job}`)).json()).count).toBe(0);
});

for (const late of [0, 250]) {
  test(`a bill is typed without a pause, by keys alone, answers ${late} ms late: what was typed is posted`, async ({ page, demo }) => {
    const from = await supplier(page, demo, `Typed Fast ${late}`);
    await page.goto(`${demo.url}/papers/new/supplier_bill?customer=${from}`);
    await page.getByRole('textbox', { name: 'What, line 1' }).focus();
    if (late) await delay(page, late);
    for (const [text, net] of [['Oak boards', '40+2,5'], ['Glue', '7'], ['Screws', '12,30*2']]) {
      await page.keyboard.type(text!);
      await press(page, 'Enter');
      await page.keyboard.type('601');
      await press(page, 'Enter');
      await press(page, 'Enter'); // no job
      await page.keyboard.type(net!);
      await press(page, 'Enter'); // the next line; the last stays blank
    }
    await press(page, 'Control+Enter');
    await posted(page, /Supplier bill B26-/);
    // 42.50, 7.00 and 24.60 with 20 %.
    await expect(page.getByRole('article').getByRole('row', { name: /^Total 88\.92$/ })).toBeVisible();
    await expect(page.getByRole('article').getByRole('row', { name: /601 Overheads/ })).toHaveCount(3);
    await expect(page.getByRole('article').getByRole('row', { name: /Screws .* 24\.60/ })).toBeVisible();
  });
}

test('a bill is put right: its picture stays, the supplier is asked again, the wrong one is taken back', async ({ page, demo }) => {
  const wrong = await supplier(page, demo, 'Wrong Supplier');
  await supplier(page, demo, 'Right Supplier');
  const bill = (await put(page, demo, 'supplier-bills', { supplier: wrong, day: '2026-11-02', reference: 'PR 9', lines: [{ text: 'Oak', net: '100', taxCode: 1, ...(await anAccount(page, demo)) }] })).posted.paper;
  await page.goto(`${demo.url}/papers/${bill}`);
  await page.getByLabel('Attach files').setInputFiles({ name: 'note.txt', mimeType: 'text/plain', buffer: Buffer.from('as it came') });
  await expect(page.getByText('note.txt')).toBeVisible();
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Put right' }).click();
  await expect(page.getByRole('region', { name: 'Of the paper before, and kept' })).toContainText('note.txt');
  await pick(page, 'Supplier', 'right supp', /Right Supplier/);
  await page.getByRole('textbox', { name: /What is wrong with/ }).fill('Another supplier’s');
  await press(page, 'Control+Enter');
  await posted(page, /Supplier bill B26-/);
  await expect(page.getByRole('link', { name: 'Right Supplier' })).toBeVisible();
  await expect(page.getByText('note.txt')).toBeVisible();
  await page.goto(`${demo.url}/customers/suppliers/${wrong}`);
  await expect(page.locator('dl > div').filter({ hasText: 'Balance' }).locator('dd')).toHaveText('0.00');
});
