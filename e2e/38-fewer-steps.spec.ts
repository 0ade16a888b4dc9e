import { readFile } from 'node:fs/promises';
import type { Locator, Page } from '@playwright/test';
import { accessibilityFaults } from './axe';
import { cellOf, expect, test, WETLAND, type Tally } from './tally';

/**
 * What a person does, counted: a click, a chord of keys, a choice, a text typed in one go with the Enter that ends it.
 * From the desk, signed in, with the book opened as the first of them.
 */
class Steps {
  count = 0;
  constructor(readonly page: Page) {}

  async click(what: Locator, modifiers: 'Shift'[] = []): Promise<void> {
    this.count++;
    await what.click({ modifiers });
  }

  async press(chord: string): Promise<void> {
    this.count++;
    await this.page.keyboard.press(chord);
  }

  async type(text: string): Promise<void> {
    this.count++;
    await this.page.keyboard.type(text);
    await this.page.keyboard.press('Enter');
  }

  /** A text that Ctrl+Enter makes true, which is an action of its own. */
  async typeAndMake(text: string): Promise<void> {
    this.count += 2;
    await this.page.keyboard.type(text);
    await this.page.keyboard.press('Control+Enter');
  }
}

const head = (page: Page, title: string): Locator =>
  page.locator('.title').filter({ has: page.locator('b', { hasText: new RegExp(`^${title}$`) }) });
const said = (page: Page): Locator => page.locator('footer output');
/** What the word in the line would do, beside the sheet. */
const before = (page: Page): Locator => page.locator('lt-act-box');

async function fromDesk(page: Page, tally: Tally): Promise<Steps> {
  await tally.signIn(page, 'aldous');
  const steps = new Steps(page);
  await steps.click(page.locator('a.book', { hasText: 'Wetland Survey Methods' }));
  await expect(page.locator('.standing b').first()).not.toBeEmpty();
  return steps;
}

const released = (tally: Tally, assessment: string): Promise<{ n: number }[]> =>
  tally.rows(
    `select count(*)::int as n from released_entry where book = $1 and assessment = $2 and withdrawn_at is null`,
    [WETLAND, assessment],
  );

test('a score typed and released to its student alone, the rest of the column later, its scores as a file: 8', async ({
  page,
  tally,
}) => {
  const steps = await fromDesk(page, tally);
  await steps.click(await cellOf(page, 'Farrelly', 'Level & staff'));
  await steps.type('8 /release');
  await expect(page.getByRole('dialog')).toContainText('1 student will see');
  await steps.press('Control+Enter');
  await expect(said(page)).toContainText('1 student sees it now.');
  expect(await released(tally, 'level-staff')).toEqual([{ n: 1 }]);
  await steps.click(head(page, 'Level & staff'));
  await steps.type('/release');
  await expect(page.getByRole('dialog')).toContainText('19 students will see');
  await steps.press('Control+Enter');
  await expect(said(page)).toContainText('21 students see it now.');
  const file = page.waitForEvent('download');
  await steps.type('/save');
  const text = await readFile(await (await file).path(), 'utf8');
  expect(text).toContain('Level & staff (of 25)');
  expect(text).not.toContain('Soil pit');
  expect(steps.count).toBeLessThanOrEqual(8);
});

