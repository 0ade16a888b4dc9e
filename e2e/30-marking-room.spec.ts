import { accessibilityFaults } from './axe';
import { expect, test, WETLAND, type Tally } from './tally';
import type { Page } from '@playwright/test';

const ROOM = `/book/${WETLAND}/marking/soil-pit`;
const drawn = (page: Page) => page.locator('[data-drawn=yes]').first();
const name = (page: Page) => page.getByRole('heading', { level: 1 });
const row = (page: Page, family: string) =>
  page.getByRole('complementary', { name: 'Students' }).getByRole('button', { name: new RegExp(`^${family}`) });

/** What is kept of a student's cell on the soil pit. */
const kept = (tally: Tally, family: string) =>
  tally.rows<{ score: string | null; on_time: boolean | null }>(
    `select a.score::float8::text as score, a.on_time from attempt a
       join enrolment e on e.school = a.school and e.book = a.book and e.id = a.enrolment
       join person p on p.school = e.school and p.id = e.person
     where a.book = $1 and a.assessment = 'soil-pit' and p.family = $2 order by a.number desc limit 1`,
    [WETLAND, family],
  );

test('a teacher comes from the desk, reads, scores and goes on, by keyboard alone', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, '/desk');
  await page.getByRole('link', { name: /Soil pit/ }).first().click(); // prettier-ignore
  // Straight into the first that waits: a photograph, then a HEIC, then a PDF with its text.
  await expect(name(page)).toHaveText('Achterberg, Ruben');
  await expect(page.getByRole('img', { name: 'sheet 1.jpg' })).toBeVisible();
  await expect(drawn(page)).toBeVisible();
  await expect(page.getByText('5 to mark', { exact: true })).toBeVisible();
  expect(await accessibilityFaults(page)).toEqual([]);

  await page.locator('body').press('s');
  await page.keyboard.type('16.5');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'What counts' })).toContainText('16.5marked');
  await expect(page.getByText('4 to mark', { exact: true })).toBeVisible();
  await page.keyboard.press('n');
  await expect(name(page)).toHaveText('Balogun, Temi');
  await expect(page.getByRole('img', { name: /HEIC/ })).toHaveAttribute('data-drawn', 'yes');
  await page.keyboard.press('n');
  await expect(name(page)).toHaveText('Ibekwe, Chidi');
  await expect(page.locator('.textLayer').first()).toContainText('Soil pit, Wetland Survey Methods');

  // Late by two days: what counts is less, and waived it is not.
  await page.keyboard.press('s');
  await page.keyboard.type('24');
  await page.keyboard.press('Enter');
  await expect(page.locator('#score-says')).toContainText('24 is more than the 20 possible');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('14');
  await page.keyboard.press('Enter');
  const counts = page.getByRole('group', { name: 'What counts' });
  await expect(counts).toContainText('− 4.0');
  await expect(counts).toContainText('10.0counts, draft');
  await counts.getByRole('button', { name: 'waive' }).click();
  await expect(counts).toContainText('14.0counts, draft');
  await expect.poll(() => kept(tally, 'Ibekwe')).toEqual([{ score: '14', on_time: true }]);
  expect(await kept(tally, 'Achterberg')).toEqual([{ score: '16.5', on_time: false }]);

  // What cannot be read stays with its student; whoever has nothing is asked about once.
  await row(page, 'Marchetti').click();
  await page.locator('body').press('s');
  await page.keyboard.type('7');
  await page.keyboard.press('Enter');
  await expect(page.locator('#score-says')).toContainText('Nothing was handed in. Enter once more');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('seven');
  await row(page, 'Nakatani').click();
  await expect(page.getByLabel('Score')).toHaveValue('');
  await row(page, 'Marchetti').click();
  await expect(page.getByLabel('Score')).toHaveValue('seven');
  // Whoever read it is noted, once.
  expect(
    await tally.rows(
      `select count(*) > 1 as some, count(*) = count(distinct t.submission) as once from submission_trace t
         join submission s on s.school = t.school and s.book = t.book and s.id = t.submission
         join person p on p.school = t.school and p.id = t.person
       where t.kind = 'opened' and p.login = 'aldous' and s.assessment = 'soil-pit' and s.book = $1`,
      [WETLAND],
    ),
  ).toEqual([{ some: true, once: true }]);
});

