import type { Page } from '@playwright/test';
import { customer, expect, expectAccessible, get, put, test } from './firm';

// Every figure leads to the lines that make it up, every line to its paper; and
// the whole of a job is done by keys.

const press = (page: Page, ...keys: string[]) => keys.reduce((before, key) => before.then(() => page.keyboard.press(key)), Promise.resolve());
const effect = (page: Page) => page.getByRole('complementary', { name: 'Effect' });
const headed = (page: Page, what: RegExp) => expect(page.getByRole('heading', { level: 1, name: what })).toBeVisible();

test('an ageing is read from its total to the entry that it came of', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Aged Altogether');
  for (const [day, price] of [['2026-06-01', '100'], ['2026-08-25', '20'], ['2026-11-15', '3']])
    await put(page, demo, 'invoices?confirmed=long+past', { customer: of, day, lines: [{ text: 'Tread', unitPrice: price, taxCode: 3 }] });
  await put(page, demo, 'receipts', { customer: of, day: '2026-11-16', arrived: '7', bank: 1, method: 'transfer', onAccount: true });
  await page.goto(`${demo.url}/ledger/ageing`);
  const row = page.getByRole('table', { name: 'Ageing' }).getByRole('row', { name: /^Aged Altogether/ });
  await expect(row).toHaveText(/3\.00\D*20\.00\D*100\.00\D*−7\.00\D*116\.00/);
  await page.getByRole('button', { name: 'By paper day' }).click();
  await expect(page.getByRole('columnheader', { name: '0–30' })).toBeVisible();
  await expect(row).toHaveText(/3\.00\D*20\.00\D*100\.00\D*−7\.00\D*116\.00/);
  await expectAccessible(page);
  // As of a past day: the youngest was not there yet, nor the money.
  await page.getByRole('textbox', { name: 'As of the end of' }).fill('31 oct');
  await press(page, 'Tab');
  await expect(row).toHaveText(/20\.00\D*100\.00\D*120\.00/);
  await expect(row).not.toContainText('7.00');
  await row.getByText('Aged Altogether').click();
  await headed(page, /Aged Altogether/);
  await page.getByRole('region', { name: 'Story' }).getByRole('row', { name: /100\.00/ }).first().click();
  await expect(page.getByRole('region', { name: 'Story' }).getByText('401 Sales: workmanship').first()).toBeVisible();
});

test('an account is read from the trial balance to its paper, and back to the row one came from', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Leads To Its Paper');
  const { number, paper } = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-17', lines: [{ text: 'Newel', unitPrice: '77.70', taxCode: 3 }] })).posted;
  await page.goto(`${demo.url}/ledger/accounts`);
  const balance = await page.getByRole('row', { name: /^120 Trade receivables/ }).getByRole('button').textContent();
  await page.getByRole('row', { name: /^120 Trade receivables/ }).getByText('Trade receivables').click();
  await headed(page, /120 Trade receivables/);
  await page.getByRole('textbox', { name: 'From' }).fill('17 nov');
  await press(page, 'Tab');
  const line = page.getByRole('row', { name: new RegExp(`${number} Invoice ${number} Leads To Its Paper`) });
  await expect(line).toContainText('77.70');
  await expect(page.getByRole('row', { name: /Opening balance/ })).toBeVisible();
  await line.click();
  await headed(page, new RegExp(number));
  await expect(page).toHaveURL(new RegExp(`/papers/${paper}$`));
  await page.goBack();
  await headed(page, /120 Trade receivables/);
  await expect(page.getByRole('textbox', { name: 'From' })).toHaveValue('17 Nov 2026'); // the filter is in the address
  await page.goBack();
  await expect(page.getByRole('row', { name: /^120 Trade receivables/ }).getByRole('button')).toHaveText(balance!);
});

test('the tie-out leads to the account on one side and to the register on the other', async ({ page, demo }) => {
  await page.goto(`${demo.url}/ledger/tie-out`);
  const row = page.getByRole('row', { name: /^124 Retention receivable/ });
  await expect(row).toContainText('ties out');
  const [ledger, register] = [await row.getByRole('cell').nth(2).innerText(), await row.getByRole('cell').nth(3).innerText()];
  expect(ledger).toBe(register);
  await row.getByRole('link').last().click();
  await expect(page.getByRole('tab', { name: 'Registers' })).toHaveAttribute('aria-selected', 'true');
  await expect(page).toHaveURL(/register=retention/);
  await expect(page.getByText(register!).first()).toBeVisible();
  await page.goBack();
  await page.getByRole('row', { name: /^124 Retention receivable/ }).getByRole('link').first().click();
  await headed(page, /124 Retention receivable/);
  await expect(page.getByText(ledger!).first()).toBeVisible();
});

