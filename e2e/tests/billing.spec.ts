import { customer, delay, expect, expectAccessible, put, signIn, start, stop, test } from './firm';
import type { Page } from '@playwright/test';

const entry = (page: Page) => page.getByRole('complementary', { name: 'Effect' }).getByRole('table', { name: 'Journal entry' });
const press = (page: Page, key: string) => page.keyboard.press(key);

test('an invoice recurs: its draft is made by itself and posted, it pauses and ends', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Looked After');
  const invoice = (
    await put(page, demo, 'invoices', { customer: of, day: '2026-10-15', lines: [{ text: 'Stair looked over', unitPrice: '90', taxCode: 1 }] })
  ).posted.paper;
  await page.goto(`${demo.url}/papers/${invoice}`);
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Let it recur' }).click();
  await page.getByRole('textbox', { name: 'What it is called' }).fill('Stair looked over, monthly');
  await press(page, 'Control+Enter');
  const row = page.getByRole('table', { name: 'Invoices that recur' }).getByRole('row', { name: /Stair looked over, monthly/ });
  await expect(row).toContainText('15 Dec 2026');
  await expect(row).toContainText('108.00');
  // That of 15 November was due already: its draft is there.
  await page.getByRole('button', { name: 'The drafts' }).click();
  // What recurs has such a row too, until the drafts are there.
  await page.getByRole('table', { name: 'Drafts' }).getByRole('row', { name: /Looked After/ }).first().click();
  await expect(page.getByRole('textbox', { name: 'Invoice date' })).toHaveValue('15 Nov 2026');
  await expect(entry(page).getByRole('row', { name: /401 Sales: workmanship 90\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await page.goto(`${demo.url}/papers/recurring`);
  await row.getByRole('button', { name: /^Pause/ }).click();
  await expect(row).toContainText('paused');
  await row.getByRole('button', { name: /^Go on/ }).click();
  await expect(row).toContainText('every month');
  await row.getByRole('button', { name: /^End/ }).click();
  await expect(row).toHaveCount(0);
});

test('who is late is charged: one by hand, all by drafts, no day twice', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Pays Late');
  await put(page, demo, 'invoices?confirmed=long past', { customer: of, day: '2026-09-06', due: '2026-10-06', lines: [{ text: 'Gate', unitPrice: '2400', taxCode: 3 }] });
  await page.goto(`${demo.url}/papers/new/late_charge?customer=${of}`);
  await page.getByRole('textbox', { name: 'Interest, % a year' }).fill('8');
  await page.getByRole('textbox', { name: 'Days of grace' }).fill('0');
  await page.getByRole('textbox', { name: 'Charged through' }).fill('26/10');
  await page.getByRole('textbox', { name: 'Fee', exact: true }).fill('5');
  // 20 days of 2,400.00 at 8 % come to 10.52.
  await expect(page.getByRole('table', { name: 'What is charged' })).toContainText('20 days overdue at 8 % a year');
  await expect(entry(page).getByRole('row', { name: /431 Interest and late charges 15\.52/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await page.goto(`${demo.url}/setup/limits`);
  await page.getByRole('textbox', { name: 'Interest on what is overdue, % a year' }).fill('8');
  await press(page, 'Control+Enter');
  await expect(page.getByText('Saved.')).toBeVisible();
  await page.goto(`${demo.url}/customers/late`);
  const late = page.getByRole('table', { name: 'Late charges' });
  await expect(late.getByText(/^\d+ in all$/)).toBeVisible();
  await expect(late.getByRole('row', { name: /Pays Late/ })).toBeVisible();
  for (const box of await late.getByRole('checkbox').all()) if ((await box.getAttribute('aria-label')) !== 'Charge Pays Late') await box.uncheck();
  await press(page, 'Control+Enter');
  // The list of late charges has such a row too.
  await page.getByRole('table', { name: 'Drafts' }).getByRole('row', { name: /Pays Late/ }).first().click();
  await expect(page.getByRole('table', { name: 'What is charged' })).toContainText(/I26-\d+, due 6 Oct 2026/);
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await page.goto(`${demo.url}/customers/late`);
  await expect(page.getByRole('heading', { level: 1, name: 'Late charges' })).toBeVisible();
  await expect(late.getByRole('row', { name: /Pays Late/ })).toHaveCount(0);
});

test('very many who are late are charged and reminded: what is worked out stands there, the rest follows by itself', async ({ page }) => {
  const own = await start(['demo']);
  try {
    await signIn(page, own.url);
    for (let n = 1; n <= 24; n++) {
      const of = await customer(page, own, `Among Many ${String(n).padStart(2, '0')}`, { email: `many${n}@mail.example` });
      await put(page, own, 'invoices', { customer: of, day: '2026-10-01', due: '2026-10-21', lines: [{ text: 'Tread', unitPrice: '100', taxCode: 3 }] });
    }
    await page.goto(`${own.url}/setup/limits`);
    await page.getByRole('textbox', { name: 'Interest on what is overdue, % a year' }).fill('8');
    await press(page, 'Control+Enter');
    await expect(page.getByText('Saved.')).toBeVisible();
    // The second page comes late: until then it is said that it is not all, and nothing is made of a part.
    let more = () => {};
    const asked = new Promise<void>((resolve) => (more = resolve));
    await page.route(/late-charges\?.*after=/, async (route) => {
      await asked;
      await route.continue();
    });
    await page.goto(`${own.url}/customers/late`);
    const late = page.getByRole('table', { name: 'Late charges' });
    await expect(late.getByText('20 so far')).toBeVisible();
    await expect(late.getByRole('row', { name: /Among Many 10/ })).toBeVisible();
    await expect(page.getByRole('button', { name: /^Make 20 drafts/ })).toBeDisabled();
    more();
    await expect(late.getByText(/^3\d in all$/)).toBeVisible();
    await expectAccessible(page);
    const rows = await late.getByRole('checkbox').count();
    await press(page, 'Control+Enter');
    await expect(page.getByText(`${rows} drafts are made.`)).toBeVisible();
    await page.goto(`${own.url}/customers/reminders`);
    await expect(page.getByRole('table', { name: 'Reminders' }).getByRole('row', { name: /Among Many 24/ })).toBeVisible();
    await expect(page.getByText('All that is overdue here')).toBeVisible();
  } finally {
    await stop(own);
  }
});

test('a guarantee takes the place of what is kept back, stands in its register and on the Desk, and comes back', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Takes A Guarantee');
  const job = (await put(page, demo, 'jobs', { name: 'Quay stairs', customer: of, retention: '5' })).id;
  const invoice = (await put(page, demo, 'invoices', { customer: of, job, day: '2026-11-02', lines: [{ text: 'Stairs', unitPrice: '12000', taxCode: 1 }] })).posted.paper;
  await page.goto(`${demo.url}/papers/${invoice}`);
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Guarantee in its place' }).click();
  await expect(page.getByRole('textbox', { name: 'Amount' })).toHaveValue('600.00');
  await page.getByRole('textbox', { name: 'Who promises it?' }).fill('Guild Insurers');
  await page.getByRole('textbox', { name: 'Last date' }).fill('31/12');
  await expect(entry(page).getByRole('row', { name: /124 Retention receivable 600\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Guarantee G26-/ })).toBeVisible();
  await page.goto(`${demo.url}/ledger/registers?register=guarantees`);
  await expect(page.getByRole('row', { name: /Takes A Guarantee/ })).toContainText('31 Dec 2026');
  await page.goto(`${demo.url}/desk`);
  await page.getByRole('region', { name: 'Guarantees that end this month or next' }).getByRole('row', { name: /Takes A Guarantee/ }).click();
  await page.getByRole('button', { name: 'It came back' }).first().click();
  await page.getByRole('textbox', { name: 'Who gave it back' }).fill('by post');
  await press(page, 'Control+Enter');
  await expect(page.getByText('handed back', { exact: true }).first()).toBeVisible();
});

test('an invoice says whose, for what and with which note; its address is kept; carriage bears no discount', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Address To Come', { invoiceNote: 'With thanks, as ever.' });
  await page.goto(`${demo.url}/papers/new/invoice?customer=${of}`);
  await expect(page.getByRole('textbox', { name: 'Note to the customer' })).toHaveValue('With thanks, as ever.');
  await page.getByRole('textbox', { name: 'Address of the customer' }).fill('2 Rope Walk\nHaverling');
  await page.getByRole('textbox', { name: 'Subject' }).fill('Rail for the quay');
  await expect(page.getByText('The address is kept with Address To Come.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Their order number' }).fill('PO 77');
  await page.getByRole('combobox', { name: 'What, line 1' }).fill('Rail');
  await page.getByRole('textbox', { name: 'Unit price, line 1' }).fill('100');
  await page.getByRole('button', { name: '+ carriage' }).click();
  await page.getByRole('textbox', { name: 'Unit price, line 2' }).fill('20');
  await page.getByRole('textbox', { name: 'Discount on the paper' }).fill('10');
  // 10 % of 100.00; none of the carriage.
  await expect(entry(page).getByRole('row', { name: /120 Trade receivables 132\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  for (const said of ['Rail for the quay', 'PO 77', 'With thanks, as ever.', '2 Rope Walk']) await expect(page.getByText(said).first()).toBeVisible();
});

test('a claim by the lines of its orders: a share of one, a quantity of another', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Measured Line By Line');
  const job = (await put(page, demo, 'jobs', { name: 'Tower', customer: of })).id;
  await put(page, demo, 'orders', { customer: of, job, day: '2026-11-02', lines: [{ text: 'Flight', quantity: '3', unitPrice: '2000', taxCode: 1 }, { text: 'Landing', unitPrice: '2000', taxCode: 2 }] });
  await page.goto(`${demo.url}/papers/new/claim?customer=${of}&job=${job}`);
  await page.getByRole('checkbox', { name: 'By the lines of its orders' }).check();
  await page.getByRole('textbox', { name: 'Quantity of Flight' }).fill('1.5');
  await page.getByRole('textbox', { name: 'Done of Landing' }).fill('25');
  await expect(entry(page).getByRole('row', { name: /120 Trade receivables 4,150\.00/ })).toBeVisible();
  await page.getByRole('textbox', { name: 'Quantity of Flight' }).fill('4');
  await expect(page.getByText(/Only 3 of Flight is ordered, not 4: what is more becomes an agreed variation/).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Quantity of Flight' }).fill('1.5');
  await expect(entry(page).getByRole('row', { name: /120 Trade receivables 4,150\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/Work to date by lines 3,500\.00/).first()).toBeVisible();
  // Posted as an invoice, it is put right as the claim that it was written as.
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Put right' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Claim by progress' })).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Quantity of Flight' })).toHaveValue('1.5');
  await page.getByRole('textbox', { name: /^What is wrong with I26-/ }).fill('More of it is done');
  await page.getByRole('textbox', { name: 'Done of Landing' }).fill('50');
  await expect(entry(page).getByRole('row', { name: /120 Trade receivables 4,700\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/Work to date by lines 4,000\.00/).first()).toBeVisible();
});

test('an order is called off with what becomes of its deposit, in one step', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Calls Off A Deposit');
  const job = (await put(page, demo, 'jobs', { name: 'Loft', customer: of })).id;
  const order = (await put(page, demo, 'orders', { customer: of, job, day: '2026-11-02', lines: [{ text: 'Loft stair', unitPrice: '8000', taxCode: 1 }] })).posted.paper;
  await put(page, demo, 'deposits', { customer: of, job, day: '2026-11-04', amount: '2000', bank: 1, method: 'transfer' });
  await page.goto(`${demo.url}/papers/new/cancellation?order=${order}`);
  await page.getByRole('textbox', { name: 'Why is it called off?' }).fill('They stay where they are');
  await page.getByRole('textbox', { name: /^Given back of D26-/ }).fill('1500');
  await page.getByRole('textbox', { name: /^Kept of D26-/ }).fill('600');
  await expect(page.getByText(/Only 500\.00 of D26-\d+ is open, not 600\.00/).first()).toBeVisible();
  await page.getByRole('textbox', { name: /^Kept of D26-/ }).fill('500');
  await expect(entry(page).getByRole('row', { name: /421 Deposits forfeited 500\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Cancellation OC26-/ })).toBeVisible();
  const position = (await (await page.request.get(`${demo.url}/api/v1/customers/${of}`)).json()).position;
  expect([position.held, position.net]).toEqual(['0.00', '0.00']);
});

for (const ms of [80, 300]) {
  test(`what is credited is what was typed, posted within a breath of the last key, with answers ${ms} ms late`, async ({ page, demo }) => {
    const of = await customer(page, demo, `Credited In Haste ${ms}`);
    const bill = (
      await put(page, demo, 'invoices', { customer: of, day: '2026-11-20', lines: [{ text: 'Tread', quantity: '12', unitPrice: '10', taxCode: 1 }] })
    ).posted.paper;
    await page.goto(`${demo.url}/papers/new/credit_note?paper=${bill}`);
    await page.getByRole('combobox', { name: 'Why is it credited?' }).selectOption('return');
    await page.getByRole('combobox', { name: 'What of it?' }).selectOption('lines');
    await page.getByRole('textbox', { name: 'Quantity back of Tread' }).click();
    await delay(page, ms);
    await page.keyboard.type('11');
    await press(page, 'Control+Enter');
    // Where the Effect is not that of what was typed yet, it is asked for once more.
    await expect(async () => {
      if (!/papers\/\d+$/.test(page.url())) await press(page, 'Control+Enter');
      await expect(page).toHaveURL(/papers\/\d+$/, { timeout: 4000 });
    }).toPass();
    const left = await (await page.request.get(`${demo.url}/api/v1/papers/${bill}/creditable`)).json();
    expect(left.lines[0].quantity).toBe('1');
  });
}
