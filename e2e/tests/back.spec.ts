import type { Page } from '@playwright/test';
import { customer, expect, expectAccessible, get, put, test, type Firm } from './firm';

// What was billed comes back: goods, prices, whole invoices, and where the credit goes.

const press = (page: Page, key: string) => page.keyboard.press(key);
const effect = (page: Page) => page.getByRole('complementary', { name: 'Effect' });
const entry = (page: Page) => effect(page).getByRole('table', { name: 'Journal entry' });
const posted = (page: Page, what: RegExp) => expect(page.getByRole('heading', { level: 1, name: what })).toBeVisible();
const shows = async (page: Page, ...rows: RegExp[]) => {
  for (const row of rows) await expect(entry(page).getByRole('row', { name: row }).first()).toBeVisible();
};
const bill = async (page: Page, demo: Firm, of: number, lines: object[], day = '2026-11-10', more: object = {}): Promise<number> =>
  (await put(page, demo, 'invoices', { customer: of, day, lines, ...more })).posted.paper;
const pay = async (page: Page, demo: Firm, of: number, invoice: number, amount: string) => {
  const { parts } = await get(page, demo, `papers/${invoice}`);
  const receipt = { customer: of, day: '2026-11-17', arrived: amount, bank: 1, method: 'transfer', placements: [{ item: parts[0].itemId, amount }] };
  return put(page, demo, 'receipts', receipt);
};

/** An article that is kept in stock, with some pieces of it. */
async function stocked(page: Page, demo: Firm, code: string, quantity: string, cost: string): Promise<number> {
  const article = (await put(page, demo, 'articles', { code, name: `Baluster ${code}`, kind: 'material', price: '120', taxCode: 1, stocked: true })).rows.find((a: { code: string }) => a.code === code).id;
  await put(page, demo, 'stock/counts', { day: '2026-11-02', opening: true, lines: [{ article, quantity, cost }] });
  return article;
}

