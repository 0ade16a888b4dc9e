import { readFileSync } from 'node:fs';
import { expect, standingOf, test, WETLAND } from './tally';

test('the final grades of a book are saved as CSV that says what it holds', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const shown = await standingOf(page, 'Okonjo').textContent();
  await page.getByRole('link', { name: 'Closing' }).click();
  await expect(page.locator('tbody tr')).toHaveCount(21);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as CSV' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe(`final-grades-${WETLAND}.csv`);
  const rows = readFileSync(await file.path(), 'utf8')
    .replace('\uFEFF', '')
    .trim()
    .split('\r\n');
  expect(rows[0]).toContain(
    'Final grades of Wetland Survey Methods, Autumn 2026, Brackenmoor College: percentage and letter of all 21 students',
  );
  expect(rows).toHaveLength(23);
  expect(rows.find((r) => r.includes('Okonjo'))).toContain(`,${shown},`);
  await expect(page.locator('footer output')).toContainText('is saved: 21 students.');
});

test('an administrator sees all books of the term and how far each is, and changes none', async ({ page, tally }) => {
  await tally.signIn(page, 'halloran');
  await expect(page.getByRole('heading', { name: 'Autumn 2026' })).toBeVisible();
  await expect(page.locator('tbody tr')).toHaveCount(3);
  const [pending] = await tally.rows<{ n: string }>(
    `select count(*) as n from attempt a join entry e using (school, book, assessment, enrolment)
     where a.book = $1 and a.score is null and e.state is null and not exists (select 1 from attempt b
       where b.book = a.book and b.assessment = a.assessment and b.enrolment = a.enrolment and b.number > a.number)`,
    [WETLAND],
  );
  await expect(page.locator('tbody tr', { hasText: 'Wetland' }).locator('td').nth(5)).toHaveText(pending!.n);
  await page.getByRole('link', { name: 'Wetland Survey Methods' }).click();
  await expect(page.locator('.standing b').first()).not.toBeEmpty();
  await page.locator('.cell').first().click();
  await page.keyboard.type('5');
  await expect(page.locator('footer output')).toContainText('The office reads this book and does not change it.');
  await expect(page.locator('.cursor.editing')).toHaveCount(0);
  await expect(page.getByRole('link', { name: 'Intake' })).toHaveCount(0);
});
