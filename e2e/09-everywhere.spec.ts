import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, test, WETLAND, type Tally } from './tally';

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

/** What opens over the ledger and the journal, or beside a cell. */
async function opened(page: Page, tally: Tally, found: Record<string, string[]>): Promise<void> {
  const rows = ['.row:nth-child(n+4)', 'lt-journal li:nth-child(n+4)'];
  await tally.openLedger(page);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('so');
  found['jump'] = await faults(page, 'body', rows);
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await page.getByRole('dialog').waitFor();
  found['keys'] = await faults(page, 'body', rows);
  await page.keyboard.press('Escape');
  await page.getByRole('dialog').waitFor({ state: 'hidden' });
  await page.getByRole('button', { name: 'everyone', exact: true }).click();
  found['menu'] = await faults(page, '.cdk-overlay-container');
  await page.getByRole('menu').getByText('missing work', { exact: true }).click();
  for (const face of ['history', 'column']) {
    await page.getByRole('button', { name: face, exact: true }).click();
    await page
      .locator(face === 'history' ? 'lt-cell-history li' : 'lt-spread-picture svg')
      .first()
      .waitFor();
    found[face] = await faults(page, 'body', rows);
  }
  await page.getByRole('button', { name: 'larger, or beside another' }).click();
  found['numbers'] = await faults(page, '.p-dialog');
  await page.keyboard.press('Escape');
  await page.goto(`${tally.address}/book/${WETLAND}/rules`);
  await page.getByLabel('Weight of Checks').fill('20');
  await page.locator('.counts').waitFor();
  for (const part of ['Lateness', 'Letters', 'Curves', 'Suppose', 'Paper and file']) {
    await page.getByRole('navigation', { name: 'Kinds of rules' }).getByRole('button', { name: part }).click();
    found[part] = await faults(page, 'lt-rules');
  }
  await page.goto(`${tally.address}/book/${WETLAND}/journal`);
  await page.getByRole('button', { name: 'put back …' }).first().click();
  await page.getByLabel('Why (stands in the journal)').waitFor();
  found['put back'] = await faults(page, '.p-dialog');
  await page.keyboard.press('Escape');
  await page.getByRole('dialog').waitFor({ state: 'hidden' });
}

for (const scheme of ['light', 'dark'] as const)
  test(`no page has a fault that axe finds, ${scheme}`, async ({ page, tally }) => {
    // Axe takes several seconds a page.
    test.setTimeout(300_000);
    const found: Record<string, string[]> = {};
    await page.emulateMedia({ colorScheme: scheme });
    await page.goto(`${tally.address}/sign-in`);
    found['sign-in'] = await faults(page, 'body');
    await tally.signIn(page, 'aldous');
    for (const [path, ready] of [
      ['/desk', '.line'],
      [`/book/${WETLAND}/ledger`, '.standing b'],
      [`/book/${WETLAND}/assessments`, '.one'],
      [`/book/${WETLAND}/assessments/check-1`, 'fieldset'],
      [`/book/${WETLAND}/people`, 'tbody tr'],
      [`/book/${WETLAND}/exceptions`, 'tr[data-key]'],
      [`/book/${WETLAND}/rules?of=check-1`, 'lt-rule-sentence'],
      [`/book/${WETLAND}/rehearsal`, 'input.score'],
      [`/book/${WETLAND}/student/${await tally.enrolment('Farrelly')}/check-1`, 'input.score'],
      ['/new-book', 'form'],
      [`/book/${WETLAND}/rules`, 'lt-rule-sentence'],
      [`/book/${WETLAND}/intake`, 'textarea'],
      [`/book/${WETLAND}/release?assessment=soil-pit`, 'tbody tr'],
      [`/book/${WETLAND}/closing`, 'tbody .serif'],
      [`/book/${WETLAND}/journal`, 'lt-journal .line'],
      [`/book/${WETLAND}/student/${await tally.enrolment('Farrelly')}`, 'lt-term-line path'],
    ] as const) {
      await page.goto(`${tally.address}${path}`);
      await page.locator(ready).first().waitFor();
      // Of the many like rows of the ledger a few stand for all: axe takes seconds for each hundred cells.
      found[path] = await faults(page, 'body', ['.row:nth-child(n+6)']);
    }
    await opened(page, tally, found);
    await page.getByRole('button', { name: 'Sign out' }).click();
    await tally.signIn(page, 'farrelly');
    await page.goto(`${tally.address}/my/${WETLAND}`);
    await page.locator('.figure').first().waitFor();
    found['student'] = await faults(page, 'body');
    await page.getByRole('button', { name: 'Sign out' }).click();
    await tally.signIn(page, 'halloran');
    await page.locator('tbody td').first().waitFor();
    found['office'] = await faults(page, 'body');
    await page.goto(`${tally.address}/office/rules`);
    await page.getByRole('button', { name: /^Lateness/ }).click();
    await page.getByLabel('Percent taken').fill('20');
    await page.getByRole('button', { name: /^Soil Science/ }).click();
    await page.locator('aside tbody').waitFor();
    found['school rules'] = await faults(page, 'body');
    for (const part of ['Closed days', 'Departures', 'Versions']) {
      await page.getByRole('button', { name: new RegExp(`^${part}`) }).click();
      found[`school rules, ${part}`] = await faults(page, 'lt-school-rules');
    }
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
