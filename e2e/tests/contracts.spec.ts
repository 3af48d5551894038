import type { Page } from '@playwright/test';
import { expectAccessible as axe, customer, expect, get, put, test } from './firm';

// One contract billed in pieces: ordered, billed in advance, deducted, kept back, released.

const press = (page: Page, key: string) => page.keyboard.press(key);
const effect = (page: Page) => page.getByRole('complementary', { name: 'Effect' });
const entry = (page: Page) => effect(page).getByRole('table', { name: 'Journal entry' });

test('ordered, billed in advance, deducted from the final invoice: the account is nil in the end', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Billed In Pieces');
  const job = (await put(page, demo, 'jobs', { name: 'Winder stair', customer: of })).id;
  await page.goto(`${demo.url}/jobs/${job}`);
  await page.getByRole('button', { name: 'Order', exact: true }).click();
  const what = (n: number) => page.getByRole('combobox', { name: `What, line ${n}` });
  await what(1).focus();
  await page.keyboard.type('Winder stair, made and fitted');
  await press(page, 'Enter');
  await press(page, 'Enter');
  await page.keyboard.type('8000');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Order O26-/ })).toBeVisible();
  // It posts nothing, and is the job's contract.
  await page.getByRole('button', { name: 'Deposit invoice' }).click();
  await page.getByRole('textbox', { name: 'How much of it' }).fill('30');
  await expect(entry(page).getByRole('row', { name: /227 Billed in advance 2,400\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Deposit invoice AI26-/ })).toBeVisible();
  const advance = (await page.getByRole('heading', { level: 1, name: /AI26-/ }).textContent())!.replace('Deposit invoice ', '');
  await expect(page.getByText('Left to pay by')).toBeVisible();
  await axe(page);
  // All that is left of the order, less what was billed in advance, with nothing typed again.
  await page.getByRole('button', { name: 'Deduct it' }).click();
  await expect(page.getByRole('row', { name: /Winder stair, made and fitted 1/ })).toBeVisible();
  await expect(page.getByRole('textbox', { name: `Deducted of ${advance}` })).toHaveAttribute('placeholder', '2,880.00');
  await page.getByRole('combobox', { name: 'It is called' }).selectOption({ label: 'Final invoice' });
  await expect(page.getByRole('heading', { level: 2, name: 'Final invoice' })).toBeVisible();
  for (const row of [/227 Billed in advance 2,400\.00/, /120 Trade receivables 6,720\.00/, /401 Sales: workmanship 8,000\.00/, /241 Output tax 1,120\.00/]) await expect(entry(page).getByRole('row', { name: row })).toBeVisible();
  await expect(page.locator('[data-behind]')).toHaveCount(0);
  await axe(page);
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await expect(page.getByRole('row', { name: new RegExp(`Deposit invoice ${advance} of .*: 2,400\\.00 net, 480\\.00 tax at 20 % −2,880\\.00`) })).toBeVisible();
  await page.goto(`${demo.url}/ledger/registers?register=advance`);
  await expect(page.getByRole('row', { name: /AI26-0001/ })).toBeVisible();
  await expect(page.getByRole('row', { name: new RegExp(advance) })).toHaveCount(0);
  await page.goto(`${demo.url}/jobs/${job}`);
  await expect(page.getByRole('table', { name: 'Contract' }).getByRole('row', { name: /O26-.*8,000\.00 0\.00/ })).toBeVisible();
  await axe(page);
});

