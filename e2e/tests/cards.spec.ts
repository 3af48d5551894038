import { customer, expect, expectAccessible, put, test } from './firm';

test('an invoice is mailed, opened by its link on a telephone, paid there by card in two parts, the payout taken, and the story read', async ({
  page,
  demo,
  browser,
}) => {
  const of = await customer(page, demo, 'Pays By Card', { email: 'card@mail.example' });
  const posted = (
    await put(page, demo, 'invoices', {
      customer: of,
      day: '2026-11-20',
      lines: [{ text: 'Landing rail', unitPrice: '900', taxCode: 1 }],
    })
  ).posted;
  await page.goto(`${demo.url}/papers/mail?papers=${posted.paper}`);
  await expect(page.getByRole('textbox', { name: 'To (several with commas)' })).toHaveValue('card@mail.example');
  await page.getByRole('textbox', { name: 'Copies' }).fill('architect@lime.example');
  await page.getByRole('textbox', { name: 'Subject' }).fill('Pay me by card');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('region', { name: 'Mails' })).toContainText('Pay me by card to card@mail.example: sent');
  const { standIn } = await (await page.request.get(`${demo.url}/api/v1/mail-account`)).json();

  // On the customer's telephone.
  const phone = await browser.newPage({ viewport: { width: 390, height: 844 } });
  await phone.goto(standIn);
  await phone.getByRole('link', { name: 'Pay me by card' }).first().click();
  const link = /http:\/\/127\.0\.0\.1:\d+\/p\/\S+/.exec(await phone.locator('.said').innerText())![0];
  await phone.goto(link);
  const amount = phone.getByLabel('Amount (EUR)');
  await expect(amount).toHaveValue('1080.00');
  await expectAccessible(phone);
  await amount.fill('2000');
  await phone.getByRole('button', { name: 'Pay by card' }).click();
  await expect(phone.getByRole('alert')).toContainText('Only 1,080.00 is left to be paid, not 2,000.00.');
  await expectAccessible(phone);
  await expect(amount).toHaveValue('2000');
  await amount.fill('700');
  await phone.getByRole('button', { name: 'Pay by card' }).click();
  await phone.getByRole('radio', { name: 'that is declined' }).check();
  await expectAccessible(phone);
  await phone.getByRole('button', { name: 'Pay', exact: true }).click();
  await expect(phone.getByRole('status')).toContainText('The card was declined');
  await amount.fill('700');
  await phone.getByRole('button', { name: 'Pay by card' }).click();
  await phone.getByRole('button', { name: 'Do not pay' }).click();
  await expect(amount).toHaveValue('1080.00');
  await amount.fill('700');
  await phone.getByRole('button', { name: 'Pay by card' }).click();
  await phone.getByRole('radio', { name: 'that pays, and is told twice' }).check();
  await phone.getByRole('button', { name: 'Pay', exact: true }).click();
  await expect(phone.getByRole('status')).toContainText('Thank you: 700.00 EUR was paid by card.');
  await expect(amount).toHaveValue('380.00');
  // Never told: the page asks what became of it.
  await phone.getByRole('button', { name: 'Pay by card' }).click();
  await phone.getByRole('radio', { name: 'that pays, and is never told' }).check();
  await phone.getByRole('button', { name: 'Pay', exact: true }).click();
  await expect(phone.getByText('Nothing left to pay')).toBeVisible();
  await expect(phone.getByRole('button', { name: 'Pay by card' })).toHaveCount(0);
  await expectAccessible(phone);

  // The gateway pays out; the Desk says so, and it is taken in one step.
  const gateway = await (await page.request.get(`${demo.url}/api/v1/card-gateway`)).json();
  await phone.goto(gateway.standIn);
  await phone.getByRole('button', { name: 'Pay out what was paid' }).click();
  await expect(phone.getByRole('heading', { name: 'Payouts' })).toBeVisible();
  await expectAccessible(phone);
  await phone.close();
  await page.goto(`${demo.url}/desk`);
  await page
    .getByRole('region', { name: 'Card takings that were paid out' })
    .getByRole('row', { name: /1,064\.38/ })
    .click();
  await expect(page.getByRole('textbox', { name: 'Amount received' })).toHaveValue('1,064.38');
  const effect = page.getByRole('complementary');
  await expect(effect).toContainText('15.62');
  await expect(page.getByText('2 of', { exact: false })).toContainText('1,080.00');
  await expectAccessible(page);
  // The fee was mistyped: what it would have to be is one key away.
  await page.getByRole('textbox', { name: 'Fee' }).fill('15');
  await page.getByRole('button', { name: 'The fee is 15.62' }).click();
  await expect(effect).toContainText('Card takings on the way');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { name: /^Card payout CP26-/ })).toBeVisible();
  await expectAccessible(page);

  // The story: the mail, the two receipts, and the payout that cleared them.
  await page.goto(`${demo.url}/papers/${posted.paper}`);
  await expect(page.getByText('settled').first()).toBeVisible();
  await expect(page.getByRole('region', { name: 'Mails' })).toContainText('seen');
  await page.goto(`${demo.url}/customers/${of}`);
  const story = page.getByRole('region', { name: 'Story' });
  await expect(story).toContainText('380.00');
  await expect(story).toContainText('700.00');
});

test('card takings are paid out by hand, from what happened, by keyboard', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Paid At The Desk');
  const receipt = (
    await put(page, demo, 'receipts', {
      customer: of,
      day: '2026-11-19',
      arrived: '250.00',
      bank: 3,
      method: 'card',
      reference: 'TERMINAL 7',
      onAccount: true,
    })
  ).posted;
  await page.goto(`${demo.url}/desk`);
  await expect(page.getByRole('heading', { name: /loose end/ })).toBeVisible();
  await page.keyboard.press('w');
  await page.keyboard.type('card takings were paid');
  await page.keyboard.press('Enter');
  const arrived = page.getByRole('textbox', { name: 'Amount received' });
  await expect(arrived).toBeFocused();
  await page.keyboard.type('243.50');
  await page.getByRole('checkbox', { name: `Paid out: ${receipt.number}` }).press('Space');
  await page.getByRole('button', { name: 'The fee is 6.50' }).press('Enter');
  await expect(page.getByRole('complementary')).toContainText('243.50');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('heading', { name: /^Card payout CP26-/ })).toBeVisible();
  await page.getByRole('link', { name: receipt.number }).first().click();
  await expect(page.getByRole('link', { name: /card payout CP26-/ })).toBeVisible();
});

test('who takes cards, and what is paid out, is said in Setup', async ({ page, demo }) => {
  await page.goto(`${demo.url}/setup/cards`);
  await expect(page.getByRole('combobox', { name: 'On the page of a link, customers' })).toHaveValue('stand-in');
  await page.getByRole('checkbox', { name: 'They may pay a part' }).setChecked(true);
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Saved.')).toBeVisible();
  await expectAccessible(page);
  await page.goto(`${demo.url}/setup/banks`);
  await page.getByRole('row', { name: /Card takings/ }).click();
  await expect(page.getByRole('combobox', { name: 'What it is' })).toHaveValue('takings');
  await expectAccessible(page);
});
