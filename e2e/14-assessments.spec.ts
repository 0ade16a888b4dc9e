import { cellOf, expect, standingOf, test, WETLAND } from './tally';

test('an assessment is made in one line from the ledger, and stands in the list by its phase', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await (await cellOf(page, 'Farrelly', 'Check 1')).click();
  const standing = await standingOf(page, 'Farrelly').textContent();
  await page.keyboard.type('/new');
  await page.keyboard.press('Enter');
  const line = page.getByRole('textbox', { name: /^A new assessment/ });
  await expect(line).toBeFocused();
  await page.keyboard.type('Check 2, 12');
  await expect(page.getByRole('status').filter({ hasText: 'Check 2' })).toHaveText(
    'There is a “Check 2” in this book already.',
  );
  await expect(page.getByRole('button', { name: 'Make it' })).toBeDisabled();
  await line.fill('Check 3, 4 Dec');
  // Points and category as in the checks before, the time of day as everywhere in the book.
  await expect(page.locator('#new-assessment-is')).toContainText('Check 3 · 12 points · Checks · due 4 Dec 17:00');
  await page.keyboard.press('Enter');
  await expect(page.locator('.title b', { hasText: 'Check 3' })).toBeVisible();
  await expect(page.locator('footer')).toContainText('Check 3 is made.');
  await expect(page.getByRole('grid')).toBeFocused();
  expect(await standingOf(page, 'Farrelly').textContent()).toBe(standing);

  // The cursor stands in the new column: the first score can be typed.
  await page.keyboard.type('9');
  await page.keyboard.press('Enter');
  await expect(await cellOf(page, 'Farrelly', 'Check 3')).toHaveText('9.0');
  await expect
    .poll(() =>
      tally.rows(
        `select a.title, a.points::float as points, to_char(a.due at time zone 'UTC', 'MM-DD HH24:MI') as due, t.score::float as score
         from assessment a join attempt t using (school, book) where a.book = $1 and a.title = 'Check 3' and t.assessment = a.id`,
        [WETLAND],
      ),
    )
    .toEqual([{ title: 'Check 3', points: 12, due: '12-04 17:00', score: 9 }]);

  await page.getByRole('link', { name: 'Assessments' }).click();
  const open = page.getByRole('region', { name: 'Open' });
  await expect(open.locator('.one', { hasText: 'Check 3' })).toContainText('1 draft · 20 nothing yet');
  await expect(page.getByRole('region', { name: 'Released' }).locator('.one')).not.toHaveCount(0);
  await page.getByRole('textbox', { name: /^A new assessment/ }).fill('A walk by the river; only shown; 5');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Planned' })).toContainText('A walk by the river');
  await expect(page.getByRole('region', { name: 'Planned' })).toContainText('only shown');
  // It leads to its own page, and from there into the ledger, to its column.
  await page.locator('.one', { hasText: 'A walk by the river' }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'A walk by the river' })).toBeVisible();
  await page.getByRole('link', { name: 'in the ledger' }).click();
  await expect(page.locator('footer')).toContainText(', A walk by the river');
});

test('a marker makes no assessment, and another teacher’s page shows the new one by itself @long', async ({
  page,
  tally,
  another,
}) => {
  await tally.signIn(page, 'aldous');
  const soil = `${tally.address}/book/soil-science-1`;
  const other = await another();
  await tally.letIn(other, 'quigg');
  await other.goto(`${soil}/assessments`);
  await expect(other.getByRole('region', { name: 'Released' })).toBeVisible();
  await expect(other.getByRole('textbox', { name: /^A new assessment/ })).toHaveCount(0);
  await page.goto(`${soil}/assessments`);
  await page.getByRole('textbox', { name: /^A new assessment/ }).fill('Lab sheet 7, 18 Dec');
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(other.locator('.one', { hasText: 'Lab sheet 7' })).toBeVisible();
  await other.goto(`${soil}/ledger`);
  await expect(other.locator('.standing b').first()).not.toBeEmpty();
  await other.keyboard.type('/new');
  await other.keyboard.press('Enter');
  await expect(other.locator('footer')).toContainText('Assessments are made by the teachers of this book.');
});
