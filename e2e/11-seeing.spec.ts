import type { Page } from '@playwright/test';
import { WETLAND, cellOf, chooseOption, expect, test } from './tally';

const names = async (page: Page): Promise<string[]> => {
  const rows = await page
    .locator('.row')
    .evaluateAll((all) =>
      all.map((r) => [Number(r.getAttribute('aria-rowindex')), r.querySelector('.name b')!.textContent!] as const),
    );
  return rows.sort((a, b) => a[0] - b[0]).map(([, name]) => name.split(',')[0]!);
};
const choose = async (page: Page, word: string, line: string): Promise<void> => {
  await page.locator('lt-ledger-top').getByRole('button', { name: word, exact: true }).click();
  await page.getByRole('menu').getByText(line, { exact: true }).click();
};
const titles = (page: Page): Promise<string[]> => page.locator('.title b').allTextContents();

test.beforeEach(async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
});

test('students are found by name, section, group and state, and what is hidden is said', async ({ page, tally }) => {
  await page.keyboard.press('Alt+n');
  await page.keyboard.type('eklu');
  await expect.poll(() => names(page)).toEqual(['Eklund']);
  await expect(page.locator('.strip')).toContainText('Hidden: 20 of other names.');
  await page.keyboard.press('Enter');
  await expect(page.locator('footer output')).toContainText('Eklund, Signe');
  await page.getByRole('button', { name: 'show everybody' }).click();
  await expect.poll(async () => (await names(page)).length).toBe(21);

  await choose(page, 'all sections', 'South');
  await choose(page, 'everyone', 'missing work');
  await expect(page.locator('.strip')).toContainText(/Hidden: \d+ of other sections · \d+ without missing work\./);
  const south = await names(page);
  for (const family of south) {
    const row = page.locator('.row').filter({ has: page.locator('.name b', { hasText: new RegExp(`^${family},`) }) });
    await expect(row.locator('.missing').first()).toBeVisible();
    await expect(row.locator('.name small')).toHaveText('South');
  }
  // It stands in the address: the same page comes back.
  await expect(page).toHaveURL(/section=south.*only=missing/);
  await page.reload();
  await expect.poll(() => names(page)).toEqual(south);

  // A group of those selected, and back to it.
  await page.getByRole('button', { name: 'show everybody' }).click();
  await (await cellOf(page, 'Balogun', 'Peat core')).click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await choose(page, 'everyone', 'make a group of the 3 selected …');
  await page.getByLabel('What the group is called').fill('Boat crew');
  await page.keyboard.press('Enter');
  await expect.poll(() => names(page)).toEqual(['Balogun', 'Carrow', 'Dacosta']);
  await expect(page.locator('.strip')).toContainText('18 outside the group');
  expect(await tally.rows(`select count(*)::int as n from student_group_member where book = $1`, [WETLAND])).toEqual([
    { n: 3 },
  ]);
  await choose(page, 'Boat crew', 'take this group away');
  await expect.poll(async () => (await names(page)).length).toBe(21);
});

test('the sheet is ordered by anything, and its columns are hidden, moved and folded to totals @long', async ({
  page,
}) => {
  await choose(page, 'by name', 'by standing');
  const standings = async (): Promise<number[]> => {
    const rows = await page
      .locator('.row')
      .evaluateAll((all) =>
        all.map(
          (r) =>
            [Number(r.getAttribute('aria-rowindex')), Number(r.querySelector('.standing b')!.textContent)] as const,
        ),
      );
    return rows.sort((a, b) => a[0] - b[0]).map(([, at]) => at);
  };
  const highest = await standings();
  expect(highest).toEqual([...highest].sort((a, b) => b - a));
  await page.locator('.title b', { hasText: 'Check 1' }).dblclick();
  await expect(page.locator('[aria-sort=descending]')).toContainText('Check 1');
  await choose(page, 'by Check 1, highest first', 'by name');
  await expect(page.locator('[aria-sort]')).toHaveCount(0);

  await (await cellOf(page, 'Abernethy', 'Hedge survey')).click();
  await choose(page, 'columns', 'hide this column');
  await expect.poll(() => titles(page)).not.toContain('Hedge survey');
  await (await cellOf(page, 'Abernethy', 'Pond transect')).click();
  await choose(page, 'columns', 'one place to the left');
  await expect.poll(async () => (await titles(page)).slice(0, 2)).toEqual(['Pond transect', 'Peat core']);
  await choose(page, 'columns', 'Practicals');
  await expect.poll(() => titles(page)).toContain('total');
  const total = page.locator('.row').first().locator('.total');
  await expect(total).toHaveText(/^\s*\d+\.\d\s*$/);
  await expect(total).toHaveAttribute('aria-label', /total [\d.]+ percent/);

  // Kept under a name, and come back to from the whole book.
  await choose(page, 'views', 'keep this view …');
  await page.getByLabel('What the view is called; only you see it').fill('Totals of practicals');
  await page.keyboard.press('Enter');
  await choose(page, 'Totals of practicals', 'the whole book');
  await expect.poll(() => titles(page)).toContain('Hedge survey');
  await choose(page, 'views', 'Totals of practicals');
  await expect.poll(() => titles(page)).not.toContain('Hedge survey');
  await choose(page, 'Totals of practicals', 'the whole book');

  // The rank is there only where it was asked for.
  await expect(page.locator('.name small').first()).toHaveText(/^(North|South)$/);
  await choose(page, 'columns', 'with the rank');
  await expect(page.locator('.name small').first()).toHaveText(/^(North|South) \d+\.$/);
  await choose(page, 'columns', 'roomy');
  await expect.poll(async () => (await page.locator('.row').first().boundingBox())!.height).toBe(34);
});

