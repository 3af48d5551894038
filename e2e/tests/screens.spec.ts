import type { Page } from '@playwright/test';
import { expect, expectAccessible, test, twoKeys, type Firm } from './firm';

// A name in braces stands for the newest paper of that kind; every kind that the demo has is looked at once.
const screens = [
  '/desk', '/customers', '/customers/1', '/customers/1/statement', '/customers?new=1', '/jobs', '/jobs/17', '/papers', '/papers?state=draft', '/papers?q=nothing+like+it', '/papers/{invoice}',
  '/papers/new/invoice?customer=1&job=17', '/papers/new/deposit', '/papers/new/receipt?customer=4', '/papers/drafts/1', '/ledger/accounts', '/ledger/accounts/1', '/ledger/journal',
  '/ledger/registers', '/ledger/ageing', '/ledger/tie-out', '/ledger/closing', '/ledger/record', '/setup/firm', '/setup/articles', '/setup/taxcodes', '/setup/terms', '/setup/accounts', '/setup/banks',
  '/setup/numbers', '/setup/import', '/setup/limits', '/customers/statements', '/customers/late', '/papers/recurring', '/papers/recurring?paper={invoice}', '/papers/new/late_charge?customer=4', '/papers/new/credit_note?paper={invoice}', '/customers/1/statement?of=open', '/customers/12', '/papers/cheques', '/papers/new/refund?customer=4', '/papers/new/release?customer=2', '/papers/print?ids={invoice}&ids={receipt}', '/ledger/registers?register=ordered',
  '/papers/new/write-off?customer=5', '/papers/new/write-off?small=1', '/papers/new/unidentified_receipt', '/papers/new/distribution', '/papers/new/deposit_split?customer=15',
  '/papers/new/transfer?customer=1', '/papers/new/recovery', '/papers/new/contra?customer=12', '/papers/new/supplier_bill', '/papers/new/journal', '/ledger/deposits', '/ledger/expected',
  '/ledger/allowance', '/ledger/registers?register=unidentified', '/ledger/ageing?byJob=true',
  '/customers/suppliers', '/customers/suppliers?state=owed', '/customers/suppliers/21', '/papers/bank-file', '/jobs/costs', '/jobs/costs?job=26', '/jobs/margins', '/jobs/26', '/ledger/stock/1', '/ledger/registers?register=stock',
  '/ledger/registers?register=retention+payable', '/ledger/ageing?payable=true', '/setup/groups', 
  '/papers/new/purchase_order?job=26', '/papers/new/goods_received?order={purchase order}', '/papers/new/purchase_order_cancelled?order={purchase order}', '/papers/new/supplier_bill?order={purchase order}', '/papers/new/expense?job=26', '/papers/new/supplier_credit?paper={supplier bill}', '/papers/new/supplier_credit',
  '/papers/new/supplier_payment?customer=21', '/papers/new/payment_run', '/papers/new/supplier_prepayment', '/papers/new/supplier_refund', '/papers/new/supplier_release?customer=21', '/papers/new/cost_not_passed_on', '/papers/new/stock_use?job=26',
  '/papers/new/stock_count', '/papers/new/invoice?customer=8&job=26&costs=all',
  '/papers/new/credit_note', '/papers/new/return', '/papers/new/return?order={order}', '/papers/credits', '/papers/credits/returned', '/papers/credits/why', '/papers/credits/why?by=month',
  '/bank', '/bank/1', '/bank/1/reconcile', '/bank/1/several?lines=327', '/bank/2/count', '/setup/bank-rules', '/papers/new/own_transfer', '/setup/cards', '/papers/new/card_payout', '/papers/outbox', '/customers/reminders',
  '/ledger/income', '/ledger/income?by=month&against=year', '/ledger/balance?against=year', '/ledger/tax', '/ledger/tax?through=2026-09-30', '/ledger/accruals', '/ledger/exchange?day=2026-11-20', '/setup/currencies', '/ledger/closing?through=2025-12-31', '/setup/people', '/setup/me', '/setup/beginning', '/setup/safety', '/desk/words/1',
];

/** The newest paper of each kind. */
async function newestOf(page: Page, demo: Firm) {
  const newest = new Map<string, number>();
  let after = 0;
  do {
    const list = await (await page.request.get(`${demo.url}/api/v1/papers?limit=500${after ? `&after=${after}` : ''}`)).json();
    for (const p of list.rows) if (!newest.has(p.kind)) newest.set(p.kind, p.id);
    after = list.next ?? 0;
  } while (after);
  return newest;
}

