import { signOut } from './sign-out';
import { expect, test } from './tally';

test('a teacher signs in, sees what waits by book, and opens a book and its ledger', async ({ page, tally }) => {
  await page.goto(tally.address);
  await expect(page).toHaveURL(/sign-in/);
  await page.getByLabel('Sign-in name').fill('aldous');
  await page.getByLabel('Password').fill('not this one');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByText('This name and password do not go together')).toBeVisible();

  await page.getByLabel('Password').fill('reedbed-2026');
  await page.getByLabel('Password').press('Enter');
  await expect(page.getByRole('heading', { name: 'Tuesday 24 November' })).toBeVisible();

  // What the desk counts is what the database holds: latest attempts without a score.
  const [waiting] = await tally.rows<{ n: string }>(
    `select count(*) as n from attempt a where book = 'wetland-survey-methods' and assessment = 'soil-pit' and score is null
       and not exists (select 1 from attempt b where b.book = a.book and b.assessment = a.assessment
         and b.enrolment = a.enrolment and b.number > a.number)`,
  );
  const line = page.locator('a.line', { hasText: 'Soil pit' }).first();
  await expect(line.locator('.count')).toHaveText(waiting!.n);
  await expect(line).toContainText('Wetland Survey Methods · due 12 Nov');
  await expect(page.locator('aside a.book')).toHaveCount(3);

  await line.click();
  // Straight into the marking room, at the first that waits; the book's ledger is one step beside it.
  await expect(page).toHaveURL(/\/book\/wetland-survey-methods\/marking\/soil-pit/);
  await expect(page.getByText(`${waiting!.n} to mark`, { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Ledger' }).click();
  await expect(page.getByRole('columnheader', { name: /Soil pit/ })).toBeVisible();
  await expect(page.locator('.row')).toHaveCount(21);
});

test('who is not signed in is asked to, and comes back to the page they wanted', async ({ page, tally }) => {
  await tally.navigate(page, '/book/orchard-practice/rules');
  await expect(page).toHaveURL(/sign-in/);
  await page.getByLabel('Sign-in name').fill('penhale');
  await page.getByLabel('Password').fill('reedbed-2026');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page).toHaveURL(/orchard-practice\/rules/);
  await signOut(page);
  await tally.navigate(page, '/desk');
  await expect(page).toHaveURL(/sign-in/);
});