test('however fast one steps, and however slow the files come, nobody’s work stands under another’s name @long', async ({
  page,
  tally,
}) => {
  const owners = new Map(
    (
      await tally.rows<{ id: string; name: string }>(
        `select s.id, p.family || ', ' || p.given as name from submission s
           join enrolment e on e.school = s.school and e.book = s.book and e.id = s.enrolment
           join person p on p.school = e.school and p.id = e.person where s.book = $1 and s.assessment = 'soil-pit'`,
        [WETLAND],
      )
    ).map((r) => [r.id, r.name]),
  );
  await page.route('**/submissions/*/files/**', async (route) => {
    await new Promise((done) => setTimeout(done, 200 + Math.random() * 700));
    await route.continue().catch(() => undefined);
  });
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await expect(name(page)).toHaveText('Achterberg, Ruben');
  // Looked at in each frame: the name at the top, and whose file is fetched or shown beneath it.
  await page.evaluate(() => {
    const seen: string[] = [];
    Object.assign(globalThis, { seen });
    const look = (): void => {
      const link = document.querySelector<HTMLAnchorElement>('.looks a[download]');
      const of = /submissions\/([^/]+)\//.exec(link?.getAttribute('href') ?? '')?.[1] ?? '';
      const what = document.querySelector('[data-drawn]') ? 'drawn' : 'coming';
      seen.push(`${document.querySelector('h1')?.textContent?.trim()}|${of}|${what}`);
      requestAnimationFrame(look);
    };
    look();
  });
  for (let i = 0; i < 60; i++) {
    await page.keyboard.press(i % 3 === 2 ? 'ArrowUp' : i % 7 === 0 ? 'n' : 'ArrowDown');
    await page.waitForTimeout(50);
  }
  await page.keyboard.press('n');
  await expect(drawn(page)).toBeVisible();
  const seen = await page.evaluate(() => (globalThis as unknown as { seen: string[] }).seen);
  const pairs = [...new Set(seen)].map((s) => s.split('|')).filter(([, of]) => of !== '');
  expect(pairs.length).toBeGreaterThan(5);
  expect(pairs.filter(([who, of]) => owners.get(of!) !== who)).toEqual([]);
});

test('two who mark at once see each other’s scores, and neither writes over what they did not see @long', async ({
  page,
  tally,
  another,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, '/book/soil-science-1/marking');
  const other = await another();
  await tally.letIn(other, 'quigg');
  await expect(page).toHaveURL(/marking\/[\w-]+\?student=/);
  const who = await name(page).innerText();
  await other.goto(page.url());
  await expect(name(other)).toHaveText(who);
  for (const p of [page, other]) await expect(p.getByLabel('Score')).toBeVisible();
  // Both begin to type at the same work; the first is kept, the second is told.
  await page.locator('body').press('6');
  await other.locator('body').press('8');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'What counts' })).toContainText('6.0marked');
  await expect(other.getByRole('group', { name: 'What counts' })).toContainText('6.0marked');
  await other.keyboard.press('Enter');
  await expect(other.getByRole('alert')).toContainText('Somebody else kept 6 meanwhile.');
  await other.getByRole('button', { name: 'take theirs' }).click();
  await expect(other.getByLabel('Score')).toHaveValue('6');
  await expect(other.getByRole('alert')).toBeHidden();
});