test('kept back by the terms of the job, shown on the paper, released and paid', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Keeps Something Back');
  const job = (await put(page, demo, 'jobs', { name: 'Gallery', customer: of, contractSum: '20000' })).id;
  await page.goto(`${demo.url}/jobs/${job}`);
  await page.getByRole('button', { name: 'Details' }).click();
  await page.getByRole('textbox', { name: 'They keep back, %' }).fill('5');
  await page.getByRole('checkbox', { name: 'Its tax is due when it is released' }).check();
  await page.getByRole('textbox', { name: 'At most, % of the contract' }).fill('3');
  await press(page, 'Control+Enter');
  await expect(page.getByText('They keep back 5 % of each invoice before tax, at most 3 % of the contract, its tax due when it is released.')).toBeVisible();
  await page.getByRole('button', { name: 'Invoice', exact: true }).click();
  const what = page.getByRole('combobox', { name: 'What, line 1' });
  await what.focus();
  await page.keyboard.type('Gallery stair');
  await press(page, 'Enter');
  await press(page, 'Enter');
  await page.keyboard.type('12000');
  await press(page, 'Tab');
  await expect(entry(page).getByRole('row', { name: /244 Output tax on retentions 120\.00/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Kept back by them.*−720\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Left to pay by .* 13,680\.00/ })).toBeVisible();
  // The cap is reached: another invoice keeps nothing back.
  const next = await put(page, demo, 'invoices?preview=true', { customer: of, job, day: '2026-11-20', lines: [{ text: 'Rail', unitPrice: '1000', taxCode: 1 }] });
  expect(next.effect.paper.retained).toBe('0.00');
  await page.getByRole('button', { name: 'Release' }).click();
  await page.getByRole('textbox', { name: /^Taken of I26-/ }).fill('360');
  await expect(entry(page).getByRole('row', { name: /241 Output tax 60\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Release RL26-/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^kept back of I26-.* 360\.00$/ })).toBeVisible();
  await page.getByRole('button', { name: 'Receipt' }).click();
  await page.getByRole('textbox', { name: 'Amount received' }).fill('360');
  await press(page, 'Alt+t');
  await press(page, 'Control+Enter');
  const bench = await (await page.request.get(`${demo.url}/api/v1/customers/${of}/bench`)).json();
  await expect.poll(async () => (await (await page.request.get(`${demo.url}/api/v1/customers/${of}`)).json()).position.keepsBack).toBe('360.00');
  expect(bench.keptBack.length).toBe(1);
  // What was released is no payment of the invoice.
  await page.goto(`${demo.url}/papers/${bench.keptBack[0].paperId}`);
  await expect(page.getByRole('row', { name: /Left to pay by .* 13,680\.00/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Paid RL26-/ })).toHaveCount(0);
});

test('what falls due of what is kept back is a loose end, released by one key', async ({ page, demo }) => {
  await page.goto(`${demo.url}/desk`);
  const row = page.getByRole('row', { name: /Dunmarrow Builders · job 220 · expected 24 Nov 2026/ });
  await expect(row).toBeVisible();
  await row.focus();
  await press(page, 'Enter');
  const kept = await (await page.request.get(`${demo.url}/api/v1/registers/retention?limit=50`)).json();
  const { number } = kept.rows.find((i: { job: string; instalment: number }) => i.job.startsWith('220') && i.instalment === 2);
  await expect(page.getByRole('textbox', { name: `Taken of ${number}, part 2` })).toHaveValue('558.00');
  await expect(entry(page).getByRole('row', { name: /124 Retention receivable 558\.00/ })).toBeVisible();
  await page.getByRole('button', { name: 'Throw away' }).click();
});

