import { cellOf, expect, test } from './tally';

const scoreIn = `select score::float as score from attempt where book = 'wetland-survey-methods' and assessment = 'report' and enrolment = $1`;

test('with the line down nothing typed is lost, a reload included', { tag: '@line-cut' }, async ({ page, tally }) => {
  await tally.signIn(page, 'aldous');
  await tally.openLedger(page);
  const student = await tally.enrolment('Kilbride');
  await page.route('**/entries/**', (route) => route.abort());
  const cell = await cellOf(page, 'Kilbride', 'Report');
  await cell.click();
  await page.keyboard.type('77');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('77.0');
  await expect(cell).toHaveAttribute('aria-label', /not kept yet/);
  await expect(page.locator('footer output')).toContainText('1 cell is not kept yet');
  expect(await tally.rows(scoreIn, [student])).toEqual([]);

  await page.reload();
  await expect(await cellOf(page, 'Kilbride', 'Report')).toHaveText('77.0');
  await expect(await cellOf(page, 'Kilbride', 'Report')).toHaveAttribute('aria-label', /not kept yet/);
  await page.unroute('**/entries/**');
  await expect.poll(() => tally.rows(scoreIn, [student]), { timeout: 20_000 }).toEqual([{ score: 77 }]);
  await expect(await cellOf(page, 'Kilbride', 'Report')).not.toHaveAttribute('aria-label', /not kept yet/);
});

test(
  'a server that is killed and comes back keeps what was typed meanwhile, once',
  { tag: '@line-cut' },
  async ({ page, tally }) => {
    await tally.signIn(page, 'aldous');
    await tally.openLedger(page);
    const student = await tally.enrolment('Silvano');
    await tally.kill();
    await (await cellOf(page, 'Silvano', 'Report')).click();
    await page.keyboard.type('50');
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.type('51');
    await page.keyboard.press('Enter');
    await expect(page.locator('footer output')).toContainText('not kept yet');
    // Signing out now would lose it, so it asks.
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page.getByRole('dialog')).toContainText('2 changes are still only on this machine');
    await page.getByRole('button', { name: 'Stay and keep trying' }).click();
    await tally.restart();
    await expect.poll(() => tally.rows(scoreIn, [student]), { timeout: 20_000 }).toEqual([{ score: 51 }]);
    const lines = await tally.rows(
      `select becomes from journal where assessment = 'report' and enrolment = $1 order by seq`,
      [student],
    );
    expect(lines.slice(-2)).toEqual([
      { becomes: '{"attempts":[{"score":50}]}' },
      { becomes: '{"attempts":[{"score":51}]}' },
    ]);
    await expect(page.locator('footer output')).toContainText('Kept');
  },
);
