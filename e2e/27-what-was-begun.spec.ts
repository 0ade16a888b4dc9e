import { expect, test, WETLAND } from './tally';

test('what was begun on a page and not made is there again after another page, and after a reload @long', async ({
  page,
  tally,
}) => {
  await tally.signIn(page, 'aldous');
  const go = async (tab: string): Promise<void> => {
    await page.getByRole('navigation', { name: 'Pages of this book' }).getByRole('link', { name: tab }).click();
    await expect(page).toHaveURL(new RegExp(tab.toLowerCase()));
  };
  const rules = async (): Promise<void> => {
    await page.goto(`${tally.address}/book/${WETLAND}/rules`);
  };

  // A trial of the rules.
  await rules();
  const weight = page.getByRole('textbox', { name: 'Weight of Field notebooks' });
  await weight.fill('45');
  await expect(page.locator('.trial')).toContainText('worked out for');
  await go('Ledger');
  await go('Rules');
  await expect(weight).toHaveValue('45');
  await expect(page.locator('.trial')).toContainText('worked out for');
  await page.reload();
  await expect(weight).toHaveValue('45');
  await page.getByRole('button', { name: 'Drop the trial' }).click();
  await expect(weight).toHaveValue('30');
  await go('Ledger');
  await go('Rules');
  await expect(weight).toHaveValue('30');
  await expect(page.getByRole('button', { name: 'Drop the trial' })).toBeHidden();

  // Changes of an assessment.
  const soil = `${tally.address}/book/${WETLAND}/assessments/soil-pit`;
  await page.goto(soil);
  const title = page.getByRole('textbox', { name: 'Title' });
  await title.fill('Soil pit and auger');
  await go('Ledger');
  await page.goto(soil);
  await expect(title).toHaveValue('Soil pit and auger');
  await expect(page.locator('footer')).toContainText('What you had begun to change is here again.');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.locator('footer')).toContainText('Soil pit and auger: kept.');
  await go('Ledger');
  await page.goto(soil);
  await expect(title).toHaveValue('Soil pit and auger');
  await expect(page.getByRole('button', { name: 'Keep the changes' })).toBeHidden();

  // A list of students, and a table of scores.
  await page.goto(`${tally.address}/book/${WETLAND}/people`);
  await page.getByRole('button', { name: 'Add students' }).click();
  const list = page.locator('#people-text');
  await list.fill('Arkwright, Nell');
  await expect(page.getByRole('button', { name: 'Keep 1' })).toBeVisible();
  await go('Intake');
  const table = page.locator('#paste');
  await table.fill('Student number\tSoil pit\nBC24101\t17');
  await page.getByRole('button', { name: 'Read the table' }).click();
  await expect(page.locator('.sum')).toContainText('changed');
  await go('People');
  await expect(list).toHaveValue('Arkwright, Nell');
  await page.getByRole('button', { name: 'Leave it' }).click();
  await go('Intake');
  await expect(page.locator('.sum')).toContainText('changed');
  await page.reload();
  await expect(page.locator('.sum')).toContainText('changed');
  await go('People');
  await expect(page.getByRole('button', { name: 'Add students' })).toBeVisible();
});

test('what was tried before somebody else changed it is made over nothing of theirs', async ({
  page,
  tally,
  another,
}) => {
  await tally.letIn(page, 'aldous');
  await page.goto(`${tally.address}/book/orchard-practice/rules`);
  const first = page.getByRole('textbox', { name: /^Weight of/ }).first();
  await first.fill('41');
  await expect(page.locator('.trial')).toContainText('worked out for');
  await page.goto(`${tally.address}/desk`);

  const other = await another();
  await tally.letIn(other, 'penhale');
  await other.goto(`${tally.address}/book/orchard-practice/rules`);
  await other
    .getByRole('textbox', { name: /^Weight of/ })
    .first()
    .fill('37');
  await other.getByRole('button', { name: 'Make it the rule' }).click();
  await other.locator('#reason').fill('agreed at the meeting');
  await other.getByRole('button', { name: 'Make it the rule' }).click();
  await expect(other.locator('footer')).toContainText('The rule is made.');

  await page.goto(`${tally.address}/book/orchard-practice/rules`);
  await expect(first).toHaveValue('41');
  await page.getByRole('button', { name: 'Make it the rule' }).click();
  await page.locator('#reason').fill('mine');
  await page.getByRole('button', { name: 'Make it the rule' }).click();
  await page.getByRole('button', { name: 'drop mine and look at theirs' }).click();
  await expect(first).toHaveValue('37');
});