test('a part of an order comes back to stock, its credit settles an older invoice and the rest of its own', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Sends Two Back');
  const article = await stocked(page, demo, 'E14', '10', '70');
  await bill(page, demo, of, [{ text: 'Older', unitPrice: '200', taxCode: 3 }], '2026-11-03');
  const order = (await put(page, demo, 'orders', { customer: of, day: '2026-11-04', lines: [{ article, text: 'Baluster', quantity: '6', unitPrice: '120', taxCode: 1 }] })).posted.paper;
  await put(page, demo, 'deliveries', { order, day: '2026-11-05', lines: [{ position: 1, quantity: '6' }] });
  const invoice = await bill(page, demo, of, [{ text: 'Baluster', quantity: '6', order, orderLine: 1 }]);
  await page.goto(`${demo.url}/papers/${invoice}`);
  await page.getByRole('button', { name: 'Credit', exact: true }).click();
  await page.getByRole('combobox', { name: 'Why is it credited?' }).selectOption('return');
  await page.getByRole('textbox', { name: 'Reference of the return' }).fill('R 14');
  await page.getByRole('combobox', { name: 'What of it?' }).selectOption('lines');
  await page.getByRole('textbox', { name: 'Quantity back of Baluster' }).fill('2');
  await page.getByRole('textbox', { name: 'To stock of Baluster' }).fill('3');
  await expect(effect(page).getByText(/2 is credited, so no more goes back to stock, not 3/)).toBeVisible();
  await page.getByRole('textbox', { name: 'To stock of Baluster' }).fill('2');
  await page.getByRole('button', { name: 'Set against' }).first().click();
  await shows(page, /241 Output tax 48\.00/, /120 Trade receivables 288\.00/, /141 Stock 140\.00/, /501 .* 140\.00/);
  await expect(effect(page).getByRole('row', { name: /I26-.* 864\.00 776\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Credit note CN26-/);
  await expect(page.getByText('used up', { exact: true })).toBeVisible();
  expect((await get(page, demo, `papers/${invoice}`)).open).toBe('776.00');
  expect((await get(page, demo, `stock/${article}`)).quantity).toBe('6');
  // What came back stands in the register, and is found by its reference.
  await press(page, 'g');
  await press(page, 'p');
  await page.getByRole('button', { name: 'Credits and returns' }).click();
  await page.getByRole('tab', { name: 'What came back' }).click();
  await page.getByRole('textbox', { name: 'What, article, customer, reference' }).fill('R 14');
  await expect(page.getByRole('row', { name: /Sends Two Back.* 2 2 .*140\.00 240\.00/ })).toBeVisible();
  // The order may not be billed again for what came back: it is lowered.
  const book = await get(page, demo, `order-book?order=${order}`);
  const line = book.rows.find((o: { id: number }) => o.id === order).lines[0];
  expect([line.delivered, line.left]).toEqual(['4', '0.00']);
});

test('all of an invoice comes back after a part was paid: the credit settles it, the rest is refunded in the same step', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Gives All Back');
  const invoice = await bill(page, demo, of, [{ text: 'Stair gate', unitPrice: '250', taxCode: 1 }]);
  await pay(page, demo, of, invoice, '60');
  await page.goto(`${demo.url}/customers/${of}`);
  await posted(page, /Gives All Back/);
  await press(page, 'w');
  await page.keyboard.type('came back price');
  await press(page, 'Enter');
  await page.getByRole('combobox', { name: 'Of which invoice?' }).fill('I26');
  // Of this customer alone: one fits.
  await expect(page.getByRole('listbox').getByRole('option')).toHaveCount(1);
  await press(page, 'Enter');
  await expect(page.getByText(/250\.00 of its work is left/)).toBeVisible();
  await page.getByRole('combobox', { name: 'Why is it credited?' }).selectOption('return');
  await shows(page, /401 .* 250\.00/, /120 Trade receivables 300\.00/);
  await page.getByRole('checkbox', { name: 'What is left is refunded at once' }).check();
  await expect(effect(page).getByRole('row', { name: /101 Bank 60\.00/ })).toBeVisible();
  await page.getByRole('textbox', { name: 'Given back' }).fill('61');
  await expect(effect(page).getByText(/60\.00 of CN26-.* is open/).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Given back' }).fill('');
  await expect(effect(page).getByRole('row', { name: /101 Bank 60\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Credit note CN26-/);
  const stands = await get(page, demo, `customers/${of}`);
  expect([stands.position.net, stands.position.unplaced, stands.position.owesNow]).toEqual(['0.00', '0.00', '0.00']);
  expect((await get(page, demo, `papers/${invoice}`)).state).toBe('settled');
  // Neither is left hanging: the credit names its refund, and is not on the Desk.
  await expect(page.getByRole('link', { name: /refund F26-/ })).toBeVisible();
  await page.goto(`${demo.url}/desk`);
  await posted(page, /loose ends/);
  await expect(page.getByText('Gives All Back')).toHaveCount(0);
});

test('a price credit of a paid invoice is left open: Desk, customer and statement tell it until it is used', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Paid Too High A Price');
  const invoice = await bill(page, demo, of, [{ text: 'Ramp boards', quantity: '14', unitPrice: '85.50', taxCode: 1 }], '2026-11-02');
  await pay(page, demo, of, invoice, '1436.40');
  await page.goto(`${demo.url}/papers/${invoice}`);
  await page.getByRole('button', { name: 'Credit', exact: true }).click();
  // Older than what else is open: the Desk shows the six oldest.
  await page.getByRole('textbox', { name: 'Date' }).fill('2026-11-03');
  await page.getByRole('combobox', { name: 'Why is it credited?' }).selectOption('price');
  await page.getByRole('combobox', { name: 'What of it?' }).selectOption('lines');
  await page.getByRole('textbox', { name: 'New price of Ramp boards' }).fill('79,90');
  await shows(page, /401 .* 78\.40/, /241 Output tax 15\.68/, /120 Trade receivables 94\.08/);
  await press(page, 'Control+Enter');
  await posted(page, /Credit note CN26-/);
  await expect(page.getByText('not used', { exact: true })).toBeVisible();
  const note = page.url();
  await page.goto(`${demo.url}/desk`);
  await expect(page.getByRole('region', { name: 'Paid too much' })).toContainText('Paid Too High A Price');
  await page.goto(`${demo.url}/customers/${of}`);
  await expect(page.getByText('Credits not used').locator('..')).toContainText('94.08');
  await page.getByRole('button', { name: 'Statement' }).click();
  await expect(page.getByRole('row', { name: /closing|balance/i }).last()).toContainText('−94.08');
  // The next invoice is there: the credit is taken from its own page to the bench.
  const next = await bill(page, demo, of, [{ text: 'Gate', unitPrice: '100', taxCode: 1 }], '2026-11-20');
  await page.goto(note);
  await page.getByRole('button', { name: 'Set against' }).click();
  await page.locator('[data-card][data-side=owed]').first().click();
  await expect(effect(page).getByRole('row', { name: /CN26-.* 94\.08 0\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/^Set against\. It stands/)).toBeVisible();
  expect((await get(page, demo, `papers/${next}`)).open).toBe('25.92');
});

test('a rebate is given on its own; put right, its line goes to another account in one step', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Gets A Rebate');
  await page.goto(`${demo.url}/customers/${of}`);
  await posted(page, /Gets A Rebate/);
  await press(page, 'w');
  await page.keyboard.type('rebate');
  await press(page, 'Enter');
  await posted(page, /Credit note/);
  await page.getByRole('combobox', { name: 'Why is it credited?' }).selectOption('goodwill');
  await page.getByRole('textbox', { name: 'What, line 1' }).fill('3 % of the year');
  await page.getByRole('textbox', { name: 'Net, line 1' }).fill('4200*0.03');
  await shows(page, /401 .* 126\.00/, /120 Trade receivables 151\.20/);
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Credit note CN26-/);
  const first = (await page.getByRole('heading', { level: 1, name: /CN26-/ }).textContent())!.replace('Credit note ', '');
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Put right' }).click();
  await expect(page.getByRole('textbox', { name: 'What, line 1' })).toHaveValue('3 % of the year');
  await page.getByRole('combobox', { name: 'Account, line 1' }).fill('491');
  await expect(page.getByRole('option', { name: /491 Discount allowed/ })).toBeVisible();
  await press(page, 'Enter');
  await page.getByRole('textbox', { name: /^What is wrong with CN26-/ }).fill('it is a discount');
  await shows(page, /491 Discount allowed.* 126\.00/);
  await press(page, 'Control+Enter');
  // A link stands on what is posted; the words alone stand in the Effect before that too.
  await expect(page.getByRole('link', { name: `in place of ${first}` })).toBeVisible();
  await page.goto(`${demo.url}/customers/${of}`);
  await expect(page.getByRole('region', { name: 'Story' }).getByRole('row', { name: /CN26-/ })).toHaveCount(3); // the note, what takes it back, and the one in its place
  expect((await get(page, demo, `customers/${of}`)).position.unplaced).toBe('151.20');
});

test('a credit on the wrong invoice is moved in one step, and an invoice that was sent is taken back by its credit', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Moves A Credit');
  const wrong = await bill(page, demo, of, [{ text: 'Wrong', unitPrice: '200', taxCode: 1 }]);
  const right = await bill(page, demo, of, [{ text: 'Right', unitPrice: '300', taxCode: 1 }], '2026-11-12');
  const credit = (await put(page, demo, 'credit-notes', { paper: wrong, day: '2026-11-20', cause: 'fault', what: 'work', work: '50', own: true })).posted.paper;
  await page.goto(`${demo.url}/papers/${credit}`);
  await page.getByRole('link', { name: 'move', exact: true }).click();
  await expect(page.getByText('Take what it is to stand against instead')).toBeVisible();
  await page.locator('[data-card][data-side=owed]', { hasText: 'Right' }).click();
  await expect(effect(page).getByRole('row', { name: /I26-.* 360\.00 300\.00/ })).toBeVisible();
  await expect(effect(page).getByRole('row', { name: /I26-.* 180\.00 240\.00/ })).toBeVisible();
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await expect(page.getByText(/^Moved\. The story tells both/)).toBeVisible();
  expect([(await get(page, demo, `papers/${wrong}`)).open, (await get(page, demo, `papers/${right}`)).open]).toEqual(['240.00', '300.00']);
  // Sent: no bare reversal, its own step instead.
  await page.request.post(`${demo.url}/api/v1/papers/${wrong}/events`, { data: { event: 'sent', text: 'by mail' } });
  await page.goto(`${demo.url}/papers/${wrong}`);
  await expect(page.getByRole('button', { name: 'Take back' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Reverse' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(page.getByRole('combobox', { name: 'Why is it credited?' })).toHaveValue('cancellation');
  await shows(page, /401 .* 150\.00/, /120 Trade receivables 180\.00/);
  await press(page, 'Control+Enter');
  await posted(page, /Credit note CN26-/);
  // Billed again as it should have been.
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Bill it again' }).click();
  await expect(page.getByRole('table', { name: 'Lines' })).toContainText('Wrong');
});

test('goods come back before they are billed, and are swapped', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Swaps Treads');
  const article = await stocked(page, demo, 'TRD', '10', '40');
  const order = (await put(page, demo, 'orders', { customer: of, day: '2026-11-04', lines: [{ article, text: 'Tread', quantity: '6', unitPrice: '120', taxCode: 1 }] })).posted.paper;
  await put(page, demo, 'deliveries', { order, day: '2026-11-05', lines: [{ position: 1, quantity: '6' }] });
  await page.goto(`${demo.url}/papers/${order}`);
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'It came back' }).click();
  await page.getByRole('textbox', { name: 'Came back of Tread' }).fill('7');
  await expect(effect(page).getByText(/6 was delivered.*not 7/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Came back of Tread' }).fill('2');
  await page.getByRole('textbox', { name: 'To stock of Tread' }).fill('1');
  await page.getByRole('textbox', { name: 'Why did it come back?' }).fill('bullnosed on the wrong side');
  await shows(page, /141 Stock 40\.00/, /501 .* 40\.00/);
  await page.getByRole('checkbox', { name: /It is swapped/ }).check();
  // One goes back to stock, two go out of it again.
  await shows(page, /501 .* 40\.00/, /141 Stock 40\.00/);
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  await posted(page, /Return RN26-/);
  expect((await get(page, demo, `stock/${article}`)).quantity).toBe('3');
  await page.goto(`${demo.url}/papers/credits/returned?where=scrap&q=Swaps`);
  await expect(page.getByRole('row', { name: /Swaps Treads.* 2 1 1/ })).toBeVisible();
});

test('what was credited is searched by one column, kept as a filter, and told by reason and item with a chart', async ({ page, demo }) => {
  await page.goto(`${demo.url}/papers/credits`);
  await expect(page.getByRole('row', { name: /CN26-/ }).first()).toBeVisible();
  await page.getByRole('combobox', { name: 'Which column is searched' }).click();
  await page.getByRole('option', { name: 'in the reason' }).click();
  await page.getByRole('textbox', { name: 'Find among them' }).fill('two days late');
  await expect(page.getByText(/“two days late” in the reason/)).toBeVisible();
  const found = await get(page, demo, 'credit-notes?in=reason&q=two+days+late');
  expect(found.count).toBeGreaterThan(1);
  await expect(page.getByRole('row', { name: `${found.count} in all` })).toBeVisible();
  await page.getByRole('button', { name: 'Keep this filter' }).click();
  await page.getByRole('textbox', { name: 'Name of the filter' }).fill('Late');
  await press(page, 'Enter');
  await expect(page.getByRole('button', { name: 'Late', exact: true })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('tab', { name: 'Why, and of what' }).click();
  await expect(page.getByRole('img', { name: /Credited, net, by reason: / })).toBeVisible();
  const table = page.getByRole('table', { name: 'Credited by reason' });
  await table.getByRole('link', { name: 'goodwill' }).click();
  await expect(page).toHaveURL(/cause=goodwill/);
  await page.goBack();
  await page.getByRole('button', { name: 'By item' }).click();
  await expect(page.getByRole('img', { name: /Credited, net, by item: / })).toBeVisible();
  await expect(page.getByRole('table', { name: 'Credited by item' }).getByRole('row').nth(1)).toBeVisible();
  await expectAccessible(page);
});
