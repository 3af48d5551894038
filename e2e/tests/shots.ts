import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from './firm';

const to = join(import.meta.dirname, '../../docs/screenshots');

// One current picture of each main view, from the demo data: make shots.
test('pictures of the main views', async ({ page, demo }) => {
  test.setTimeout(120_000);
  mkdirSync(to, { recursive: true });
  await page.emulateMedia({ reducedMotion: 'reduce' });
  const shot = async (name: string) => {
    await page.waitForLoadState('networkidle');
    await page.evaluate(() => document.fonts.ready);
    await page.waitForTimeout(250); // for the Effect, which follows the typing
    await page.screenshot({ path: join(to, `${name}.png`) });
  };
  const open = async (path: string) => {
    await page.goto(demo.url + path);
    await expect(page.locator('h1').first()).toBeVisible();
  };
  const discard = async () => {
    await page.getByRole('button', { name: 'Throw away' }).click();
    await expect(page.getByRole('button', { name: 'Throw away' })).toHaveCount(0);
  };
  await open('/desk');
  await shot('desk');
  await page.keyboard.press('w');
  await page.keyboard.type('paid be');
  await shot('what-happened');
  await open('/customers');
  await shot('customers');
  await open('/customers/1');
  for (const [owed, credit] of [[0, 'Receipt on account'], [0, 'Deposit for job 212']] as const) {
    await page.locator('[data-card][data-side=owed]').nth(owed).click();
    await page.locator('[data-card][data-side=credit]', { hasText: credit }).first().click();
  }
  await shot('customer');
  await open('/customers/1/statement?from=2026-01-01');
  await shot('statement');
  const [rows] = (await (await page.request.get(`${demo.url}/api/v1/jobs?q=winder+flights`)).json()).rows;
  await open(`/jobs/${rows.id}`);
  await shot('job');
  await open('/papers');
  await shot('papers');
  await open('/papers/new/invoice?customer=1&job=17');
  await page.getByRole('combobox', { name: 'What, line 1' }).fill('Second oiling, after six weeks');
  await page.getByRole('textbox', { name: 'Quantity, line 1' }).fill('1');
  await page.getByRole('textbox', { name: 'Unit price, line 1' }).fill('310');
  await page.getByRole('row', { name: /^Next line/ }).focus();
  await page.getByRole('combobox', { name: 'What, line 2' }).fill('Turned balusters, oak');
  await page.getByRole('textbox', { name: 'Quantity, line 2' }).fill('4');
  await page.getByRole('textbox', { name: 'Unit price, line 2' }).fill('25');
  await page.getByRole('textbox', { name: 'Discount, line 2' }).fill('10');
  await page.getByRole('button', { name: /set against it: D26-/ }).first().click();
  await shot('invoice');
  await discard();
  const [chandlery] = (await (await page.request.get(`${demo.url}/api/v1/jobs?q=Chandlery`)).json()).rows;
  await open(`/papers/new/invoice?customer=${chandlery.customerId}&job=${chandlery.id}&finish=1`);
  await expect(page.getByRole('complementary', { name: 'Effect' }).getByText('227 Billed in advance').first()).toBeVisible();
  await shot('final-invoice');
  await open('/customers/reminders');
  await expect(page.getByRole('table', { name: 'What it is for' })).toBeVisible();
  await shot('reminders');
  const [open1] = (await (await page.request.get(`${demo.url}/api/v1/papers?kind=invoice&state=open&limit=1`)).json()).rows;
  await open(`/papers/mail?papers=${open1.id}`);
  await expect(page.getByRole('region', { name: 'As it will be read' })).toContainText('.pdf');
  await shot('mail');
  const [sold] = (await (await page.request.get(`${demo.url}/api/v1/credit-notes?q=CI+R-19&in=reference`)).json()).rows;
  await open(`/papers/new/credit_note?paper=${sold.invoiceId}`);
  await page.getByRole('combobox', { name: 'Why is it credited?' }).selectOption('return');
  await page.getByRole('textbox', { name: 'In a few words' }).fill('two more were left over');
  await page.getByRole('combobox', { name: 'What of it?' }).selectOption('lines');
  await page.getByRole('textbox', { name: /^Quantity back of/ }).fill('2');
  await page.getByRole('textbox', { name: /^To stock of/ }).fill('2');
  await shot('credit-note');
  await discard();
  await open('/papers?kind=invoice&state=settled');
  await expect(page.locator('tr[data-row]:focus')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice/ }).first()).toBeVisible();
  await shot('paper');
  await open('/ledger/ageing');
  await shot('ageing');
  await open('/ledger/closing');
  await expect(page.locator('[data-step="tax"]')).toBeVisible();
  await shot('closing');
  await open('/ledger/tax');
  await expect(page.getByRole('complementary', { name: 'Effect' }).getByText('248 Tax to pay')).toBeVisible();
  await shot('tax');
  await open('/bank/1');
  await page.getByRole('row', { name: /SUNNIVA/ }).focus();
  await expect(page.getByRole('region', { name: 'What it may be' })).toContainText('but 1,380.00 less than is open');
  await expect(page.getByRole('table', { name: 'Lines of the bank' })).toHaveAttribute('aria-busy', 'false');
  await shot('bank');
  const paper = await page.context().newPage();
  await paper.setViewportSize({ width: 420, height: 560 });
  await paper.setContent(bill);
  const picture = await paper.screenshot();
  await paper.close();
  const [crane] = (await (await page.request.get(`${demo.url}/api/v1/suppliers?q=crane`)).json()).rows;
  await open(`/papers/new/supplier_bill?customer=${crane.id}`);
  await page.getByLabel('Attach files').setInputFiles({ name: 'bill 2611.png', mimeType: 'image/png', buffer: picture });
  await expect(page.getByRole('complementary', { name: 'bill 2611.png' }).getByRole('img')).toBeVisible();
  await page.getByRole('textbox', { name: 'Their number' }).fill('LC 2611');
  await page.getByRole('textbox', { name: 'What, line 1' }).fill('Crane hire, whole day');
  await page.getByRole('combobox', { name: 'Job, line 1' }).fill('223');
  await expect(page.getByRole('option', { name: /Chandlery/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await page.getByRole('combobox', { name: 'Passed on, line 1' }).selectOption('as our own supply');
  await page.getByRole('textbox', { name: 'Net, line 1' }).fill('960');
  await shot('supplier-bill');
  await discard();
  await page.emulateMedia({ colorScheme: 'dark' });
  await open(`/jobs/${chandlery.id}`);
  await page.getByRole('region', { name: 'Costs to pass on' }).scrollIntoViewIfNeeded();
  await shot('job-costs');
});

// A bill as a supplier sends it, made up as all else.
const bill = `<body style="font:15px serif;padding:34px;background:#fffef8;color:#222"><h2>Larkfield Crane &amp; Lift</h2><p>The Yard, Larkfield</p>
  <p>To Sparrow &amp; Winder Stairworks<br>Bill LC 2611, 19 November 2026</p><table style="width:100%"><tr><td>Crane hire, whole day<td style="text-align:right">960.00
  <tr><td>Tax 20 %<td style="text-align:right">192.00<tr style="font-weight:bold"><td>To pay within 30 days<td style="text-align:right">1,152.00</table></body>`;
