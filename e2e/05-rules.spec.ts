import { WETLAND, chooseOption, expect, standingOf, test } from './tally';

test('a rule is tried before it is made: who moves is seen first, then it is made with a reason', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const before = await standingOf(page, 'Tregenza').textContent();
  await page.getByRole('link', { name: 'Rules', exact: true }).click();
  await page.getByRole('button', { name: 'Lateness' }).click();
  await page.getByLabel('Percent taken').fill('30');
  await page.getByLabel('Percent taken').press('Tab');
  const trial = page.locator('aside');
  await expect(trial).toContainText('worked out for 21 students');
  const down = Number(await trial.locator('.counts b').first().textContent());
  expect(down).toBeGreaterThan(0);
  await expect(trial.locator('tbody tr')).toHaveCount(down);
  expect(await tally.rows('select rules_version from book where id = $1', [WETLAND])).toEqual([{ rules_version: 1 }]);

  await page.getByRole('button', { name: 'Make it the rule …' }).click();
  await page.getByLabel(/^Why\?/).fill('department meeting, 24 November');
  await page.getByLabel(/^Why\?/).press('Control+Enter');
  await expect(page.locator('footer output')).toContainText(`The rule is made. ${down} student`);
  expect(
    await tally.rows('select version, reason from rules_version where book = $1 order by version desc limit 1', [
      WETLAND,
    ]),
  ).toEqual([{ version: 2, reason: 'department meeting, 24 November' }]);
  await page.getByRole('link', { name: 'Ledger' }).click();
  await expect(standingOf(page, 'Tregenza')).not.toHaveText(before!);
});

test('weights that do not sum to 100 say what happens, and every kind of rule can be tried and dropped', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await page.getByLabel('Weight of Checks').fill('25');
  await page.getByLabel('Weight of Checks').press('Tab');
  await expect(page.getByText('Together 110, not 100: each counts as its part of 110.')).toBeVisible();
  await expect(page.locator('lt-rule-sentence', { hasText: '22.7 %' })).toHaveCount(2);
  await expect(page.getByText('The weights sum to 110, not 100.')).toBeVisible();
  await page.getByRole('button', { name: 'Drop the trial' }).click();
  await expect(page.getByText('Together 100.')).toBeVisible();

  await page.getByRole('button', { name: 'Blanks' }).click();
  await page.getByLabel('Percent for a blank past its day').fill('50');
  await page.getByLabel('Percent for a blank past its day').press('Tab');
  await expect(page.locator('aside .counts')).toContainText('go up');
  await page.getByRole('button', { name: 'Drops' }).click();
  await chooseOption(page, 'What Checks drops', 'drops the lowest');
  await page.getByRole('button', { name: 'Letters' }).click();
  await page.getByLabel('From what percentage A').fill('90');
  await page.getByLabel('From what percentage A').press('Tab');
  await page.getByRole('button', { name: 'Rounding' }).click();
  await page.getByLabel('Decimals').press('ArrowDown');
  await expect(page.getByRole('navigation', { name: 'Kinds of rules' }).getByText('on trial')).toHaveCount(4);
  await page.getByRole('button', { name: 'Drop the trial' }).click();
  await expect(page.getByText('on trial')).toHaveCount(0);
  expect(await tally.rows('select rules_version from book where id = $1', [WETLAND])).toEqual([{ rules_version: 1 }]);
});
