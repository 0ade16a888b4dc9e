import { WETLAND, cellOf, chooseOption, expect, standingOf, test } from './tally';

const trial = 'aside';

test('a supposition is kept beside a rule, compared, taken up and made; the journal puts it back as one', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const before = await standingOf(page, 'Farrelly').textContent();
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await page.getByLabel('Weight of Checks').fill('30');
  await expect(page.locator(trial)).toContainText('worked out for 21 students');
  await expect(page.locator(trial)).toContainText('All of them by the weight of Checks.');
  await expect(page.locator(trial)).toContainText(/\d+ of them have read a standing/);
  await page.getByRole('button', { name: 'Keep it beside' }).click();
  await page.getByLabel('What shall it be called?').fill('Checks count twice');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Kept trials' })).toBeVisible();

  const nav = page.getByRole('navigation', { name: 'Kinds of rules' });
  await nav.getByRole('button', { name: /^Suppose/ }).click();
  await chooseOption(page, 'Assessment', 'Check 1');
  await page.getByLabel('Points', { exact: true }).fill('two');
  await page.getByRole('button', { name: 'Suppose it' }).click();
  await expect(page.getByRole('alert')).toContainText('“two” is no number of points');
  await page.getByLabel('Points', { exact: true }).fill('1');
  await page.getByRole('button', { name: 'Suppose it' }).click();
  await expect(page.getByText(/Check 1, \d+ students: raised by 1 point/)).toBeVisible();
  await expect(page.locator(`${trial} .counts`)).toContainText('0 go down');
  await page.getByRole('button', { name: 'Keep it beside' }).click();
  await page.getByLabel('What shall it be called?').fill('Check 1 was hard');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Kept trials' })).toBeVisible();

  // Side by side, after a reload too; nothing is in the book yet.
  await page.reload();
  await nav.getByRole('button', { name: /^Kept trials/ }).click();
  const table = page.getByRole('region', { name: 'Kept trials side by side' });
  await expect(table.getByRole('columnheader')).toContainText([
    'Student',
    'now',
    'Checks count twice',
    'Check 1 was hard',
  ]);
  const farrelly = table.getByRole('row').filter({ hasText: 'Farrelly' });
  const shown = await farrelly.getByRole('cell').allTextContents();
  expect(shown[0]!.trim().split(/\s+/)[0]).toBe(before!.trim());
  expect(await tally.rows('select rules_version from book where id = $1', [WETLAND])).toEqual([{ rules_version: 1 }]);

  await page.getByRole('button', { name: 'Take up Check 1 was hard' }).click();
  await page.getByRole('button', { name: 'Make it so …' }).click();
  await page.getByLabel(/^Why\?/).fill('question 4 was wrong');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer')).toContainText('It is so now.');
  await tally.openLedger(page);
  await expect(standingOf(page, 'Farrelly')).toHaveText(shown[2]!.trim().split(/\s+/)[0]!);
  await page.getByRole('link', { name: 'Journal' }).click();
  await expect(page.locator('lt-journal li').first()).toContainText('question 4 was wrong');
  await page.getByRole('button', { name: 'put back …' }).first().click();
  await page.getByRole('dialog').getByRole('button', { name: /^Put/ }).click();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await tally.openLedger(page);
  await expect(standingOf(page, 'Farrelly')).toHaveText(before!);
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await nav.getByRole('button', { name: /^Kept trials/ }).click();
  await page.getByRole('button', { name: 'Drop Checks count twice' }).click();
  await expect(page.getByRole('button', { name: 'Drop Checks count twice' })).toHaveCount(0);
});

