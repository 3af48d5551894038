import { customer, expect, expectAccessible, put, test } from './firm';
import type { Page } from '@playwright/test';

const press = (page: Page, key: string) => page.keyboard.press(key);

test('an invoice is mailed with a copy, read in the mailbox, opened by its link on a telephone, and its story tells it', async ({ page, demo, browser }) => {
  const of = await customer(page, demo, 'Reads Their Mail', { email: 'reads@mail.example', contact: 'Ida Read' });
  const paper = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-20', lines: [{ text: 'Landing rail', unitPrice: '900', taxCode: 1 }] })).posted.paper;
  await page.goto(`${demo.url}/papers/${paper}`);
  await page.getByRole('button', { name: 'Mail', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'To (several with commas)' })).toHaveValue('reads@mail.example');
  const beside = page.getByRole('region', { name: 'As it will be read' });
  await expect(beside).toContainText('Left to pay: 1,080.00 EUR');
  await expect(beside.getByRole('link', { name: /^Invoice I26-\d+\.pdf$/ })).toBeVisible();
  await page.getByRole('textbox', { name: 'Copies' }).fill('architect@lime');
  await page.getByRole('textbox', { name: 'Subject' }).fill('Your landing');
  await expect(beside).toContainText('Your landing');
  // What was written is there again when one comes back.
  await page.goto(`${demo.url}/papers/${paper}`);
  await page.getByRole('button', { name: 'Mail', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Subject' })).toHaveValue('Your landing');
  await expect(beside).toContainText('Your landing');
  await press(page, 'Control+Enter');
  // A refusal keeps what was written, and the cursor stands where the trouble is.
  await expect(page.getByText(/"architect@lime" is no e-mail address/).first()).toBeVisible();
  await expect(page.getByRole('textbox', { name: 'Copies' })).toBeFocused();
  await page.getByRole('textbox', { name: 'Copies' }).fill('architect@lime.example');
  await expect(beside).toContainText('architect@lime.example');
  await expectAccessible(page);
  await press(page, 'Control+Enter');
  const mails = page.getByRole('region', { name: 'Mails' });
  await expect(mails).toContainText('Your landing to reads@mail.example: sent');

  // What the customer got.
  const { standIn } = await (await page.request.get(`${demo.url}/api/v1/mail-account`)).json();
  const phone = await browser.newPage({ viewport: { width: 390, height: 844 } });
  await phone.goto(standIn);
  await phone.getByRole('link', { name: 'Your landing' }).first().click();
  await expect(phone.getByText('reads@mail.example, architect@lime.example')).toBeVisible();
  const file = await phone.request.get(new URL((await phone.getByRole('link', { name: /\.pdf$/ }).getAttribute('href'))!, standIn).href);
  expect((await file.body()).subarray(0, 5).toString()).toBe('%PDF-');
  const link = /http:\/\/127\.0\.0\.1:\d+\/p\/\S+/.exec(await phone.locator('.said').innerText())![0];
  await phone.goto(link);
  await expect(phone.getByText('Landing rail')).toBeVisible();
  await phone.close();
  await page.reload();
  await expect(mails).toContainText('seen');
  await expect(page.getByRole('region', { name: 'Noted' })).toContainText('sent · by mail to reads@mail.example, architect@lime.example');
  // The mail as it went, with its file.
  await mails.getByRole('link', { name: 'Your landing' }).click();
  const mail = page.getByRole('region', { name: 'Mail', exact: true });
  await expect(mail).toContainText('Dear Ida Read,');
  await expect(mail.getByRole('link', { name: /\.pdf$/ })).toBeVisible();
  await expectAccessible(page);
});

test('what cannot be delivered stands on the Desk, is mended and goes; what waits goes by hand', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Has Moved', { email: 'moved@refuses.example' });
  const paper = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-20', lines: [{ text: 'Newel cap', unitPrice: '40', taxCode: 1 }] })).posted.paper;
  await page.goto(`${demo.url}/papers/mail?papers=${paper}`);
  await expect(page.getByRole('textbox', { name: 'To (several with commas)' })).toHaveValue('moved@refuses.example');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('region', { name: 'Mails' })).toContainText('failed (The mail server does not take it for a recipient');
  await page.goto(`${demo.url}/desk`);
  const failed = page.getByRole('region', { name: 'Mails that did not go' });
  await failed.getByRole('row', { name: /Has Moved/ }).click();
  await expect(page.getByRole('region', { name: 'Mail', exact: true })).toContainText('there is nobody of that name here');
  await page.getByRole('button', { name: 'Stop it' }).click();
  await expect(page.getByRole('region', { name: 'Mail', exact: true })).toContainText('stopped');
  // Written anew for later, to another address.
  await page.goto(`${demo.url}/papers/mail?papers=${paper}`);
  await page.getByRole('textbox', { name: 'To (several with commas)' }).fill('moved@new.example');
  await page.getByRole('combobox', { name: 'It goes' }).selectOption('later, by hand');
  await press(page, 'Control+Enter');
  const mails = page.getByRole('region', { name: 'Mails' });
  await expect(mails).toContainText('waits until it is sent by hand');
  await mails.getByRole('link').first().click();
  await page.getByRole('button', { name: 'Send it now' }).click();
  await expect(page.getByRole('region', { name: 'Mail', exact: true })).toContainText(/^Mailsent/);
});

