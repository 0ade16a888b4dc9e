import { expect, test, WETLAND } from './tally';

test('a made-up student is scored, excused and released to, reads it, and stands nowhere', async ({ page, tally }) => {
  const counted = () =>
    tally.rows(
      `select (select count(*)::int from enrolment) as people, (select count(*)::int from entry) as cells,
         (select count(*)::int from journal) as lines, (select count(*)::int from released_entry) as released`,
      [],
    );
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/assessments`);
  const before = await counted();
  await page.getByRole('link', { name: 'rehearse as a made-up student' }).click();
  const box = (title: string) => page.getByRole('textbox', { name: `${title}, score or state` });
  const reads = page.getByRole('region', { name: 'What they would read' });
  await expect(reads).toContainText('Your score stands here once your teacher has released it.');

  await box('Peat core').fill('80%');
  await page.keyboard.press('Tab');
  await expect(box('Peat core')).toHaveValue('16');
  await expect(page.getByText(/In the ledger they would stand at/)).not.toContainText('no grade yet');
  await expect(reads).not.toContainText('16.0');
  await page.getByRole('checkbox', { name: 'Peat core is released to them' }).check();
  await expect(reads.locator('.figure').first()).toContainText('16.0');
  await box('Hedge survey').fill('exc');
  await page.keyboard.press('Tab');
  await expect(reads.getByRole('button', { name: /Hedge survey/ })).toContainText('excused, does not count');
  await box('Pond transect').fill('lots');
  await page.keyboard.press('Tab');
  await expect(page.getByText('“lots” is not a score, a percentage, a fraction or a state.')).toBeVisible();

  // It is there again after a reload, for this person alone.
  await page.reload();
  await expect(box('Peat core')).toHaveValue('16');
  await expect(box('Pond transect')).toHaveValue('');
  expect(await counted()).toEqual(before);
  await page.getByRole('button', { name: 'begin anew' }).click();
  await expect(box('Peat core')).toHaveValue('');
  await expect(reads).toContainText('Your score stands here once your teacher has released it.');
});
