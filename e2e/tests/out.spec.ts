import { customer, expect, expectAccessible, put, test } from './firm';

test('a paper is taken along as a PDF, from its page and with others from the list', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Taken Along');
  const ids: number[] = [];
  for (const n of [1, 2])
    ids.push((await put(page, demo, 'invoices', { customer: of, day: '2026-11-20', lines: [{ text: `Stair ${n}`, unitPrice: '1000', taxCode: 1 }] })).posted.paper);
  await page.goto(`${demo.url}/papers/${ids[0]}`);
  const number = /I26-\d+/.exec((await page.getByRole('heading', { level: 1 }).textContent())!)![0];
  const taken = page.waitForEvent('download');
  await page.getByRole('link', { name: 'PDF' }).click();
  expect((await taken).suggestedFilename()).toBe(`Invoice ${number}.pdf`);
  await page.goto(`${demo.url}/papers/print?ids=${ids[0]}&ids=${ids[1]}`);
  await expect(page.getByRole('button', { name: 'Print 2' })).toBeEnabled();
  const both = page.waitForEvent('download');
  await page.getByRole('link', { name: 'PDF' }).click();
  expect((await both).suggestedFilename()).toBe('2 papers.pdf');
  await page.goto(`${demo.url}/customers/${of}/statement`);
  const statement = page.waitForEvent('download');
  await page.getByRole('link', { name: 'PDF' }).click();
  expect((await statement).suggestedFilename()).toBe('Statement Taken Along 2026-11-20.pdf');
});

test('a letterhead is made with the paper beside it, and taken for one customer’s credit notes', async ({ page, demo }) => {
  await page.goto(`${demo.url}/setup/letterheads`);
  await page.getByRole('button', { name: 'New letterhead' }).first().click();
  const form = page.getByRole('dialog', { name: 'New letterhead' });
  await form.getByLabel('Name').fill('Abroad');
  await form.getByLabel('Colour (#9a4a1c)').fill('blue');
  await form.getByText('Other words, in another language for example').click();
  await form.getByLabel('In place of Credit note').fill('Gutschrift');
  await form.getByLabel('In place of Invoice', { exact: true }).fill('Rechnung');
  await expect(form.getByRole('img', { name: /^Rechnung I26-/ })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Control+Enter');
  await expect(form.getByText('A colour is written as # and six figures or letters, for example #9a4a1c.').first()).toBeVisible();
  await form.getByLabel('Colour (#9a4a1c)').fill('#2f5d8a');
  await form.locator('input[type=file]').setInputFiles({ name: 'logo.png', mimeType: 'image/png', buffer: Buffer.from(pixel, 'base64') });
  await page.keyboard.press('Control+Enter');
  await expect(form).toBeHidden();
  const of = await customer(page, demo, 'Gets Gutschriften');
  const invoice = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-19', lines: [{ text: 'Stair', unitPrice: '1000', taxCode: 1 }] })).posted.paper;
  const credit = (await put(page, demo, 'credit-notes', { paper: invoice, day: '2026-11-20', cause: 'fault', what: 'work', work: '50', own: true })).posted.paper;
  await page.goto(`${demo.url}/papers/${credit}`);
  await page.getByRole('button', { name: 'Letterhead' }).click();
  await page.getByRole('menuitem', { name: 'Abroad' }).click();
  await expect(page.getByText(/goes out in Abroad/)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Gutschrift', exact: true })).toBeVisible();
  // The customer's own is taken for all that goes to them.
  await page.goto(`${demo.url}/customers/${of}`);
  await page.getByRole('button', { name: 'Details' }).click();
  await page.getByLabel('Letterhead').selectOption({ label: 'Abroad' });
  await page.keyboard.press('Control+Enter');
  await expect(page.getByLabel('Letterhead')).toHaveCount(0);
  await page.goto(`${demo.url}/papers/${invoice}`);
  await expect(page.getByRole('heading', { name: 'Rechnung', exact: true })).toBeVisible();
});

test('a link shows one paper on a telephone to who is not signed in, says that it was seen, and is ended', async ({ page, demo, browser }) => {
  const of = await customer(page, demo, 'Reads on a Telephone');
  const invoice = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-20', lines: [{ text: 'A stair with a rather long description that has to be broken', unitPrice: '12345', taxCode: 1 }] })).posted.paper;
  await page.goto(`${demo.url}/papers/${invoice}`);
  const links = page.getByRole('region', { name: 'Links' });
  await links.getByRole('button', { name: 'Make a link' }).click();
  const address = await links.getByLabel('Its address, told this once').inputValue();
  await expect(links.getByText(/not seen yet/)).toBeVisible();
  await expectAccessible(page);
  const telephone = await (await browser.newContext({ viewport: { width: 375, height: 740 } })).newPage();
  await telephone.goto(address);
  await expect(telephone.getByRole('heading', { name: 'Invoice' })).toBeVisible();
  await expect(telephone.getByText('14,814.00').first()).toBeVisible();
  await expectAccessible(telephone);
  expect(await telephone.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  const taken = telephone.waitForEvent('download');
  await telephone.getByRole('link', { name: 'Take it along as a PDF' }).click();
  expect((await taken).suggestedFilename()).toMatch(/^Invoice I26-\d+\.pdf$/);
  await page.reload();
  await expect(links.getByText(/^seen /)).toBeVisible();
  await links.getByRole('button', { name: 'End it' }).click();
  await expect(links.getByText(/ended/)).toBeVisible();
  await telephone.goto(address);
  await expect(telephone.getByText('This link does not open anything, or no longer does.')).toBeVisible();
  await telephone.context().close();
});

// A picture of one point.
const pixel = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
