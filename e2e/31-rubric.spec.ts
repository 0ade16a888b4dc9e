import { readFile } from 'node:fs/promises';
import { accessibilityFaults } from './axe';
import { expect, test, WETLAND, type Tally } from './tally';
import type { Page } from '@playwright/test';

const ROOM = `/book/${WETLAND}/marking/soil-pit`;
const RUBRIC = `/book/${WETLAND}/assessments/soil-pit/rubric`;
const name = (page: Page) => page.getByRole('heading', { level: 1 });
const rule = (page: Page, title: string) => page.getByRole('slider', { name: title });
const counts = (page: Page) => page.getByRole('group', { name: 'What counts' });
const row = (page: Page, family: string) =>
  page.getByRole('complementary', { name: 'Students' }).getByRole('button', { name: new RegExp(`^${family}`) });

/** The last attempt's score of a student on the soil pit, and the levels' points by criterion. */
async function kept(tally: Tally, family: string): Promise<{ score: number | null; levels: Record<string, number> }> {
  const [cell] = await tally.rows<{ score: number | null; enrolment: string }>(
    `select e.id as enrolment, (select a.score::float8 from attempt a where a.school = e.school and a.book = e.book
         and a.enrolment = e.id and a.assessment = 'soil-pit' order by a.number desc limit 1) as score
       from enrolment e join person p on p.school = e.school and p.id = e.person where e.book = $1 and p.family = $2`,
    [WETLAND, family],
  );
  const levels = await tally.rows<{ criterion: string; points: number }>(
    `select criterion, points::float8 as points from criterion_mark
       where book = $1 and assessment = 'soil-pit' and enrolment = $2 and points is not null`,
    [WETLAND, cell!.enrolment],
  );
  return { score: cell!.score, levels: Object.fromEntries(levels.map((l) => [l.criterion, l.points])) };
}

test('part points, left out, taken back, typed in the place of the sum and back to it', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await expect(rule(page, 'Profile drawing')).toBeVisible();
  // Marked in part it waits still, and says how far it is.
  await page.locator('body').press('3');
  await expect(row(page, 'Achterberg')).toContainText('1 of 3');
  await expect(rule(page, 'Field measures')).toBeFocused();
  await page.keyboard.press('2');
  await page.keyboard.press('4');
  await expect(page.getByRole('combobox', { name: 'Phrase' })).toBeFocused();
  await expect(counts(page)).toContainText('15.0marked');
  // Arrows move by the rubric's step, and what they come to is kept.
  await rule(page, 'Profile drawing').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect(rule(page, 'Profile drawing')).toHaveAttribute('aria-valuenow', '5.5');
  await expect(counts(page)).toContainText('16.0marked');
  await expect.poll(() => kept(tally, 'Achterberg')).toEqual({ score: 16, levels: { drawing: 5.5, measures: 2.5, reading: 8 } }); // prettier-ignore
  // Left out of both sums: 8 of 14, of 20, is 13.5 of 14 brought to 20.
  await rule(page, 'Field measures').focus();
  await page.keyboard.press('x');
  await expect(counts(page)).toContainText('19.29marked');
  await rule(page, 'Field measures').focus();
  await page.keyboard.press('2');
  await expect(counts(page)).toContainText('16.0marked');

  // Another score is asked about once, and takes the place of the sum with its reason.
  await page.keyboard.press('s');
  await page.keyboard.type('18 - argued aloud');
  await page.keyboard.press('Enter');
  await expect(page.locator('#score-says')).toContainText('The levels make 16. Enter once more');
  await page.keyboard.press('Enter');
  await expect(counts(page)).toContainText('18.0marked');
  await expect(page.getByText('18 stands in the place of 16, the levels’ sum.')).toBeVisible();
  // A level then asks which; the same once more leaves what was typed, = puts the sum there.
  await rule(page, 'Reading of the site').focus();
  await page.keyboard.press('3');
  await expect(page.getByText('18 stands in the place of the levels’ sum. = puts')).toBeVisible();
  await page.keyboard.press('3');
  await expect(page.getByText('18 stands in the place of 14, the levels’ sum.')).toBeVisible();
  await expect(counts(page)).toContainText('18.0marked');
  await page.keyboard.press('Escape');
  await page.keyboard.press('=');
  await expect(counts(page)).toContainText('14.0marked');
  await expect.poll(() => kept(tally, 'Achterberg')).toEqual({ score: 14, levels: { drawing: 5.5, measures: 2.5, reading: 6 } }); // prettier-ignore
  // Taken away the levels stay, and give it again.
  await page.keyboard.press('s');
  await page.keyboard.press('Delete');
  await page.keyboard.press('Enter');
  await expect(page.getByText('The levels make 14, which is not given.')).toBeVisible();
  await page.getByRole('button', { name: 'give the sum' }).click();
  await expect(counts(page)).toContainText('14.0marked');
  expect(await accessibilityFaults(page)).toEqual([]);
});