test('words of mails are ours by kind and language; chosen papers and statements for all are mailed in one step', async ({ page, demo, browser }) => {
  const of = await customer(page, demo, 'Speaks Otherwise', { email: 'otherwise@mail.example', language: 'Deutsch' });
  const without = await customer(page, demo, 'Without Any Address');
  const mine = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-20', lines: [{ text: 'Tread', unitPrice: '100', taxCode: 1 }] })).posted.paper;
  await put(page, demo, 'invoices', { customer: without, day: '2026-11-20', lines: [{ text: 'Tread', unitPrice: '100', taxCode: 1 }] });
  await page.goto(`${demo.url}/setup/mail`);
  await page.getByRole('button', { name: 'New text' }).first().click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Rechnung');
  await page.getByRole('textbox', { name: /^Language/ }).fill('Deutsch');
  await page.getByRole('textbox', { name: 'Subject' }).fill('Rechnung {nummer}');
  await page.getByRole('textbox', { name: 'Words' }).fill('Guten Tag {contact},\n\nanbei die Rechnung {number}.');
  await page.getByRole('checkbox', { name: 'Invoice', exact: true }).check();
  await press(page, 'Control+Enter');
  await expect(page.getByText('There is no field {nummer}.').first()).toBeVisible();
  await page.getByRole('textbox', { name: 'Subject' }).fill('Rechnung {number}');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('row', { name: /Rechnung Invoice Deutsch/ })).toBeVisible();
  await page.goto(`${demo.url}/papers/mail?papers=${mine}`);
  await expect(page.getByRole('region', { name: 'As it will be read' })).toContainText('Guten Tag Speaks Otherwise,');
  // Two papers at once: one has no address.
  await page.goto(`${demo.url}/papers?q=tread&kind=invoice&from=2026-11-20`);
  await page.getByRole('row', { name: /Speaks Otherwise/ }).getByRole('checkbox').check();
  await page.getByRole('row', { name: /Without Any Address/ }).getByRole('checkbox').check();
  await page.getByRole('group', { name: 'What is chosen' }).getByRole('button', { name: 'Mail' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('combobox', { name: 'They go' }).selectOption('at a time');
  await dialog.getByRole('textbox', { name: 'At' }).fill('half past');
  await dialog.getByRole('button', { name: 'Send them' }).click();
  await expect(dialog).toContainText('Say the time at which it goes');
  await dialog.getByRole('combobox', { name: 'They go' }).selectOption('later, by hand');
  await dialog.getByRole('button', { name: 'Send them' }).click();
  await expect(dialog).toContainText('1 of 2 goes out');
  await expect(dialog).toContainText(/I26-\d+, Without Any Address: Say to which address it goes\./);
  await dialog.getByRole('link', { name: 'the outbox' }).click();
  await expect(page.getByRole('row', { name: /Speaks Otherwise/ }).first()).toContainText('waits until it is sent by hand');
  // A statement; its link shows it to whoever has it.
  await page.goto(`${demo.url}/customers/${of}/statement?of=open`);
  const links = page.getByRole('region', { name: 'Links' });
  await links.getByRole('button', { name: 'Make a link' }).click();
  await expect(links).toContainText('not seen yet');
  const phone = await browser.newPage({ viewport: { width: 390, height: 844 } });
  await phone.goto(await links.getByRole('textbox').inputValue());
  await expect(phone.getByRole('heading', { name: 'Statement' })).toBeVisible();
  await expectAccessible(phone);
  await phone.close();
  await page.reload();
  await expect(links).toContainText(/seen \d/);
  await page.getByRole('link', { name: 'Mail', exact: true }).click();
  await expect(page.getByRole('region', { name: 'As it will be read' })).toContainText('Statement 2026-11-20.pdf');
  await press(page, 'Control+Enter');
  await expect(page.getByText('It is on its way.')).toBeVisible();
  // Mail leads back to what it was opened from.
  await expect(page.getByRole('heading', { level: 1, name: 'Statement for Speaks Otherwise' })).toBeVisible();
  await page.goto(`${demo.url}/papers/outbox?q=statement`);
  await expect(page.getByRole('row', { name: /Speaks Otherwise statement/ })).toContainText('sent');
});

test('an invoice goes out as an electronic one once its country is known, and a supplier’s is read as a bill with its picture beside it', async ({ page, demo }) => {
  const of = await customer(page, demo, 'Wants The Norm', { email: 'norm@mail.example', address: '1 Weir Walk\nHaverling' });
  const paper = (await put(page, demo, 'invoices', { customer: of, day: '2026-11-20', lines: [{ text: 'Riser', quantity: '2', unitPrice: '55', taxCode: 1 }] })).posted.paper;
  await page.goto(`${demo.url}/papers/${paper}`);
  await page.getByRole('button', { name: 'E-invoice' }).click();
  await expect(page.getByText('Say at the customer in which country they are.')).toBeVisible();
  await page.goto(`${demo.url}/customers/${of}`);
  await page.getByRole('button', { name: 'Details' }).click();
  await page.getByRole('textbox', { name: 'Country (two letters)' }).fill('zz');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.goto(`${demo.url}/papers/${paper}`);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'E-invoice' }).click();
  const file = await (await download).path();
  await page.goto(`${demo.url}/papers/mail?papers=${paper}`);
  await page.getByRole('checkbox', { name: 'As an electronic invoice' }).check();
  await expect(page.getByRole('region', { name: 'As it will be read' })).toContainText(/I26-\d+\.xml/);
  await press(page, 'Control+Enter');
  await expect(page.getByRole('region', { name: 'Mails' })).toContainText('sent');
  // What one firm writes another reads: here our own, as if a supplier had sent it.
  await page.keyboard.press('w');
  await page.keyboard.type('electronic');
  await press(page, 'Enter');
  await expect(page.getByRole('heading', { name: 'Read an electronic invoice', level: 1 })).toBeVisible();
  await expectAccessible(page);
  await page.locator('input[type=file]').setInputFiles({ name: 'x.xml', mimeType: 'text/xml', buffer: Buffer.from('<Order/>') });
  await expect(page.getByText(/The file is no electronic invoice/)).toBeVisible();
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByRole('region', { name: 'What was read' })).toContainText('Sparrow & Winder Stairworks is not a supplier yet');
  await page.getByRole('button', { name: 'Open the draft' }).click();
  await expect(page.getByRole('textbox', { name: 'What, line 1' })).toHaveValue('Riser');
  await expect(page.getByText(/I26-\d+\.xml/).first()).toBeVisible();
});