test('a quote is sent in two versions, ordered in part, delivered, signed for, billed, the rest called off', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Asks What It Costs');
  await page.goto(`${demo.url}/papers/new/quote?customer=${of}`);
  await page.getByRole('textbox', { name: 'Holds through' }).fill('30 days');
  await page.getByRole('combobox', { name: 'What, line 1' }).focus();
  for (const [text, quantity, price] of [['Treads', '40', '118'], ['Fitting', '3', '920']]) {
    await page.keyboard.type(text!);
    await press(page, 'Enter');
    await page.keyboard.type(quantity!);
    await press(page, 'Enter');
    await page.keyboard.type(price!);
    await press(page, 'Enter');
    await press(page, 'Enter');
  }
  await expect(effect(page).getByText('It posts nothing.')).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Quote Q26-/ })).toBeVisible();
  const first = (await page.getByRole('heading', { level: 1, name: /Q26-/ }).textContent())!.replace('Quote ', '');
  await expect(page.getByText('20 Dec 2026')).toBeVisible();
  await axe(page);
  await page.getByRole('button', { name: 'New version' }).click();
  await page.getByRole('row', { name: /^Treads/ }).click();
  await page.getByRole('textbox', { name: 'Unit price, line 1' }).fill('115');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: `Quote ${first}/2` })).toBeVisible();
  // Ordered with nothing typed again; a line that is not wanted is taken away.
  await page.getByRole('button', { name: 'They ordered' }).click();
  await expect(page.getByRole('row', { name: /^Treads 40 115\.00/ })).toBeVisible();
  await page.getByRole('textbox', { name: 'Their order number' }).fill('PO 77');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Order O26-/ })).toBeVisible();
  const order = page.url();
  await page.getByRole('link', { name: `${first}/2` }).click();
  await expect(page.getByText('accepted', { exact: true })).toBeVisible();
  await page.goto(order);
  await page.getByRole('button', { name: 'Delivery', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Delivered of Treads' })).toHaveValue('40');
  await page.getByRole('textbox', { name: 'Delivered of Treads' }).fill('25');
  await page.getByRole('textbox', { name: 'Delivered of Fitting' }).fill('');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Delivery DN26-/ })).toBeVisible();
  await expect(page.getByRole('article').getByText('115.00')).toHaveCount(0);
  await page.getByRole('button', { name: 'Signed for' }).click();
  await page.getByRole('textbox', { name: 'Signed for by' }).fill('J. Reed');
  await page.getByRole('textbox', { name: 'Signed on' }).fill('20/11');
  await press(page, 'Control+Enter');
  await expect(page.getByText('Received by J. Reed, 20 Nov 2026')).toBeVisible();
  await page.getByRole('button', { name: 'Invoice', exact: true }).click();
  await page.getByRole('row', { name: /^Treads/ }).click();
  await page.getByRole('textbox', { name: 'Quantity, line 1' }).fill('25');
  await page.getByRole('row', { name: /^Fitting/ }).click();
  await page.getByRole('button', { name: 'Take away, line 2' }).click();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await page.goto(order);
  await expect(page.getByText('part billed')).toBeVisible();
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Cancel what is left' }).click();
  await expect(page.getByRole('textbox', { name: 'Cancelled of Treads' })).toHaveValue('15');
  await page.getByRole('textbox', { name: 'Why is it called off?' }).fill('The loft is not built');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Cancellation OC26-/ })).toBeVisible();
  await page.goto(order);
  await expect(page.getByText('billed', { exact: true }).first()).toBeVisible();
  await expect(page.getByRole('table', { name: 'What became of its lines' }).getByRole('row', { name: /Treads 40 25 25 15 0 0\.00/ })).toBeVisible();
});

test('a quote that is lost says why, and cannot be ordered any more', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Went Elsewhere');
  const quote = await put(page, demo, 'quotes', { customer: of, day: '2026-11-20', lines: [{ text: 'Stair', unitPrice: '100', taxCode: 1 }] });
  await page.goto(`${demo.url}/papers/${quote.posted.paper}`);
  await page.getByRole('button', { name: 'Lost' }).click();
  await page.getByRole('textbox', { name: 'Why it was lost' }).fill('too dear');
  await press(page, 'Control+Enter');
  await expect(page.getByText('lost', { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'They ordered' }).click();
  await expect(effect(page).getByText(/was noted as lost: too dear/)).toBeVisible();
});

