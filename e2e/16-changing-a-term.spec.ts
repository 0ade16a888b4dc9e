import { signOut } from './sign-out';
import { WETLAND, cellOf, chooseOption, expect, standingOf, test } from './tally';

const page404 = /There is no such assessment/;

test('points changed after marking: asked, tried both ways, done, told, and put back as one', async ({
  page,
  tally,
  another,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/assessments`);
  await page.locator('.one', { hasText: 'Check 1' }).click();
  await expect(page.getByRole('heading', { name: 'Check 1' })).toBeVisible();
  const before = await tally.rows<{ score: number }>(
    `select score::float as score from attempt where book = $1 and assessment = 'check-1' and score is not null order by enrolment`,
    [WETLAND],
  );
  await page.getByLabel('Points', { exact: true }).fill('24');
  const ask = page.getByRole('radiogroup', { name: 'What becomes of the scores' });
  await expect(ask).toContainText(`${before.length} students have a score out of 12.`);
  // Nothing is kept before it is said what becomes of the scores; both ways are worked out.
  await expect(page.getByRole('button', { name: 'Keep the changes' })).toBeDisabled();
  await expect(ask.getByText('keep the points').locator('..')).toContainText(/\d+ standings change/);
  await ask.getByText('keep the percentages').click();
  await ask.getByLabel(/tell the/).check();
  const words = ask.getByLabel('What the students are told');
  await expect(words).toHaveValue(
    /now out of 24 points, no longer 12\. Your score was changed so that its percentage stays/,
  );
  await page.getByLabel('because').fill('twice as long as planned');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer')).toContainText(`${before.length} students are told.`);
  const doubled = await tally.rows<{ score: number }>(
    `select score::float as score from attempt where book = $1 and assessment = 'check-1' and score is not null order by enrolment`,
    [WETLAND],
  );
  expect(doubled.map((r) => r.score)).toEqual(before.map((r) => r.score * 2));

  const student = await another();
  await tally.signIn(student, 'farrelly');
  const notice = student.getByRole('status').filter({ hasText: 'Check 1 is now out of 24 points' });
  await expect(notice).toBeVisible();
  await notice.getByRole('link', { name: /^read/ }).click();
  const entry = student.getByRole('listitem').filter({ hasText: 'Check 1 is now out of 24 points' });
  await entry.getByRole('button', { name: 'read', exact: true }).click();
  await expect(entry.getByRole('button', { name: 'read', exact: true })).toHaveCount(0);

  await page.getByRole('link', { name: 'Journal' }).click();
  await expect(page.locator('lt-journal li').first()).toContainText('twice as long as planned');
  await page.getByRole('button', { name: 'put back …' }).first().click();
  await page.getByRole('dialog').getByRole('button', { name: /^Put/ }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect
    .poll(() =>
      tally.rows(`select points::float as points from assessment where book = $1 and id = 'check-1'`, [WETLAND]),
    )
    .toEqual([{ points: 12 }]);
});

test('an assessment is moved by keyboard, put away and taken out again, and deleted only while it is bare @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/assessments`);
  await page.getByRole('button', { name: 'by category, to move them' }).click();
  const notebooks = page.getByRole('region', { name: 'Field notebooks' });
  const titles = () => notebooks.locator('li a').allTextContents();
  const first = await titles();
  await notebooks.getByRole('button', { name: new RegExp(`^Move ${first[1]}`) }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect.poll(titles).toEqual([first[1], first[0], ...first.slice(2)]);
  await expect(page.getByText('The order is another.')).toBeVisible();
  await page.getByRole('button', { name: 'Keep the order' }).click();
  await expect(page.locator('footer')).toContainText('The order is kept.');
  await page.reload();
  await page.getByRole('button', { name: 'by category, to move them' }).click();
  await expect.poll(titles).toEqual([first[1], first[0], ...first.slice(2)]);
  // By drag into another category: dropped again, nothing is kept.
  const handle = notebooks.getByRole('button', { name: new RegExp(`^Move ${first[2]}`) });
  await handle.hover();
  await page.mouse.down();
  await page.getByRole('region', { name: 'Practicals' }).locator('li').first().hover();
  await page.getByRole('region', { name: 'Practicals' }).locator('li').nth(1).hover();
  await page.mouse.up();
  await expect(page.getByRole('region', { name: 'Practicals' })).toContainText(first[2]!);
  await expect(page.getByRole('status').filter({ hasText: 'The order is another.' })).toContainText(/standing/);
  await page.getByRole('button', { name: 'Drop it' }).click();
  await expect(notebooks).toContainText(first[2]!);

  await tally.openLedger(page);
  const standing = await standingOf(page, 'Farrelly').textContent();
  // What students see is withdrawn before it is put away.
  await tally.navigate(page, `/book/${WETLAND}/assessments/check-2`);
  await page.getByRole('button', { name: 'Put it away' }).click();
  await expect(page.getByRole('alert')).toContainText('Withdraw it on the Release page first');
  await page.getByRole('link', { name: 'Assessments' }).first().click();
  await page.locator('.one', { hasText: 'Level & staff' }).click();
  await page.getByRole('button', { name: 'Put it away' }).click();
  await expect(page.getByRole('button', { name: 'Take it out again' })).toBeVisible();
  await tally.openLedger(page);
  await expect(page.locator('.title b', { hasText: 'Level & staff' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Assessments' }).click();
  await page.getByRole('region', { name: 'Put away' }).getByText('Level & staff').click();
  await expect(page.getByRole('button', { name: 'Delete it' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Take it out again' }).click();
  await expect(page.getByRole('button', { name: 'Put it away' })).toBeVisible();
  await tally.openLedger(page);
  await expect(standingOf(page, 'Farrelly')).toHaveText(standing!);

  await page.getByRole('link', { name: 'Assessments' }).click();
  await page.getByRole('textbox', { name: /^A new assessment/ }).fill('Made by mistake');
  await page.keyboard.press('Enter');
  await page.locator('.one', { hasText: 'Made by mistake' }).click();
  await page.getByRole('button', { name: 'Delete it' }).click();
  await expect(page).toHaveURL(/\/assessments$/);
  await expect(page.locator('.one', { hasText: 'Made by mistake' })).toHaveCount(0);
  await tally.navigate(page, `/book/${WETLAND}/assessments/made-by-mistake`);
  await expect(page.getByText(page404)).toBeVisible();
});

test('several attempts: typed, dated, each with its lateness; which counts and why @long', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await (await cellOf(page, 'Farrelly', 'pH bench')).click();
  await page.keyboard.type('/attempts');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'pH bench, attempts' })).toBeVisible();
  const marked = await page.getByLabel('Points of attempt 1').inputValue();
  expect(Number(marked)).toBeGreaterThan(0);
  await page.getByRole('button', { name: 'One more attempt' }).click();
  await page.getByLabel('Points of attempt 2').fill('9,75');
  await page.getByRole('textbox', { name: 'When attempt 2 came in' }).fill('20 Oct 16:00');
  await expect(page.getByRole('status').filter({ hasText: 'The standing' })).toBeVisible();
  await page.getByLabel('because').fill('repeated with a clean probe');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer')).toContainText('pH bench: kept.');
  await expect(page.getByRole('complementary', { name: /^Which attempt counts/ })).toContainText(/attempt/i);
  expect(
    await tally.rows(
      `select number, score::float as score, received_at is not null as came from attempt
       where book = $1 and assessment = 'ph-bench' and enrolment = $2 order by number`,
      [WETLAND, await tally.enrolment('Farrelly')],
    ),
  ).toEqual([
    { number: 1, score: Number(marked), came: expect.any(Boolean) as unknown as boolean },
    { number: 2, score: 9.75, came: true },
  ]);
  // What cannot be read is said, and nothing is kept.
  await page.getByLabel('Points of attempt 2').fill('nine');
  await expect(page.getByText('Attempt 2: “nine” is no score in points, such as 14.5.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep them' })).toBeDisabled();
});

test('a reason follows a dash, and is required where the office says so @long', async ({ page, tally }) => {
  await tally.signIn(page, 'halloran');
  await page.getByLabel('every exception needs a reason').check();
  await expect(page.locator('footer')).toContainText('Every exception needs a reason');
  await signOut(page);
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Farrelly', 'Check 2');
  await cell.click();
  await page.keyboard.type('excused');
  await page.keyboard.press('Enter');
  await expect(page.getByText('The school wants a reason')).toBeVisible();
  await page.keyboard.type(' - at the county show');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('excused');
  await page.getByRole('link', { name: 'Exceptions' }).click();
  await expect(page.locator('tr[data-key]', { hasText: 'Farrelly' })).toContainText('at the county show');
  await page.getByRole('button', { name: 'all of North' }).click();
  await page
    .locator('p-multiselect')
    .filter({ has: page.getByLabel('On which assessments') })
    .click();
  await page.getByRole('option', { name: 'Check 1', exact: true }).click();
  await page.keyboard.press('Escape');
  await expect(page.locator('.says b')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep it' })).toBeDisabled();
  await page.getByLabel('because').fill('the bus was late');
  await expect(page.getByRole('button', { name: 'Keep it' })).toBeEnabled();
});

test('a book is copied for another term, put away, and taken out again; and is seen as a student sees it', async ({
  page,
  tally,
}) => {
  await tally.signIn(page, 'halloran');
  await page.getByRole('button', { name: 'make a term' }).click();
  await page.getByLabel('Title').fill('Spring 2027');
  await page.getByLabel('First day of the term', { exact: true }).fill('2027-01-11');
  await page.getByLabel('Last day of the term', { exact: true }).fill('2027-05-21');
  await page.getByRole('button', { name: 'Make the term' }).click();
  await expect(page.locator('footer')).toContainText('Spring 2027 is made.');
  await signOut(page);

  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/people`);
  await page.getByRole('button', { name: 'copy it for another term' }).click();
  await page.getByLabel('Title of the copy').fill('Wetland Survey Methods, spring');
  await chooseOption(page, 'Term of the copy', 'Spring 2027');
  await page.getByLabel('their dates moved by days').fill('126');
  await page.getByRole('button', { name: 'Make the copy' }).click();
  await expect(page).toHaveURL(/wetland-survey-methods-spring-.+\/assessments$/);
  await expect(page.locator('.one')).toHaveCount(10);
  await page.getByRole('link', { name: 'People' }).click();
  await expect(page.getByText('Nobody is in this book yet.')).toBeVisible();
  await page.getByRole('button', { name: 'put the book away' }).click();
  await expect(page.getByText('This book is put away')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Add students …' })).toHaveCount(0);
  await tally.navigate(page, '/desk');
  await page.getByRole('link', { name: 'Wetland Survey Methods, spring, Spring 2027, put away' }).click();
  await page.getByRole('link', { name: 'People' }).click();
  await page.getByRole('button', { name: 'Take the book out again' }).click();
  await expect(page.getByText('This book is put away')).toHaveCount(0);

  await tally.navigate(page, `/book/${WETLAND}/student/${await tally.enrolment('Farrelly')}`);
  await page.getByRole('link', { name: 'see as they do' }).click();
  await expect(page.getByText('As Con Farrelly sees it')).toBeVisible();
  await expect(page.locator('.figure')).toBeVisible();
});