test('an assessment from 20 to 50 points, one student scored 45, released: 8 @long', async ({ page, tally }) => {
  const steps = await fromDesk(page, tally);
  await steps.click(await cellOf(page, 'Farrelly', 'Soil pit'));
  await page.keyboard.type('/points 50');
  await expect(before(page)).toContainText('Out of 50, no longer 20.');
  await expect(before(page)).toContainText('10 of 20 becomes 10 of 50');
  await expect(before(page)).toContainText(/standings? changes?/);
  expect(await accessibilityFaults(page)).toEqual([]);
  // No bare key does it.
  await page.keyboard.press('Enter');
  await expect(page.getByText('No bare key does it.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(before(page)).toHaveCount(0);
  await steps.typeAndMake('/points 50');
  await expect(said(page)).toContainText('Soil pit: out of 50 now.');
  await steps.type('45 /release');
  await expect(page.getByRole('dialog')).toContainText('1 student will see');
  await steps.press('Control+Enter');
  await expect(said(page)).toContainText('1 student sees it now.');
  expect(await tally.rows(`select points::float as points from assessment where id = 'soil-pit'`)).toEqual([
    { points: 50 },
  ]);
  expect(steps.count).toBeLessThanOrEqual(8);
});

test('two assessments released together, one of them withdrawn again: 8 @long', async ({ page, tally }) => {
  const steps = await fromDesk(page, tally);
  await steps.click(head(page, 'Soil pit'));
  await steps.click(head(page, 'pH bench'), ['Shift']);
  await steps.type('/release');
  const dialog = page.getByRole('dialog', { name: 'Release Soil pit and pH bench' });
  await expect(dialog.getByRole('heading', { name: 'pH bench' })).toBeVisible();
  expect(await accessibilityFaults(page)).toEqual([]);
  await steps.press('Control+Enter');
  await expect(said(page)).toContainText('21 students see them now.');
  expect(await released(tally, 'soil-pit')).toEqual([{ n: 21 }]);
  expect(await released(tally, 'ph-bench')).toEqual([{ n: 21 }]);
  await steps.click(head(page, 'pH bench'));
  await steps.type('/withdraw');
  await expect(page.getByRole('dialog')).toContainText('It is hidden at once from 21 students.');
  await steps.press('Control+Enter');
  await expect(said(page)).toContainText('21 students do not see it any more.');
  expect(await released(tally, 'soil-pit')).toEqual([{ n: 21 }]);
  expect(await released(tally, 'ph-bench')).toEqual([{ n: 0 }]);
  expect(steps.count).toBeLessThanOrEqual(8);
});

test('an override of a final with its reason, typed on the standing: 5; another changed it meanwhile', async ({
  page,
  tally,
}) => {
  const steps = await fromDesk(page, tally);
  const id = await tally.enrolment('Farrelly');
  const row = page.locator('.row').filter({ has: page.locator('.name b', { hasText: /^Farrelly,/ }) });
  await steps.click(row.locator('.standing'));
  await page.keyboard.type('72');
  await expect(before(page)).toContainText('72 % is the final grade, whatever is worked out.');
  await expect(before(page).getByRole('listitem')).toContainText('72.0');
  await page.keyboard.press('Escape');
  await steps.typeAndMake('72 - the board’s decision');
  await expect(said(page)).toContainText('The final grade is set for 1 student.');
  await expect(row.locator('.standing')).toContainText('72.0');
  const overrides = () => tally.rows(`select percent::float as percent from override where enrolment = $1`, [id]);
  expect(await overrides()).toEqual([{ percent: 72 }]);
  expect(steps.count).toBeLessThanOrEqual(5);

  // What somebody else sets after it was looked at is not overwritten, and what was typed stays in the line.
  await page.keyboard.type('80');
  await expect(before(page)).toContainText('80 % is the final grade');
  await expect(before(page).getByRole('listitem')).toContainText('80.0');
  const elsewhere = await tally.as('aldous');
  await elsewhere('PUT', `/books/${WETLAND}/overrides/${id}`, {
    ...{ version: 1, percent: 75, letter: null, reason: '', until: null },
  });
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Somebody else changed this override after you saw it.')).toBeVisible();
  expect(await overrides()).toEqual([{ percent: 75 }]);
  await expect(page.locator('lt-cell-editor input')).toHaveValue('80');
  await page.keyboard.press('Escape');
  await page.keyboard.type('/final');
  await page.keyboard.press('Control+Enter');
  await expect(said(page)).toContainText('The final grade is worked out again for 1 student.');
});

test('one more attempt scored, of which the better counts: 4 @long', async ({ page, tally }) => {
  const steps = await fromDesk(page, tally);
  const id = await tally.enrolment('Jansky');
  await steps.click(await cellOf(page, 'Jansky', 'pH bench'));
  await page.keyboard.type('/again 9.5');
  await expect(before(page)).toContainText('One more attempt: 9.5.');
  await expect(before(page)).toContainText('Of the attempts the best counts.');
  await page.keyboard.press('Escape');
  await steps.type('/again 9.5');
  await expect(await cellOf(page, 'Jansky', 'pH bench')).toContainText('9.5');
  await expect
    .poll(() =>
      tally.rows(
        `select score::float as score from attempt where assessment = 'ph-bench' and enrolment = $1 order by number`,
        [id],
      ),
    )
    .toEqual([{ score: 5.5 }, { score: 9.5 }]);
  expect(steps.count).toBeLessThanOrEqual(4);
});

test('a whole section excused from one assessment: 5 @long', async ({ page, tally }) => {
  const steps = await fromDesk(page, tally);
  await steps.click(page.getByRole('button', { name: 'all sections' }));
  await steps.click(page.getByRole('menuitemradio', { name: /^South/ }));
  await steps.click(head(page, 'Level & staff'));
  await page.keyboard.type('/excuse - the level was broken');
  await expect(before(page)).toContainText('Excused.');
  await expect(before(page)).toContainText(/students · Level & staff/);
  await page.keyboard.press('Escape');
  await steps.type('/excuse - the level was broken');
  const rows = () =>
    tally.rows<{ section: string; n: number }>(
      `select s.title as section, count(*)::int as n from entry e join enrolment n on n.id = e.enrolment
       join section s on s.id = n.section and s.book = e.book
       where e.assessment = 'level-staff' and e.state = 'excused' group by 1`,
    );
  const here = await tally.rows<{ n: number }>(
    `select count(*)::int as n from enrolment e join section s on s.book = e.book and s.id = e.section
     where e.book = $1 and s.title = 'South' and e.left_at is null`,
    [WETLAND],
  );
  await expect.poll(rows).toEqual([{ section: 'South', n: here[0]!.n }]);
  expect(steps.count).toBeLessThanOrEqual(5);
});

test('a ten-point assessment in the room made, one student scored, with a comment read on release: 8 @long', async ({
  page,
  tally,
  another,
}) => {
  const steps = await fromDesk(page, tally);
  await steps.type('/new');
  await expect(page.getByRole('textbox', { name: /^A new assessment/ })).toBeFocused();
  await steps.type('Presentation, 10, in the room, 4 Dec');
  await expect(said(page)).toContainText('Presentation is made.');
  await steps.click(await cellOf(page, 'Farrelly', 'Presentation'));
  await steps.type('8 /feedback A clear voice - and a good map');
  await expect(said(page)).toContainText('Added to 1 end note.');
  await steps.type('/release');
  await expect(page.getByRole('dialog')).toContainText('1 student will see their score with its working and feedback');
  await steps.press('Control+Enter');
  await expect(said(page)).toContainText('1 student sees it now.');
  expect(steps.count).toBeLessThanOrEqual(8);

  const [{ id }] = (await tally.rows<{ id: string }>(`select id from assessment where title = 'Presentation'`)) as [
    { id: string },
  ];
  const student = await another();
  await tally.letIn(student, 'farrelly');
  await tally.navigate(student, `/my/${WETLAND}?slip=${id}`);
  await expect(student.locator('lt-slip-view')).toContainText('A clear voice - and a good map');
});

test('an act is done to whom it was decided for, wherever the cursor goes while it is on its way @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const mine = await tally.enrolment('Farrelly');
  // What is asked first takes long.
  let answer = (): void => undefined;
  const held = new Promise<void>((done) => (answer = done));
  await page.route('**/exceptions', async (route) => {
    await held;
    await route.continue();
  });
  const standing = (family: string): Locator =>
    page
      .locator('.row')
      .filter({ has: page.locator('.name b', { hasText: new RegExp(`^${family},`) }) })
      .locator('.standing');
  await standing('Farrelly').click();
  await page.keyboard.type('71');
  await page.keyboard.press('Control+Enter');
  await standing('Eklund').click();
  await page.keyboard.type('33');
  answer();
  await expect(standing('Farrelly')).toContainText('71.0');
  expect(await tally.rows(`select enrolment, percent::float as percent from override`)).toEqual([
    { enrolment: mine, percent: 71 },
  ]);
  await expect(page.locator('lt-cell-editor input')).toHaveValue('33');
});