test('a deposit is asked for and paid in two pieces; the final invoice is less both', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Pays In Pieces');
  const job = (await put(page, demo, 'jobs', { name: 'Attic stair', customer: of })).id;
  const order = (await put(page, demo, 'orders', { customer: of, job, day: '2026-11-02', lines: [{ text: 'Attic stair', unitPrice: '5000', taxCode: 1 }] })).posted.paper;
  await page.goto(`${demo.url}/papers/${order}`);
  await page.getByRole('button', { name: 'Ask for a deposit' }).click();
  await page.getByRole('textbox', { name: 'How much of it' }).fill('40');
  await page.getByRole('textbox', { name: 'To be paid by' }).fill('14 days');
  await expect(effect(page).getByText('It posts nothing.')).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Request for a deposit RD26-/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Left to pay by 4 Dec 2,400\.00/ })).toBeVisible();
  const request = page.url();
  await axe(page);
  for (const amount of ['1000', '']) {
    await page.getByRole('button', { name: 'They paid it' }).click();
    await expect(page.getByText(/^For request RD26-/)).toBeVisible();
    await expect(page.getByRole('textbox', { name: 'Amount' })).toHaveValue(amount ? '2,400.00' : '1,400.00');
    if (amount) await page.getByRole('textbox', { name: 'Amount' }).fill(amount);
    await press(page, 'Control+Enter');
    await expect(page.getByRole('heading', { level: 1, name: /Deposit D26-/ })).toBeVisible();
    await page.goto(request);
    await expect(page.getByText(amount ? 'part paid' : 'paid', { exact: true })).toBeVisible();
  }
  await page.goto(`${demo.url}/papers/new/invoice?order=${order}`);
  const take = page.getByRole('button', { name: /^set against it: D26-/ });
  await take.first().click();
  await take.first().click();
  await expect(page.getByRole('row', { name: /Left to pay by .* 3,600\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Left to pay by .* 3,600\.00/ })).toBeVisible();
  const position = (await (await page.request.get(`${demo.url}/api/v1/customers/${of}`)).json()).position;
  expect([position.held, position.net]).toEqual(['0.00', '3600.00']);
});