test('two on one piece of work see each other’s levels, and lose nothing @long', async ({ page, tally, another }) => {
  await tally.rows(
    `insert into book_staff (school, book, person, role) select school, $1, id, 'marker' from person where login = 'quigg'`,
    [WETLAND],
  );
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await expect(name(page)).toHaveText('Achterberg, Ruben');
  const other = await another();
  await tally.letIn(other, 'quigg');
  await other.goto(page.url());
  await expect(rule(other, 'Profile drawing')).toBeVisible();
  await page.locator('body').press('4');
  await expect(rule(page, 'Profile drawing')).toHaveAttribute('aria-valuenow', '6');
  await expect(rule(other, 'Profile drawing')).toHaveAttribute('aria-valuenow', '6');
  // At once, on other criteria: both stand, and the sum is that of both.
  await rule(other, 'Reading of the site').focus();
  await Promise.all([page.keyboard.press('3'), other.keyboard.press('2')]);
  await expect.poll(() => kept(tally, 'Achterberg')).toEqual({ score: 14, levels: { drawing: 6, measures: 4, reading: 4 } }); // prettier-ignore
  await expect(counts(page)).toContainText('14.0marked');
  await expect(counts(other)).toContainText('14.0marked');
  // The same criterion while the line of one is slow: theirs stands until it is chosen.
  let hold: (() => void) | undefined;
  await other.route(
    '**/levels/**',
    async (route) => {
      await new Promise<void>((done) => (hold = done));
      await route.continue();
    },
    { times: 1 },
  );
  await rule(other, 'Field measures').focus();
  await other.keyboard.press('1');
  await expect.poll(() => hold !== undefined).toBe(true);
  await rule(page, 'Field measures').focus();
  await page.keyboard.press('4');
  await expect.poll(async () => (await kept(tally, 'Achterberg')).levels['measures']).toBe(6);
  hold!();
  await expect(other.getByRole('alert')).toContainText('Somebody else marked Field measures');
  await other.getByRole('button', { name: 'mine' }).click();
  await expect.poll(async () => (await kept(tally, 'Achterberg')).levels['measures']).toBe(1);
  await expect(rule(page, 'Field measures')).toHaveAttribute('aria-valuenow', '1');
});

test('a line that is down and a server that is killed lose no level @line-cut @long', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await expect(rule(page, 'Profile drawing')).toBeVisible();
  await tally.kill();
  for (const key of ['3', '4', '1', 'Enter']) await page.keyboard.press(key);
  await expect(counts(page)).toContainText('12.5marked');
  await page.keyboard.press('n');
  await expect(name(page)).toContainText('Balogun');
  await page.locator('body').press('4');
  await tally.restart();
  await page.reload();
  await expect.poll(() => kept(tally, 'Achterberg'), { timeout: 20_000 }).toEqual({ score: 12.5, levels: { drawing: 4.5, measures: 6, reading: 2 } }); // prettier-ignore
  await expect.poll(() => kept(tally, 'Balogun')).toEqual({ score: 6, levels: { drawing: 6 } });
  await expect(rule(page, 'Profile drawing')).toHaveAttribute('aria-valuenow', '6');
});

test('a rubric changed half-way shows whose score moves, moves them, and leads through their work @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, RUBRIC);
  const first = page.getByRole('group', { name: 'Criterion 1' });
  await expect(first.getByLabel('Title')).toHaveValue('Profile drawing');
  expect(await accessibilityFaults(page)).toEqual([]);
  const before = await kept(tally, 'Eklund');
  // Other points at the top are asked about: as they are they make another sum.
  await first.getByLabel('Points of level 4').fill('8');
  await expect(page.getByText('The criteria make 22, Soil pit is of 20.')).toBeVisible();
  await first.getByLabel('Points of level 4').fill('6');
  await first.getByLabel('Points of level 3').fill('4');
  const aside = page.getByRole('complementary');
  await expect(aside.getByText(/scores? moves?; it concerns \d+ pieces of work/)).toBeVisible();
  // It is there again after a reload, over the version that was seen.
  await page.reload();
  await expect(first.getByLabel('Points of level 3')).toHaveValue('4');
  await expect(aside.getByText(/it concerns \d+ pieces/)).toBeVisible();
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Kept: work is marked by it from now on.')).toBeVisible();
  await expect(aside.getByText('take this one again')).toBeVisible();
  // How the class stands in each criterion, and everybody's levels as a file.
  await expect(aside.getByText(/^\d+ of 21 marked by it$/)).toBeVisible();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    aside.getByRole('button', { name: 'Save everybody’s levels as CSV' }).click(),
  ]);
  const lines = (await readFile(await file.path(), 'utf8')).trim().split('\r\n');
  expect(lines[0]).toContain('Family name,Given name,Section,Profile drawing,Field measures,Reading of the site');
  expect(lines).toHaveLength(22);
  const after = await kept(tally, 'Eklund');
  expect(after.score).not.toBe(before.score);
  expect(after.score).toBe(Object.values(after.levels).reduce((a, b) => a + b, 0));
  await page.getByRole('button', { name: 'Look them through' }).click();
  await expect(page.getByText('Those whose work the changed rubric concerns.')).toBeVisible();
  await expect(name(page)).toHaveText(/, /);
  const who = await name(page).innerText();
  await page.locator('body').press('n');
  await expect(name(page)).not.toHaveText(who);
  await page.getByRole('button', { name: 'show everybody' }).click();
  await expect(page.getByText('21 of 21 listed')).toBeVisible();
});

