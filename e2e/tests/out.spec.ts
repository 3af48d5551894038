import { customer, expect, put, test } from './firm';

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
});