test('a job is claimed in three pieces, one certified lower, a variation between; what is kept back reaches its cap and is released', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Claims By Progress');
  const job = (
    await put(page, demo, 'jobs', {
      name: 'Warehouse stairs', customer: of, contractSum: '40000', retention: '5', retentionCapPercent: '3', retentionTaxLater: true,
      releases: [{ name: 'at completion', percent: '50', day: '2026-11-20' }, { name: 'after defects', percent: '50', day: '2027-11-20' }],
    })
  ).id;
  const claim = async (share: string, certified = '') => {
    await page.goto(`${demo.url}/jobs/${job}`);
    await page.getByRole('button', { name: 'Claim' }).click();
    await page.getByRole('textbox', { name: 'Done to date' }).fill(share);
    if (certified) await page.getByRole('textbox', { name: 'Certified of this claim, net' }).fill(certified);
  };
  const comes = page.getByRole('table', { name: 'What this claim comes to' });
  await claim('25');
  await expect(comes.getByRole('row', { name: /This claim, net 10,000\.00/ })).toBeVisible();
  await expect(comes.getByRole('row', { name: /Kept back by them −600\.00/ })).toBeVisible();
  await expect(comes.getByRole('row', { name: /Due now 11,400\.00/ })).toBeVisible();
  await expect(page.locator('[data-behind]')).toHaveCount(0);
  await axe(page);
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 2, name: 'Stage invoice' }).or(page.getByRole('heading', { level: 1, name: 'Stage invoice' }))).toBeVisible();
  await expect(page.getByText('Work to date 25 % of 40,000.00, 10,000.00, less claimed before 0.00: 10,000.00')).toBeVisible();
  await claim('60', '13100');
  await expect(comes.getByRole('row', { name: /This claim, net 13,100\.00/ })).toBeVisible();
  // The cap of 1,200.00 leaves 700.00 to keep back, and its tax.
  await expect(comes.getByRole('row', { name: /Kept back by them −786\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByText(/certified 13,100\.00/)).toBeVisible();
  // A variation raises the contract, and the cap with it.
  await put(page, demo, 'orders', { customer: of, job, day: '2026-11-20', lines: [{ text: 'Landing, wider', unitPrice: '5000', taxCode: 1 }] });
  await claim('100');
  await expect(comes.getByRole('row', { name: /This claim, net 21,900\.00/ })).toBeVisible();
  await expect(comes.getByRole('row', { name: /Kept back by them −234\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await expect(page.getByText(/Work to date 100 % of 45,000\.00/)).toBeVisible();
  await page.goto(`${demo.url}/jobs/${job}`);
  await expect(page.getByRole('button', { name: 'Claim' })).toHaveCount(0);
  for (const when of ['due', 'all']) {
    await page.goto(`${demo.url}/papers/new/release?customer=${of}`);
    if (when === 'due') await page.getByRole('button', { name: 'Release all 3 that are due' }).click();
    else for (let n = 3; n > 0; n--) await page.getByRole('button', { name: 'Release', exact: true }).first().click();
    await expect(entry(page).getByRole('row', { name: /124 Retention receivable 810\.00/ })).toBeVisible();
    await press(page, 'Control+Enter');
    await expect(page.getByRole('heading', { level: 1, name: /Release RL26-/ })).toBeVisible();
  }
  expect((await (await page.request.get(`${demo.url}/api/v1/customers/${of}`)).json()).position.keepsBack).toBe('0.00');
});

test('a job is finished: one step takes what is ordered, what was billed in advance, the deposits, and keeps back by its terms', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Finished In One Step');
  const job = (await put(page, demo, 'jobs', { name: 'Tower stair', customer: of, retention: '5' })).id;
  const order = (await put(page, demo, 'orders', { customer: of, job, day: '2026-11-02', lines: [{ text: 'Tower stair', unitPrice: '8000', taxCode: 1 }] })).posted.paper;
  await put(page, demo, 'orders', { customer: of, job, day: '2026-11-03', lines: [{ text: 'Rail', quantity: '4', unitPrice: '150', taxCode: 1 }] });
  await put(page, demo, 'deposit-invoices', { customer: of, job, day: '2026-11-03', order, percent: '25' });
  await put(page, demo, 'deposits', { customer: of, job, day: '2026-11-04', amount: '1000', bank: 1, method: 'transfer' });
  await page.goto(`${demo.url}/jobs/${job}`);
  await page.getByRole('button', { name: 'Finish the job' }).click();
  await expect(page.getByRole('heading', { level: 2, name: 'Final invoice' })).toBeVisible();
  // 8,600.00 + 1,720.00, less 2,400.00 in advance, less 430.00 kept back, less the deposit of 1,000.00.
  await expect(page.getByRole('row', { name: /Kept back by them.*−430\.00/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Left to pay by .* 6,490\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Left to pay by .* 6,490\.00/ })).toBeVisible();
  const j = await (await page.request.get(`${demo.url}/api/v1/jobs/${job}`)).json();
  expect([j.leftToBill, j.held, j.advance]).toEqual(['0.00', '0.00', '0.00']);
});

test('an order is called off in one step: what was billed in advance is credited, but for what is kept, and given back', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Calls It Off');
  const job = (await put(page, demo, 'jobs', { name: 'Loft stair', customer: of })).id;
  const order = (await put(page, demo, 'orders', { customer: of, job, day: '2026-11-02', lines: [{ text: 'Loft stair', unitPrice: '8000', taxCode: 1 }] })).posted.paper;
  await put(page, demo, 'deposit-invoices', { customer: of, job, day: '2026-11-03', order, percent: '30' });
  const bench = await (await page.request.get(`${demo.url}/api/v1/customers/${of}/bench`)).json();
  await put(page, demo, 'receipts', { customer: of, day: '2026-11-10', arrived: '2880.00', bank: 1, method: 'transfer', placements: [{ item: bench.owed[0].id }] });
  await page.goto(`${demo.url}/papers/${order}`);
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Cancel what is left' }).click();
  await page.getByRole('textbox', { name: 'Why is it called off?' }).fill('They move away');
  await page.getByRole('textbox', { name: /^Kept of AI26-.*, net$/ }).fill('600');
  for (const row of [/227 Billed in advance 2,400\.00/, /241 Output tax 360\.00/, /120 Trade receivables 2,160\.00/, /421 Deposits forfeited 600\.00/]) await expect(entry(page).getByRole('row', { name: row })).toBeVisible();
  await expect(page.locator('[data-behind]')).toHaveCount(0);
  await axe(page);
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Cancellation OC26-/ })).toBeVisible();
  const after = await (await page.request.get(`${demo.url}/api/v1/customers/${of}/bench`)).json();
  expect(after.credits.map((c: { open: string }) => c.open)).toEqual(['2160.00']);
  await page.goto(`${demo.url}/papers/${after.credits[0].paperId}`);
  await page.getByRole('button', { name: 'Refund' }).click();
  await expect(entry(page).getByRole('row', { name: /101 Bank 2,160\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect.poll(async () => (await (await page.request.get(`${demo.url}/api/v1/customers/${of}`)).json()).position.net).toBe('0.00');
});

test('a billing plan: each stage is billed by one key', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Billed By Stages');
  const job = (await put(page, demo, 'jobs', { name: 'Bank stair', customer: of, contractSum: '40000' })).id;
  await page.goto(`${demo.url}/jobs/${job}`);
  await page.getByRole('button', { name: 'Details' }).click();
  const dialog = page.getByRole('dialog');
  for (const [n, [name, share]] of [['at the order', '30'], ['at delivery', '40'], ['when fitted', '30']].entries()) {
    await dialog.getByRole('button', { name: n === 0 ? 'Billing plan' : 'Another stage' }).click();
    await dialog.getByRole('textbox', { name: `Stage ${n + 1}` }).fill(name!);
    await dialog.getByRole('textbox', { name: '%', exact: true }).nth(n).fill(share!);
  }
  await press(page, 'Control+Enter');
  const plan = page.getByRole('table', { name: 'Billing plan' });
  await expect(plan.getByRole('row', { name: /at delivery 40 % 28,000\.00 not billed/ })).toBeVisible();
  await plan.getByRole('link', { name: 'Bill it' }).click();
  await expect(page.getByRole('table', { name: 'What this claim comes to' }).getByRole('row', { name: /This claim, net 12,000\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26-/ })).toBeVisible();
  await page.goto(`${demo.url}/jobs/${job}`);
  await expect(plan.getByRole('row', { name: /at the order 30 % 12,000\.00 billed/ })).toBeVisible();
  await expect(plan.getByRole('row', { name: /at delivery.*Bill it/ })).toBeVisible();
});