test('who is late is reminded in one letter each, by stages; what is disputed or left alone is left out and said so', async ({ page, demo }) => {
  const late = await customer(page, demo, 'Late By Mail', { email: 'late@mail.example' });
  const paper = await customer(page, demo, 'Late On Paper');
  const alone = await customer(page, demo, 'Late And Left Alone', { email: 'alone@mail.example' });
  const bill = async (of: number, text: string, day: string, due: string) =>
    (await put(page, demo, 'invoices?confirmed=long past', { customer: of, day, due, lines: [{ text, unitPrice: '100', taxCode: 1 }] })).posted.paper;
  const first = await bill(late, 'Gate', '2026-10-01', '2026-10-20');
  await bill(late, 'Post', '2026-10-05', '2026-10-25');
  await bill(paper, 'Hinge', '2026-10-05', '2026-10-25');
  await bill(alone, 'Latch', '2026-10-05', '2026-10-25');
  await page.goto(`${demo.url}/customers/${alone}`);
  await page.getByRole('button', { name: 'Details' }).click();
  await page.getByRole('checkbox', { name: 'Left alone: no reminders' }).check();
  await press(page, 'Control+Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.keyboard.press('w');
  await page.keyboard.type('late');
  await page.getByRole('option', { name: /Customers are late/ }).click();
  const list = page.getByRole('table', { name: 'Reminders' });
  await expect(list.getByRole('row', { name: /Late By Mail/ })).toContainText('240.00');
  await expect(page.getByRole('region', { name: 'Left out' })).toContainText('Late And Left Alone is left alone');
  await list.getByRole('row', { name: /Late By Mail/ }).click();
  await expect(page.getByRole('region', { name: 'As it will be read' })).toContainText('take this as done');
  await expectAccessible(page);
  // Other tests' customers are late too: here only these two are reminded.
  for (const box of await list.getByRole('checkbox').all())
    if (!/Late (By Mail|On Paper)/.test((await box.getAttribute('aria-label')) ?? '')) await box.uncheck();
  const letters = page.waitForEvent('download');
  await page.getByRole('button', { name: 'On paper 1' }).click();
  await letters;
  await expect(list.getByRole('row', { name: /Late On Paper/ })).toContainText('Reminder: on paper');
  for (const box of await list.getByRole('checkbox').all())
    if (!/Late By Mail/.test((await box.getAttribute('aria-label')) ?? '')) await box.uncheck();
  await expect(page.getByRole('button', { name: 'Mail 1' })).toBeEnabled();
  await press(page, 'Control+Enter');
  await expect(page.getByText('One reminder is on its way.')).toBeVisible();
  await page.goto(`${demo.url}/papers/${first}`);
  await expect(page.getByRole('region', { name: 'Mails' })).toContainText('Reminder: 240.00 EUR to late@mail.example: sent');
  await page.reload();
  await expect(page.getByRole('region', { name: 'Noted' })).toContainText('reminded · Reminder: by mail to late@mail.example');
  // A stage of one's own.
  await page.goto(`${demo.url}/setup/reminders`);
  await page.getByRole('row', { name: /Last reminder/ }).click();
  await page.getByRole('textbox', { name: 'From so many days overdue on' }).fill('60');
  await press(page, 'Control+Enter');
  await expect(page.getByRole('row', { name: /Last reminder 60/ })).toBeVisible();
});
