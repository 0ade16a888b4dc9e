import { accessibilityFaults } from './axe';
import { expect, test, WETLAND } from './tally';

test('names are hidden by one key, in the list, on the work and in phrases, and shown again', async ({
  page,
  tally,
}) => {
  const people = await tally.rows<{ family: string; given: string }>(
    `select p.family, p.given from enrolment e join person p on p.school = e.school and p.id = e.person where e.book = $1`,
    [WETLAND],
  );
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/marking/soil-pit`);
  const rows = page.locator('aside li .name');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Achterberg, Ruben');
  await expect(page.getByRole('textbox', { name: 'End note' })).toBeVisible();
  const listed = await rows.count();
  await page.keyboard.press('v');
  await expect(page.locator('footer')).toContainText('Names are hidden on this page');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Reed \d\d$/);
  const names = await rows.allTextContents();
  expect(names).toHaveLength(listed);
  for (const name of names) expect(name).toMatch(/^Reed \d\d$/);
  // By their numbers, not by the names that they stand for.
  expect(names).toEqual([...names].sort());
  // Through everybody: nothing beside the work itself says who it is.
  for (let n = 0; n < 6; n++) {
    const beside = page.locator('lt-marking aside, lt-marking header, lt-marking .leaves, lt-marking .side');
    const said = (await beside.allInnerTexts()).join('\n');
    const whole = said + (await page.locator('section.room').getAttribute('aria-label'));
    for (const p of people) expect(whole).not.toContain(p.family);
    await page.keyboard.press('n');
  }
  await page.getByRole('button', { name: 'phrases' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toBeVisible();
  await page.keyboard.press('Escape');
  expect(await accessibilityFaults(page)).toEqual([]);
  // A phrase is put in without the name.
  await tally.rows(
    `insert into phrase (school, id, scope, person, words) select school, 'named', 'own', id, '{given}, say how you know.' from person where login = 'aldous'`,
  );
  await page.reload();
  await expect(page.getByRole('textbox', { name: 'End note' })).toBeVisible();
  await page.keyboard.press('v');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(/^Reed/);
  await expect(page.getByRole('textbox', { name: 'End note' })).toBeVisible();
  await page.keyboard.press('e');
  await page.keyboard.type('/say');
  await expect(page.getByRole('option').first()).toContainText('say how you know');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'End note' })).toHaveText('Say how you know.');
  await page.keyboard.press('v');
  await expect(rows.first()).toHaveText('Abernethy, Maud');
});