test('a claim is certified lower after it was posted, lines come back and a price falls: each credited on the invoice, shown before', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Credits By Line');
  const job = (await put(page, demo, 'jobs', { name: 'Mill stairs', customer: of, contractSum: '40000', retention: '5' })).id;
  await put(page, demo, 'claims', { job, day: '2026-11-02', percent: '25' });
  const claim = (await put(page, demo, 'claims', { job, day: '2026-11-20', percent: '60' })).posted.paper;
  await page.goto(`${demo.url}/papers/${claim}`);
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Certified lower' }).click();
  await expect(page.getByRole('combobox', { name: 'Why is it credited?' })).toHaveValue('other');
  await page.getByRole('textbox', { name: 'Of the work, net' }).fill('900');
  // 900.00 with 180.00 tax, of which 45.00 comes off what they keep back.
  await expect(entry(page).getByRole('row', { name: /124 Retention receivable 45\.00/ })).toBeVisible();
  await expect(entry(page).getByRole('row', { name: /120 Trade receivables 1,035\.00/ })).toBeVisible();
  await axe(page);
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Credit note CN26-/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Off what you keep back −45\.00/ })).toBeVisible();
  expect((await (await page.request.get(`${demo.url}/api/v1/jobs/${job}`)).json()).leftToBill).toBe('16900.00');
  // Less is done than was claimed: the claim itself credits the difference.
  await page.goto(`${demo.url}/jobs/${job}`);
  await page.getByRole('button', { name: 'Claim' }).click();
  await page.getByRole('textbox', { name: 'Done to date' }).fill('50');
  await expect(page.getByText(/23,100\.00 was claimed before, more than what is done/).first()).toBeVisible();
  await page.getByRole('checkbox', { name: /credit the latest claims/ }).check();
  await expect(entry(page).getByRole('row', { name: /401 Sales: workmanship 3,100\.00/ })).toBeVisible();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Credit note CN26-/ })).toBeVisible();
  // Two balusters come back, one of the lines gets cheaper.
  const bill = (
    await put(page, demo, 'invoices', {
      customer: of, day: '2026-11-20',
      lines: [{ text: 'Baluster', quantity: '6', unitPrice: '120', taxCode: 1 }, { text: 'Handrail', quantity: '2', unitPrice: '300', taxCode: 1 }],
    })
  ).posted.paper;
  await page.goto(`${demo.url}/papers/${bill}`);
  await page.getByRole('button', { name: 'Credit', exact: true }).click();
  await page.getByRole('combobox', { name: 'Why is it credited?' }).selectOption('return');
  await page.getByRole('combobox', { name: 'What of it?' }).selectOption('lines');
  await page.getByRole('textbox', { name: 'Quantity back of Baluster' }).fill('2');
  await page.getByRole('textbox', { name: 'New price of Handrail' }).fill('250');
  await expect(entry(page).getByRole('row', { name: /401 Sales: workmanship 340\.00/ })).toBeVisible();
  await page.getByRole('textbox', { name: 'Quantity back of Baluster' }).fill('7');
  await expect(page.getByText(/only 6 of Baluster is left to credit, not 7/).first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Quantity back of Baluster' }).fill('2');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Credit note CN26-/ })).toBeVisible();
  await expect(page.getByText('used up', { exact: true })).toBeVisible();
  const after = await (await page.request.get(`${demo.url}/api/v1/papers/${bill}`)).json();
  expect(after.open).toBe('1176.00'); // 1,584.00 less 408.00
});

