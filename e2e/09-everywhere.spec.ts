import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, test, WETLAND } from './tally';

async function faults(page: Page, include: string, exclude: string[] = []) {
  let axe = new AxeBuilder({ page }).include(include);
  for (const e of exclude) axe = axe.exclude(e);
  const { violations } = await axe.analyze();
  return violations.map(
    (v) =>
      `${v.id}: ${v.nodes
        .map((n) => n.target.join(' '))
        .slice(0, 3)
        .join(' | ')}`,
  );
}

for (const scheme of ['light', 'dark'] as const)
  test(`no page has a fault that axe finds, ${scheme}`, async ({ page, tally }) => {
    // Axe takes several seconds a page.
    test.setTimeout(240_000);
    const found: Record<string, string[]> = {};
    await page.emulateMedia({ colorScheme: scheme });
    await page.goto(`${tally.address}/sign-in`);
    found['sign-in'] = await faults(page, 'body');
    await tally.signIn(page, 'aldous');
    for (const [path, ready] of [
      ['/desk', '.line'],
      [`/book/${WETLAND}/ledger`, '.standing b'],
      [`/book/${WETLAND}/rules`, 'section table'],
      [`/book/${WETLAND}/intake`, 'textarea'],
      [`/book/${WETLAND}/release?assessment=soil-pit`, 'tbody tr'],
      [`/book/${WETLAND}/closing`, 'tbody .serif'],
    ] as const) {
      await page.goto(`${tally.address}${path}`);
      await page.locator(ready).first().waitFor();
      // Of the many like rows of the ledger a few stand for all: axe takes seconds for each hundred cells.
      found[path] = await faults(page, 'body', ['.row:nth-child(n+6)']);
    }
    await page.getByRole('button', { name: 'Sign out' }).click();
    await tally.signIn(page, 'farrelly');
    await page.goto(`${tally.address}/my/${WETLAND}`);
    await page.locator('main .figure').first().waitFor();
    found['student'] = await faults(page, 'body');
    await page.getByRole('button', { name: 'Sign out' }).click();
    await tally.signIn(page, 'halloran');
    await page.locator('tbody td').first().waitFor();
    found['office'] = await faults(page, 'body');
    await page.getByRole('button', { name: 'Sign out' }).click();
    expect(Object.fromEntries(Object.entries(found).filter(([, f]) => f.length > 0))).toEqual({});
  });

test('a term of eleven assessments fits at 1280 pixels without scrolling sideways', async ({ page, tally }) => {
  await tally.signIn(page, 'aldous');
  for (const book of [WETLAND, 'soil-science-1']) {
    await page.goto(`${tally.address}/book/${book}/ledger`);
    await expect(page.locator('.standing b').first()).not.toBeEmpty();
    expect(await page.locator('.grid').evaluate((g) => g.scrollWidth - g.clientWidth)).toBe(0);
  }
  // No cell's deduction touches its score.
  const overlaps = await page.locator('.cell:has(i)').evaluateAll((cells) =>
    cells
      .filter((c) => {
        const score = document.createRange();
        score.selectNodeContents(c.lastChild!);
        return c.querySelector('i')!.getBoundingClientRect().right > score.getBoundingClientRect().left;
      })
      .map((c) => c.textContent),
  );
  expect(overlaps).toEqual([]);
});