test('a journal entry is written by keys alone, refused while it does not balance, and taken back', async ({ page, demo }) => {
  await page.goto(`${demo.url}/ledger/journal`);
  await headed(page, /Journal/);
  await press(page, 'w');
  await page.keyboard.type('journal entry');
  await press(page, 'Enter');
  await headed(page, /Journal entry/);
  await expect(page.getByRole('textbox', { name: 'What it is for' })).toBeFocused();
  await page.keyboard.type('rent of the yard');
  await page.getByRole('combobox', { name: 'Account, line 1' }).focus();
  await page.keyboard.type('overh');
  await expect(page.getByRole('option', { name: /601 Overheads/ })).toBeVisible();
  await press(page, 'Enter');
  await page.getByRole('textbox', { name: 'Debit, line 1' }).focus();
  await page.keyboard.type('1200/12');
  await page.getByRole('combobox', { name: 'Account, line 2' }).focus();
  await page.keyboard.type('101');
  await expect(page.getByRole('option', { name: /101 Bank/ })).toBeVisible();
  await press(page, 'Enter');
  await page.getByRole('textbox', { name: 'Credit, line 2' }).focus();
  await page.keyboard.type('99');
  await press(page, 'Control+Enter');
  await expect(effect(page).getByText(/does not balance|1\.00/).first()).toBeVisible();
  await headed(page, /^Journal entry$/); // nothing is posted
  await page.getByRole('textbox', { name: 'Credit, line 2' }).fill('100');
  await expect(effect(page).getByRole('row', { name: /601 Overheads.*100\.00/ })).toBeVisible();
  await expect(effect(page).getByRole('row', { name: /101 Bank.*100\.00/ }).first()).toBeVisible();
  await press(page, 'Control+Enter');
  await headed(page, /J26-/);
  const number = /J26-\d+/.exec((await page.getByRole('heading', { level: 1 }).textContent())!)![0];
  await page.getByRole('button', { name: 'Reverse' }).press('Enter');
  await page.getByRole('textbox', { name: `Why is ${number} reversed?` }).fill('next month');
  await expect(effect(page).getByRole('row', { name: /101 Bank.*100\.00/ }).first()).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByText(new RegExp(`${number} is reversed by X26-`))).toBeVisible();
  await page.goto(`${demo.url}/ledger/journal`);
  await expect(page.getByRole('link', { name: number }).first()).toBeVisible();
  await page.goto(`${demo.url}/ledger/record`);
  await expect(page.getByRole('row', { name: new RegExp(number) }).first()).toBeVisible();
});

test('the six places and what is in them are reached by keys, and Esc goes back without loss', async ({ page, demo }) => {
  for (const [key, place] of [['c', /Customers/], ['j', /Jobs/], ['p', /Papers/], ['l', /Accounts and trial balance/], ['d', /loose ends/]] as const) {
    await press(page, 'g', key);
    await headed(page, place);
  }
  await press(page, '?');
  await expect(page.getByRole('dialog')).toContainText('What happened');
  await press(page, 'Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  const of = await customer(page, demo, 'Escapes Without Loss');
  await page.goto(`${demo.url}/customers/${of}`);
  await headed(page, /Escapes Without Loss/);
  await press(page, 'w');
  await page.keyboard.type('paid before');
  await press(page, 'Enter');
  await headed(page, /Deposit/);
  const amount = page.getByRole('textbox', { name: 'Amount', exact: true });
  await amount.fill('1200*0.4');
  await press(page, 'Tab');
  await expect(amount).toHaveValue('480.00');
  await expect(page.getByText('saved', { exact: true })).toBeVisible();
  await press(page, 'Escape', 'Escape'); // out of the field, then back
  await headed(page, /Escapes Without Loss/);
  await page.goForward();
  await expect(page.getByRole('textbox', { name: 'Amount', exact: true })).toHaveValue('480.00');
  await press(page, 'Control+Enter');
  await headed(page, /Deposit D26-/);
  expect((await get(page, demo, `customers/${of}`)).position.held).toBe('480.00');
});

test('every register of the tie-out lists what its figure is made of, on that day', async ({ page, demo }) => {
  for (const asOf of ['', '2026-06-30']) {
    await page.goto(`${demo.url}/ledger/tie-out${asOf && `?asOf=${asOf}`}`);
    await expect(page.getByRole('row', { name: /^120 Trade receivables.*ties out/ })).toBeVisible();
    const figures = await page.getByRole('table').getByRole('row').evaluateAll((rows) =>
      rows.flatMap((r) => {
        const link = r.querySelectorAll('td')[3]?.querySelector('a');
        return link ? [[r.querySelectorAll('td')[1]!.textContent!, link.getAttribute('href')!, link.textContent!.replace(/^[A-Z]{3}/, '')] as const] : [];
      }),
    );
    expect(figures.map(([register]) => register)).toEqual(expect.arrayContaining(['receivables', 'retention', 'payables', 'retention payable', 'advance billings', 'stock']));
    for (const [register, to, sum] of figures) {
      // What is held is listed with the tax inside; of tax due later and of nil there is no line.
      if (register === 'deposits' || register === 'deferred tax' || sum === '0.00') continue;
      await page.goto(demo.url + to);
      await expect(page.getByRole('main').getByText(sum, { exact: true }).first(), `${register} on ${asOf || 'today'}`).toBeVisible();
    }
  }
});

test('what comes and goes in a week is told when the week is opened', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Pays In December');
  await put(page, demo, 'invoices', { customer: of, day: '2026-11-12', due: '2026-12-08', lines: [{ text: 'Rail', unitPrice: '731', taxCode: 1 }] });
  await page.goto(`${demo.url}/ledger/expected`);
  const weeks = page.getByRole('table', { name: 'Money by week' });
  await expect(weeks.getByRole('row')).toHaveCount(13);
  const week = weeks.getByRole('button', { name: /^4 Dec to 10 Dec/ });
  await week.focus();
  await page.keyboard.press('Enter');
  await expect(week).toHaveAttribute('aria-expanded', 'true');
  await expect(weeks.getByRole('row', { name: /^8 Dec · I26-\d+ invoice, Pays In December 877\.20/ })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(weeks.getByRole('row')).toHaveCount(13);
});