test('from a number one key leads to the rules that made it; letters and curves are dragged, rules printed @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await (await cellOf(page, 'Eklund', 'Soil pit')).click();
  await page.keyboard.press('Alt+r');
  await expect(page.getByRole('heading', { name: 'What makes the numbers of Soil pit' })).toBeVisible();
  const rules = page.locator('lt-part-view');
  for (const kind of ['Curves', 'Lateness', 'Attempts', 'Blanks', 'Weights'])
    await expect(rules.getByRole('heading', { name: kind, exact: true })).toBeVisible();
  await expect(rules).not.toContainText('Check 1');
  await page.getByLabel('Percent taken').hover();
  await expect(
    page.getByText(/^Touches 8 of 10 assessments, in Field notebooks, Practicals and Final: Peat core/),
  ).toBeVisible();
  await expect(page.getByText(/^\d+ of 21 students lose points by it: .*[A-Z]/)).toBeVisible();

  const nav = page.getByRole('navigation', { name: 'Kinds of rules' });
  await nav.getByRole('button', { name: 'Letters' }).click();
  const edge = page.getByRole('slider', { name: 'Where B begins' });
  await edge.focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByLabel('From what percentage B')).toHaveValue('71');
  const box = (await edge.locator('.grip').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y, { steps: 4 });
  await page.mouse.up();
  const at = Number(await page.getByLabel('From what percentage B').inputValue());
  expect(at).toBeGreaterThan(75);
  expect(at).toBeLessThan(85);
  await expect(page.locator(trial)).toContainText('All of them by the letters.');
  await page.getByRole('button', { name: 'Drop the trial' }).click();

  await nav.getByRole('button', { name: 'Curves' }).click();
  await chooseOption(page, 'Curve of Check 1', 'follows a line:');
  const point = page.getByRole('slider', { name: 'Point 2 of the line' });
  await point.focus();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('ArrowUp');
  await expect(page.getByLabel('Point 2, counts of Check 1')).toHaveValue('8');
  await expect(page.locator(`${trial} .counts`)).toContainText('0 go down');

  await nav.getByRole('button', { name: /^Paper/ }).click();
  await expect(page.locator('article')).toContainText('Check 1 follows a line: 0 become 0, 6 become 8, 12 become 12.');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as a file' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('Wetland-Survey-Methods-rules.json');
  const path = await file.path();
  await page.getByRole('button', { name: 'Drop the trial' }).click();
  await page.getByLabel('A file of rules').setInputFiles(path);
  await expect(page.locator(`${trial} .counts`)).toContainText('0 go down');
  await page.getByLabel('A file of rules').setInputFiles({
    name: 'odd.json',
    mimeType: 'application/json',
    buffer: Buffer.from('{"format":"last-tally.rules/1"}'),
  });
  await expect(page.getByText('odd.json cannot be used, and nothing was changed.')).toBeVisible();
});

test('what rules move is read only where they are released, and the students are told why @long', async ({
  page,
  tally,
  another,
}) => {
  const student = await another();
  await tally.signIn(student, 'tregenza');
  const standing = student.locator('.standing b');
  await tally.navigate(student, `/my/${WETLAND}`);
  const was = await standing.textContent();
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await page.getByLabel('Weight of Checks').fill('60');
  await expect(page.locator(trial)).toContainText('worked out for');
  await page.getByRole('button', { name: 'Make it the rule …' }).click();
  await page.getByLabel(/^Why\?/).fill('the checks were made longer');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer')).toContainText('The rule is made.');
  await student.reload();
  await expect(standing).toHaveText(was!);

  await page.getByRole('link', { name: /^Release/ }).click();
  await page
    .getByRole('navigation', { name: 'Assessments' })
    .getByRole('button', { name: /^Check 1/ })
    .click();
  await page.getByLabel('Everybody').check();
  await page.getByRole('button', { name: /^Release to/ }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('region', { name: 'Standings that change' })).toContainText('Tregenza');
  await expect(dialog.getByLabel(/with today’s rules/)).toBeChecked();
  await expect(dialog.getByLabel(/They are told/)).toHaveValue('the checks were made longer');
  await dialog.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(dialog).toHaveCount(0);
  await student.reload();
  await expect(standing).not.toHaveText(was!);
  await expect(student.getByRole('status').filter({ hasText: 'the checks were made longer' })).toContainText(
    `Your standing is worked out by changed rules: ${was}`,
  );
});