test('a deposit was paid and given back: what its request asks again is cancelled', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Asks For It Back');
  const request = (await put(page, demo, 'deposit-requests', { customer: of, day: '2026-11-02', due: '2026-11-10', amount: '1000' })).posted.paper;
  await put(page, demo, 'deposits', { customer: of, day: '2026-11-04', amount: '1000', bank: 1, method: 'transfer', request });
  const item = (await get(page, demo, `registers/deposits?customer=${of}`)).rows[0].id;
  await put(page, demo, 'refunds', { customer: of, day: '2026-11-12', sources: [{ item }], bank: 1, method: 'transfer' });
  await page.goto(`${demo.url}/papers/${request}`);
  await page.getByRole('button', { name: 'More' }).click();
  await page.getByRole('menuitem', { name: 'Cancel what is left' }).click();
  await expect(page.getByText(/^Of request RD26-\d+ of Asks For It Back, 1,000\.00 is still asked\.$/)).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Why is it called off?' })).toBeFocused();
  await axe(page);
  await press(page, 'Control+Enter');
  await expect(page.getByText('Say why it is cancelled.').first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Why is it called off?' }).fill('They stay where they are');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Cancellation OC26-/ })).toBeVisible();
  await expect(page.getByText(/^1,000\.00 of RD26-\d+, no longer asked for$/).first()).toBeVisible();
  await page.goto(`${demo.url}/papers/${request}`);
  await expect(page.getByText('cancelled', { exact: true })).toBeVisible();
  await expect(page.getByRole('row', { name: /No longer asked for .*1,000\.00/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'They paid it' })).toBeHidden();
});

test('an order is found by a part of its customer’s name, and handed over', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Found By A Part Of It');
  const order = (await put(page, demo, 'orders', { customer: of, day: '2026-11-02', lines: [{ text: 'Landing rail', quantity: '4', unitPrice: '90', taxCode: 1 }] })).posted.paper;
  await page.goto(`${demo.url}/papers/new/delivery`);
  await page.getByRole('combobox', { name: 'Order' }).fill('part of it');
  await expect(page.getByRole('option')).toHaveCount(1);
  await press(page, 'Enter');
  await page.getByRole('textbox', { name: 'Delivered of Landing rail' }).fill('3');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Delivery DN26-/ })).toBeVisible();
  expect((await get(page, demo, `order-book?order=${order}`)).rows[0].lines[0].delivered).toBe('3');
  await page.goto(`${demo.url}/ledger/registers?register=ordered`);
  await page.getByRole('textbox', { name: 'Order, customer, job, what' }).fill('part of it');
  await expect(page.getByRole('row', { name: /Found By A Part Of It .*360\.00 360\.00/ })).toBeVisible();
  await expect(page.getByText('1 in all')).toBeVisible();
  await axe(page);
});