test('work that cannot be shown says why, and the room goes on: locked, cut off, empty @long', async ({
  page,
  tally,
}) => {
  const find = async (which: string) => {
    const [found] = await tally.rows<{ assessment: string; enrolment: string; name: string }>(
      `select s.assessment, s.enrolment, f.name from submission s
         join submission_file f on f.school = s.school and f.book = s.book and f.submission = s.id
       where s.book = 'soil-science-1' and s.state = 'handed-in' and (${which}) and not exists (select 1
         from submission x where x.school = s.school and x.book = s.book and x.assessment = s.assessment
           and x.enrolment = s.enrolment and x.state = 'handed-in' and x.handed_in_at > s.handed_in_at)
       order by s.id limit 1`,
    );
    await tally.navigate(page, `/book/soil-science-1/marking/${found!.assessment}?student=${found!.enrolment}`);
    return found!;
  };
  await tally.letIn(page, 'brandvold');
  const why = page.locator('.why');
  await find(`s.typed like '%password is sluice%'`);
  await expect(why).toContainText('This PDF is locked with a password');
  // What was typed beside it is a leaf of its own.
  await page.getByRole('button', { name: 'typed' }).click();
  await expect(page.getByLabel('The text')).toContainText('The password is sluice.');
  const empty = await find('f.bytes = 0');
  await expect(why).toContainText('This file is empty.');
  await expect(why.getByRole('link', { name: empty.name })).toBeVisible();
  const cut = await find(
    `f.media_type = 'application/pdf' and not exists (select 1 from blob b join blob_chunk c
       on c.school = b.school and c.blob = b.id where b.school = f.school and b.sha256 = f.sha256
         and position('%%EOF'::bytea in c.data) > 0)`,
  );
  await expect(why.or(drawn(page)).first()).toBeVisible();
  await expect(page.getByRole('link', { name: 'original' })).toHaveAttribute('download', cut.name);
  // Documents and sheets are read for their words and values, which the page says.
  await find(`f.name like '%.docx' and f.bytes > 0`);
  await expect(page.getByRole('heading', { level: 2, name: /^Lab sheet/ })).toBeVisible();
  await expect(page.getByText('its layout may look otherwise in the original')).toBeVisible();
  await find(`f.name like '%.odt' and f.bytes > 0`);
  await expect(page.getByRole('heading', { level: 2, name: /^Lab sheet/ })).toBeVisible();
  await find(`f.name like '%.xlsx'`);
  await expect(page.getByRole('cell', { name: 'moisture %' })).toBeVisible();
  await find(`f.name like '%.csv'`);
  await expect(page.getByRole('cell', { name: 'station', exact: true })).toBeVisible();
  await expect(page.getByText('Values of the file')).toBeVisible();
  expect(await accessibilityFaults(page)).toEqual([]);
  // The room goes on.
  const before = await name(page).innerText();
  await page.locator('body').press('n');
  await expect(name(page)).not.toHaveText(before);
});

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  test('the work is read and scored too @long', async ({ page, tally }) => {
    await tally.letIn(page, 'aldous');
    await tally.navigate(page, ROOM);
    await expect(drawn(page)).toBeVisible();
    await page.getByLabel('Score').fill('12');
    await page.getByLabel('Score').press('Enter');
    await expect.poll(() => kept(tally, 'Achterberg')).toEqual([{ score: '12', on_time: false }]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
    expect(await accessibilityFaults(page)).toEqual([]);
  });
});

test('the plain sheet takes scores down a list, in the words of the ledger @long', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await page.getByRole('link', { name: 'plain sheet' }).click();
  await page.getByLabel('Achterberg, Ruben', { exact: true }).fill('12,5');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Balogun, Temi', { exact: true })).toBeFocused();
  await page.keyboard.type('85%');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Balogun, Temi', { exact: true })).toHaveValue('17');
  // A state is completed as it is typed.
  await page.getByLabel('Marchetti, Gaia', { exact: true }).focus();
  await page.keyboard.type('ex');
  await expect(page.getByLabel('Marchetti, Gaia', { exact: true })).toHaveValue('excused');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('listitem').filter({ hasText: 'Marchetti' })).toContainText('excused');
  // More than full is asked of each, though the same was said yes to of another.
  for (const name of ['Dacosta, Nuno', 'Eklund, Signe']) {
    await page.getByLabel(name, { exact: true }).fill('21');
    await page.keyboard.press('Enter');
    await expect(page.getByText('21 is more than the 20 possible')).toHaveCount(1);
    await expect(page.getByLabel(name, { exact: true })).toBeFocused();
    await page.keyboard.press('Enter');
    await expect(page.getByText('21 is more than the 20 possible')).toHaveCount(0);
  }
  await page.getByLabel('Nakatani, Ren', { exact: true }).fill('many');
  await page.getByLabel('Okonjo, Adaeze', { exact: true }).focus();
  await expect(page.getByText('“many” is not a score')).toBeVisible();
  await expect(page.getByLabel('Nakatani, Ren', { exact: true })).toHaveValue('many');
  await expect.poll(() => kept(tally, 'Achterberg')).toEqual([{ score: '12.5', on_time: false }]);
  await expect.poll(() => kept(tally, 'Balogun')).toEqual([{ score: '17', on_time: false }]);
  expect(await accessibilityFaults(page)).toEqual([]);
});

test('whoever is on the way to another page is not called back by a room that has come meanwhile @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  let [listComes, sheetComes] = [(): void => {}, (): void => {}];
  const [list, sheet] = [new Promise<void>((r) => (listComes = r)), new Promise<void>((r) => (sheetComes = r))];
  await page.route('**/arrivals', async (route) => {
    await list;
    await route.continue();
  });
  await tally.navigate(page, ROOM);
  const link = page.getByRole('link', { name: 'plain sheet' });
  await expect(link).toBeVisible();
  await page.route('**/*.js', async (route) => {
    await sheet;
    await route.continue();
  });
  await link.click();
  const listed = page.waitForResponse('**/arrivals');
  listComes();
  await listed;
  await expect(page.locator('[id^=row-]').first()).toBeVisible();
  sheetComes();
  await expect(page).toHaveURL(/sheet$/);
  await expect(page.getByLabel('Achterberg, Ruben', { exact: true })).toBeVisible();
});
