import { WETLAND, cellOf, chooseOption, expect, test } from './tally';

test('the journal is searched, the book is seen as it stood, and two moments are laid side by side', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Eklund', 'Check 1');
  const was = (await cell.textContent())!.trim();
  await cell.click();
  for (const text of ['3', '4']) {
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowUp');
  }
  await expect(cell).toHaveText('4.0');

  // The history of the cell stands next to it, and an earlier value is made again.
  await page.keyboard.type('/history');
  await page.keyboard.press('Enter');
  const history = page.locator('lt-cell-history li');
  await expect(history.first()).toContainText('4was 3');
  await expect(history.nth(1)).toContainText('3was ');
  await history.nth(1).getByRole('button', { name: 'make it this again' }).click();
  await expect(cell).toHaveText('3.0');

  await page.getByRole('link', { name: 'Journal' }).click();
  await chooseOption(page, 'of which student', 'Eklund, Signe');
  await chooseOption(page, 'in which assessment', 'Check 1');
  await expect(page).toHaveURL(/enrolment=.*assessment=check-1/);
  const changes = page.locator('li .change');
  await expect(changes.first()).toContainText('4 → 3');
  await chooseOption(page, 'Show which changes', 'scores and states');
  await page.getByLabel('with the words').fill('nothing at all');
  await expect(page.getByText('The journal has no such change.')).toBeVisible();
  await page.getByRole('button', { name: 'everything' }).click();
  await expect(changes.first()).toContainText('4 → 3');

  // The very first of the three, as the book stood before it.
  const first = page.locator('li').filter({ hasText: `${was.replace(/\.0$/, '')} → 3` });
  await first.locator('.what').click();
  await first.getByRole('link', { name: 'what has changed since' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/^Between line \d+ and line \d+$/);
  await expect(page.getByText('Nothing of the scores, the rules or the standings is different.')).toBeVisible();
  await page.getByRole('button', { name: 'back to the journal' }).click();
  await first.getByRole('link', { name: 'what it moved' }).click();
  await expect(page.getByRole('main').last()).toContainText('1 cell is different');
  await expect(page.getByRole('main').last()).toContainText('Eklund, Signe, Check 1');
  await page
    .getByRole('link', { name: /the book at line/ })
    .first()
    .click();
  await expect(page.locator('.strip')).toContainText('The book as it stood after line');
  await expect(await cellOf(page, 'Eklund', 'Check 1')).toHaveText(was);
  await page.keyboard.type('9');
  await expect(page.locator('footer output')).toContainText('This is the book as it stood.');
  await page.getByRole('button', { name: 'back to the book as it is' }).click();
  await expect(await cellOf(page, 'Eklund', 'Check 1')).toHaveText('3.0');
  const eklund = await tally.enrolment('Eklund');
  const kept = `select count(*)::int as n from journal where assessment = 'check-1' and enrolment = $1 and kind = 'cell'`;
  expect(await tally.rows(kept, [eklund])).toEqual([{ n: 4 }]);
});

test('rules are put back from the journal; what later changes stand on is named and left @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await (await cellOf(page, 'Abernethy', 'Report')).click();
  await page.evaluate(() => navigator.clipboard.writeText('10\n20\n30'));
  await page.keyboard.press('Control+v');
  await expect(await cellOf(page, 'Balogun', 'Report')).toHaveText('30.0');
  await (await cellOf(page, 'Achterberg', 'Report')).click();
  await page.keyboard.type('21');
  await page.keyboard.press('Enter');
  await expect(page.locator('footer output')).toContainText('Kept');
  await page.getByRole('link', { name: 'Journal' }).click();
  const paste = page.locator('li').filter({ hasText: '3 cells pasted' });
  await paste.getByRole('button', { name: 'put back …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('1 of 3 lines have later changes');
  await expect(dialog).toContainText('Achterberg, Ruben, Report');
  await dialog.getByRole('button', { name: 'Put back the 2 that nobody changed since' }).click();
  await expect(page.locator('footer output')).toContainText('1 with later changes was left');
  const scores = await tally.rows(
    `select a.score::float as score from attempt a where a.book = $1 and a.assessment = 'report' and a.score is not null`,
    [WETLAND],
  );
  expect(scores).toEqual([{ score: 21 }]);
});