test('numbers of a column, its spread as a picture to save, and two assessments beside each other', async ({
  page,
}) => {
  const check = await cellOf(page, 'Abernethy', 'Check 1');
  await check.click();
  await page.keyboard.type('/column');
  await page.keyboard.press('Enter');
  const slip = page.locator('lt-column-numbers');
  await expect(slip.getByRole('heading')).toHaveText('Check 1');
  // The mean is that of the scores on the sheet.
  const col = await check.getAttribute('aria-colindex');
  const shown = await page
    .locator(`.row [role=gridcell][aria-colindex="${col}"].score`)
    .evaluateAll((all) => all.map((c) => Number(c.lastChild!.textContent)));
  const mean = shown.reduce((a, b) => a + b, 0) / shown.length;
  await expect(slip.locator('tr', { hasText: 'mean' }).locator('td').nth(1)).toHaveText(
    (Math.round(mean * 100) / 100).toFixed(2).replace(/0$/, ''),
  );
  await expect(slip.locator('svg')).toHaveAttribute('aria-label', /^Check 1: \d+ from \d+ to \d+ percent/);
  await slip.getByRole('button', { name: 'larger, or beside another' }).click();
  const dialog = page.getByRole('dialog');
  for (const end of ['svg', 'png']) {
    const download = page.waitForEvent('download');
    await dialog.getByRole('button', { name: `save as ${end.toUpperCase()}` }).click();
    expect((await download).suggestedFilename()).toBe(`Check-1.${end}`);
  }
  await chooseOption(page, 'Beside what', 'Check 2');
  await expect(dialog.locator('lt-pair-picture svg')).toHaveAttribute(
    'aria-label',
    /^Check 2 against Check 1, \d+ students/,
  );
  await expect(dialog).toContainText(/students have both\. Correlation -?\d\.\d\d\./);
});

test('the sheet as if the term ended now, and back', async ({ page, tally }) => {
  const report = await cellOf(page, 'Abernethy', 'Report');
  const standing = page.locator('.row').first().locator('.standing b');
  const now = await standing.textContent();
  await expect(report).toHaveText('');
  await report.click();
  await page.keyboard.type('/closing');
  await page.keyboard.press('Enter');
  await expect(page.locator('.strip')).toContainText('As at closing: every blank is past due');
  await expect(report).toHaveText('missing');
  await expect(standing).not.toHaveText(now!);
  await page.keyboard.type('5');
  await expect(page.locator('footer output')).toContainText('Go back to the book as it is to change it.');
  await page.getByRole('button', { name: 'back to the book as it is' }).click();
  await expect(report).toHaveText('');
  await expect(standing).toHaveText(now!);
  expect(
    await tally.rows(
      `select 1 from journal where book = $1 and assessment = 'report' and kind = 'cell' and becomes like '%missing%'`,
      [WETLAND],
    ),
  ).toEqual([]);
});

test('all keys stand on one sheet, and any action is found by its words @long', async ({ page }) => {
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('what was marked, or what counts');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('as marked');
  await page.keyboard.press('Enter');
  await expect(page.locator('lt-ledger-top').getByRole('button', { name: 'as marked' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('nobody of this name');
  await expect(page.getByRole('dialog')).toContainText('Nothing here is called so.');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('grid')).toBeFocused();
});

test('scrolled to the side, names and standings stay, and heads stand over their cells @long', async ({
  page,
  tally,
}) => {
  await page.setViewportSize({ width: 760, height: 700 });
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const left = async (selector: string): Promise<number> =>
    Math.round((await page.locator(selector).first().boundingBox())!.x);
  const apart = async (): Promise<number> => {
    const head = (await page.locator('.title', { hasText: 'Check 1' }).boundingBox())!.x;
    const cell = (await (await cellOf(page, 'Farrelly', 'Check 1')).boundingBox())!.x;
    return Math.abs(head - cell);
  };
  const before = [await left('.name'), await left('.row .standing'), await left('.corner')];
  const check = (await page.locator('.title', { hasText: 'Check 1' }).boundingBox())!.x;
  await page.locator('.grid').evaluate((g) => g.scrollTo(140, 0));
  await expect
    .poll(async () => Math.round(check - (await page.locator('.title', { hasText: 'Check 1' }).boundingBox())!.x))
    .toBe(140);
  expect([await left('.name'), await left('.row .standing'), await left('.corner')]).toEqual(before);
  await expect.poll(apart).toBeLessThan(1);
  // A press hits the cell that is seen there, and the cursor goes with the sheet.
  await (await cellOf(page, 'Farrelly', 'Check 1')).click();
  await expect(page.locator('footer')).toContainText('Farrelly, Con, Check 1');
  const cursor = (): Promise<number> => left('.cursor');
  expect(
    Math.abs((await cursor()) - (await page.locator('.title', { hasText: 'Check 1' }).boundingBox())!.x),
  ).toBeLessThan(2);
  // With room for all of it there is nothing left to scroll, and nothing stands aside.
  await page.setViewportSize({ width: 1280, height: 700 });
  await expect.poll(async () => page.locator('.grid').evaluate((g) => g.scrollLeft)).toBe(0);
  await expect
    .poll(async () => {
      const name = (await page.locator('.corner').last().boundingBox())!;
      return Math.round((await page.locator('.title').first().boundingBox())!.x - name.x - name.width);
    })
    .toBe(0);
  await expect.poll(apart).toBeLessThan(1);
});