// In parts, which two workers share and of which none takes long on a busy machine.
const parts = 6;
for (const part of Array(parts).keys()) {
  test(`every screen is accessible, light and dark, part ${part + 1}`, async ({ page, demo }) => {
    test.setTimeout(300_000);
    const newest = await newestOf(page, demo);
    const all = [...screens.map((path) => path.replace(/\{([\w -]+)\}/g, (_, kind: string) => String(newest.get(kind)))), ...[...newest.values()].map((id) => `/papers/${id}`)];
    expect(all.filter((path) => path.includes('undefined'))).toEqual([]);
    for (const path of all.filter((_, n) => n % parts === part)) {
      await test.step(path, async () => {
        await page.emulateMedia({ colorScheme: 'light', reducedMotion: 'reduce' });
        await page.goto(demo.url + path);
        await expect(page.locator('h1, [role=dialog] h2').first()).toBeVisible();
        await page.waitForLoadState('networkidle');
        await expectAccessible(page);
        // What stands where is the same in both: the dark one differs by its colours alone.
        await page.emulateMedia({ colorScheme: 'dark', reducedMotion: 'reduce' });
        await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
        await expectAccessible(page, 'color-contrast');
      });
    }
  });
}

test('keys open what they say, and Esc goes back', async ({ page, demo }) => {
  await page.goto(`${demo.url}/desk`);
  await expect(page.getByRole('heading', { name: /loose ends/ })).toBeVisible();
  for (const [key, name] of [['c', 'Customers'], ['j', 'Jobs'], ['p', 'Papers'], ['l', 'Accounts and trial balance']]) {
    await twoKeys(page, 'g', key!, page.getByRole('heading', { level: 1, name }));
  }
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await page.keyboard.press('w');
  await expectAccessible(page);
  await page.keyboard.type('zzz');
  await expect(page.getByText('No situation by these words.')).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('/');
  await page.keyboard.type('brand');
  await expect(page.getByRole('option', { name: /^Odalys Brandt/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'Odalys Brandt' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('7440');
  await expect(page.getByRole('option', { name: /I26-\d+.*7,440\.00/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: /Invoice I26/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { level: 1, name: 'Odalys Brandt' })).toBeVisible();
});

test('the desk leads to the next step by one key', async ({ page, demo }) => {
  await page.goto(`${demo.url}/desk`);
  await page.getByRole('region', { name: 'Deposits whose invoice is there' }).getByRole('row').first().focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Matching bench' })).toBeVisible();
  await expect(page.locator('[data-card][data-taken]')).toHaveCount(1);
  await expect(page.locator('[data-card]').first()).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Amount of the pair')).not.toHaveValue('');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  await expect(page.getByLabel('Amount of the pair')).toHaveCount(0);
});

test('a list sorts, filters, chooses columns and exports; its filters live in the address', async ({ page, demo }) => {
  await page.goto(`${demo.url}/customers`);
  await page.getByRole('button', { name: 'Owes' }).click();
  await page.getByRole('button', { name: 'Owes' }).click();
  await expect(page).toHaveURL(/sort=-owes/);
  // Other tests' customers are in the same firm: who owes most is asked of the program.
  const most = (await (await page.request.get(`${demo.url}/api/v1/customers?sort=-owes`)).json()).rows[0].name;
  await expect(page.getByRole('row').nth(1)).toContainText(most);
  await page.getByRole('button', { name: 'We hold' }).first().click();
  await expect(page).toHaveURL(/state=held/);
  await page.getByRole('textbox', { name: 'Name, number, town, phone' }).fill('brandt');
  await expect(page).toHaveURL(/q=brandt/);
  await expect(page.getByText('1 in all')).toBeVisible();
  await page.reload();
  await expect(page.getByText('1 in all')).toBeVisible();
  await page.getByRole('button', { name: 'Columns' }).click();
  await page.getByRole('checkbox', { name: 'E-mail' }).check();
  await page.keyboard.press('Escape');
  await expect(page.getByText('odalys@brandt-home.example')).toBeVisible();
  await page.getByRole('button', { name: 'Export' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'As CSV' }).click();
  expect((await download).suggestedFilename()).toBe('customers.csv');
});

test('what is printed is the paper alone, with what was set against it and left to pay', async ({ page, demo }) => {
  await page.goto(`${demo.url}/papers?kind=invoice&state=settled`);
  await page.getByRole('row').nth(1).click();
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('article')).toBeVisible();
  await expect(page.getByText(/^(Paid|Deposit) [RD]2/).first()).toBeVisible();
  await expect(page.getByText('Nothing left to pay')).toBeVisible();
  for (const hidden of [page.getByRole('heading', { level: 1, name: /^Invoice I/ }), page.getByRole('navigation', { name: 'Places' }), page.getByRole('button', { name: 'Print' }), page.getByRole('complementary', { name: 'Effect' })])
    await expect(hidden).toBeHidden();
  expect((await page.pdf({ format: 'A4' })).length).toBeGreaterThan(5000);
});