test('criteria stand as columns of the ledger, follow what is given, have their numbers and go out in the file @long', async ({
  page,
  tally,
  another,
}) => {
  await tally.rows(
    `insert into book_staff (school, book, person, role) select school, $1, id, 'marker' from person where login = 'quigg'`,
    [WETLAND],
  );
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/ledger?assessment=soil-pit`);
  const heads = page.getByRole('columnheader');
  await expect(heads.filter({ hasText: 'Soil pit' })).toBeVisible();
  await page.getByRole('button', { name: 'columns' }).click();
  await page.getByRole('menuitemcheckbox', { name: 'with its criteria' }).click();
  await expect(heads.filter({ hasText: 'Profile drawing' })).toContainText('of 6');
  await expect(page).toHaveURL(/criteria=soil-pit/);
  expect(await accessibilityFaults(page)).toEqual([]);
  // Read here, given in the marking room: a figure says so, Enter leads there.
  const { levels } = await kept(tally, 'Eklund');
  const row = page.getByRole('row').filter({ hasText: 'Eklund' });
  const given = row.getByRole('gridcell', { name: new RegExp(`^${levels['drawing']}(\\.0)? of 6`) });
  await given.click();
  await page.keyboard.press('3');
  await expect(page.getByText('Levels are given in the marking room: Enter opens it there.')).toBeVisible();
  await page.getByRole('button', { name: 'column', exact: true }).click();
  const slip = page.getByRole('complementary', { name: 'Beside the cell' });
  await expect(slip.getByRole('heading', { name: 'Profile drawing' })).toBeVisible();
  await expect(slip.getByRole('row').filter({ hasText: 'mean' })).toContainText('%');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    (async () => {
      await page.getByRole('grid').focus();
      await page.keyboard.press('ArrowLeft');
      await page.keyboard.press('/');
      await page.keyboard.type('save');
      await page.keyboard.press('Enter');
    })(),
  ]);
  const [, head] = (await readFile(await file.path(), 'utf8')).split('\r\n');
  expect(head).toContain('Soil pit (of 20),Soil pit: Profile drawing (of 6),Soil pit: Field measures (of 6)');
  // What somebody else gives meanwhile comes by itself.
  const other = await another();
  await tally.letIn(other, 'quigg');
  await tally.navigate(other, `/book/${WETLAND}/marking/soil-pit`);
  await other.getByRole('button', { name: /^Kilbride/ }).click();
  await expect(name(other)).toContainText('Kilbride');
  await other.getByRole('group', { name: 'Rubric' }).waitFor();
  await other.locator('body').press('4');
  const kilbride = page.getByRole('row').filter({ hasText: 'Kilbride' });
  await expect(kilbride.getByRole('gridcell', { name: /^6\.0 of 6/ })).toBeVisible();
});

test('a rubric is pasted from a table, saved and taken from a file, copied, and taken off @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/assessments/texture/rubric`);
  await page.getByRole('button', { name: 'paste a table' }).click();
  await page.getByRole('textbox').last().fill('nothing of the kind');
  await page.getByRole('button', { name: 'Take it' }).click();
  await expect(page.getByText('There are no levels in this table')).toBeVisible();
  await page
    .getByRole('textbox')
    .last()
    .fill('\t0\t2\t5\nFeel\tnone\tgritty or smooth\tnamed\nRibbon\tnone\tmade\tmeasured');
  await page.getByRole('button', { name: 'Take it' }).click();
  const second = page.getByRole('group', { name: 'Criterion 2' });
  await expect(second.getByLabel('Title')).toHaveValue('Ribbon');
  await expect(second.getByLabel('Words of level 3')).toHaveValue('measured');
  await expect(page.getByText('the criteria that count make 10 of 10 points')).toBeVisible();
  const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'CSV' }).click()]);
  await page.getByRole('button', { name: 'Keep the rubric' }).click();
  await expect(page.getByText('Kept: work is marked by it from now on.')).toBeVisible();
  await page.getByRole('button', { name: 'take it off' }).click();
  await page.getByRole('button', { name: 'Take the rubric off' }).click();
  await expect(page.getByText('Criteria with levels lie as rulers')).toBeVisible();
  await page.getByLabel('From a file').setInputFiles(await csv.path());
  await expect(second.getByLabel('Words of level 3')).toHaveValue('measured');
  await page.getByRole('button', { name: 'as it was' }).click();
  await page.getByRole('combobox', { name: 'Copy a rubric' }).click();
  await page.getByRole('option', { name: /^Soil pit/ }).click();
  await expect(page.getByText('The criteria make 20, Texture by hand is of 10.')).toBeVisible();
  await page.getByRole('button', { name: 'Bring the sum to 10' }).click();
  await page.getByRole('button', { name: 'Keep the rubric' }).click();
  await expect(page.getByText('Version 3, by R. Aldous.')).toBeVisible();
});
