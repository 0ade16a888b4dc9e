import type { Page } from '@playwright/test';
import { accessibilityFaults } from './axe';
import { cellOf, expect, test, WETLAND, type Tally } from './tally';

const ROOM = `/book/${WETLAND}/marking/soil-pit`;

/** The marking room at one student's work. */
async function openRoom(page: Page, tally: Tally, family: string): Promise<string> {
  const id = await tally.enrolment(family);
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `${ROOM}?student=${id}`);
  await expect(page.getByRole('heading', { level: 1 })).toContainText(family);
  await expect(page.locator('lt-ruler')).toBeVisible();
  return id;
}

async function openSlip(page: Page, tally: Tally, login = 'farrelly'): Promise<void> {
  await tally.letIn(page, login);
  await tally.navigate(page, `/my/${WETLAND}?slip=soil-pit`);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Soil pit');
}

test('from the marking room a slip is with its student in two actions, whole, and what is typed last comes along', async ({
  page,
  tally,
  another,
}) => {
  const student = await another();
  await openSlip(student, tally);
  await expect(student.getByText('Your score stands here once your teacher has released it.')).toBeVisible();

  await tally.navigate(student, '/my');

  await openRoom(page, tally, 'Farrelly');
  await page.locator('lt-end-note [contenteditable=true]').click();
  await page.keyboard.type('Clear drawing. Name the horizons.');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('1 student will see their score with its working, rubric and feedback');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('Farrelly, Con sees it now.');
  await expect(dialog).toHaveCount(0);

  await tally.navigate(student, `/my/${WETLAND}?slip=soil-pit`);
  const slip = student.locator('lt-slip-view');
  await expect(slip).toContainText('released 24 Nov 09:00 by R. Aldous');
  await expect(slip.getByRole('heading', { name: 'Rubric' })).toBeVisible();
  await expect(slip).toContainText('Together 20 of 20.');
  await expect(slip).toContainText('Clear drawing. Name the horizons.');
  await expect(slip).toContainText('Marked by R. Aldous.');
  await slip.getByRole('button', { name: 'all levels of Profile drawing' }).click();
  await expect(slip.locator('ol li.reached')).toHaveCount(1);
  await expect(slip.getByText('new', { exact: true })).toBeVisible();
  await student.reload();
  await expect(slip.getByRole('heading', { name: 'Rubric' })).toBeVisible();
  await expect(slip.getByText('new', { exact: true })).toHaveCount(0);

  // Staff see that it was opened.
  await tally.navigate(page, `/book/${WETLAND}/release?assessment=soil-pit`);
  const row = page.locator('.rows').getByRole('row', { name: /Farrelly/ });
  await expect(row).toContainText('all of it');
  await expect(row).toContainText('opened 24 Nov 09:00');
});

test('feedback is released without its score, changed, released again, and withdrawn with who had looked @long', async ({
  page,
  tally,
  another,
}) => {
  await openRoom(page, tally, 'Farrelly');
  await page.locator('lt-end-note [contenteditable=true]').click();
  await page.keyboard.type('First words.');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'release …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('checkbox', { name: 'score' }).uncheck();
  await dialog.getByRole('checkbox', { name: 'rubric' }).uncheck();
  await expect(dialog).toContainText('1 student will see their feedback. Nobody');
  await dialog.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page.locator('footer output')).toContainText('sees it now.');

  const student = await another();
  await openSlip(student, tally);
  await expect(student.locator('lt-slip-view')).toContainText('Feedback came back; your score is not released yet.');
  await expect(student.locator('lt-slip-view')).toContainText('First words.');
  await expect(student.getByRole('heading', { name: 'Rubric' })).toHaveCount(0);

  await page.locator('lt-end-note [contenteditable=true]').click();
  await page.keyboard.press('Control+End');
  await page.keyboard.type(' And more.');
  await page.keyboard.press('Escape');
  await expect(page.getByText('not kept yet')).toBeHidden();
  await tally.navigate(page, `/book/${WETLAND}/release?assessment=soil-pit`);
  const row = page.locator('.rows').getByRole('row', { name: /Farrelly/ });
  await expect(row).toContainText('an earlier form');
  await student.reload();
  await expect(student.locator('lt-slip-view')).toContainText('First words.');
  await expect(student.locator('lt-slip-view')).not.toContainText('And more.');

  await page.getByRole('button', { name: 'nobody' }).click();
  await page.getByRole('checkbox', { name: 'Farrelly, Con' }).check();
  await page.keyboard.press('Control+Enter');
  await dialog.getByRole('checkbox', { name: 'rubric' }).uncheck();
  await dialog.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(row).toContainText('score, feedback alone');
  await expect(student.locator('lt-slip-view')).toContainText('First words. And more.');

  await page.getByRole('checkbox', { name: 'Farrelly, Con' }).check();
  await page.getByRole('button', { name: 'Withdraw from 1 …' }).click();
  await expect(dialog).toContainText('1 of them has opened it already: Farrelly, Con.');
  await dialog.getByRole('button', { name: 'Withdraw' }).click();
  await expect(row).toContainText('nothing yet');
  // Gone from the page that is open, too.
  await expect(student.getByText('Your score stands here once your teacher has released it.')).toBeVisible();
});

test('notes on the work are read where they stand, on a phone too, and only once they are released @long', async ({
  page,
  tally,
  another,
}) => {
  await openRoom(page, tally, 'Farrelly');
  await expect(page.locator('lt-work-view [data-drawn]')).toBeVisible();
  await page.locator('lt-margin').getByRole('button', { name: 'note', exact: true }).click();
  await page.locator('lt-work-view [data-drawn]').click({ position: { x: 160, y: 120 } });
  await page.getByRole('combobox', { name: 'What you say of it' }).fill('Which horizon?');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByRole('dialog')).toContainText('and feedback');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('sees it now.');

  const phone = await another({ viewport: { width: 390, height: 844 } });
  await openSlip(phone, tally);
  await expect(phone.getByRole('heading', { name: 'Feedback' })).toBeVisible();
  expect(await accessibilityFaults(phone)).toEqual([]);
  await phone.getByRole('button', { name: 'see them where they stand' }).click();
  const work = phone.locator('lt-marked-work');
  await expect(work.locator('[data-drawn]')).toBeVisible();
  await expect(work.locator('[data-mark]').first()).toBeVisible();
  const said = work.getByRole('list', { name: 'Said of it' }).getByRole('button', { name: /Which horizon/ });
  await said.click();
  await expect(said).toHaveAttribute('aria-pressed', 'true');
  expect(await accessibilityFaults(phone)).toEqual([]);
});

test('a release is planned for a moment, seen by whoever looks, called off, and done by itself once its moment comes @line-cut @long', async ({
  page,
  tally,
  another,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/release?assessment=check-2`);
  await expect(page.locator('aside')).toContainText('2 of 21 students picked');
  const dialog = page.getByRole('dialog');
  await page.keyboard.press('Control+Enter');
  await expect(dialog).toContainText('2 students will see');
  expect(await accessibilityFaults(page)).toEqual([]);
  // The calendar lies where there is room for it and has the keys; Esc leaves it, and the dialog stays.
  await dialog.getByRole('button', { name: 'Pick a day: When' }).click();
  const calendar = page.locator('p-datepicker');
  await expect(calendar.locator('[data-date="2026-10-24"]')).toBeFocused();
  await expect(calendar).toBeInViewport({ ratio: 1 });
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'When' })).toHaveValue('25 Nov 09:00');
  await expect(calendar.locator('[data-date="2026-10-25"]')).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(calendar).toBeHidden();
  await expect(dialog.getByRole('button', { name: 'Pick a day: When' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  const planFor = async (when: string): Promise<void> => {
    await page.keyboard.press('Control+Enter');
    await expect(dialog).toContainText('2 students will see');
    await dialog.getByRole('textbox', { name: 'When' }).fill(when);
    await dialog.getByRole('button', { name: /^Plan it for/ }).click();
    await expect(dialog).toHaveCount(0);
  };
  await planFor('26 Nov 8:00');
  const planned = page.locator('lt-planned-list');
  await expect(planned).toContainText('26 Nov 08:00');
  await expect(planned).toContainText('Check 2: score, rubric and feedback');
  await expect(planned).toContainText('to 2 students, by R. Aldous');
  await planned.getByRole('button', { name: /call off/ }).click();
  await expect(planned.getByRole('listitem')).toHaveCount(0);

  await page.getByRole('button', { name: 'all that is new' }).click();
  await planFor('25 Nov 8:00');
  await expect(planned.getByRole('listitem')).toHaveCount(1);
  const [first] = await tally.rows<{ enrolments: string[] }>(
    'select enrolments from planned_release where called_off_at is null',
  );
  // Its student has the page open.
  const [{ login }] = (await tally.rows<{ login: string }>(
    'select p.login from enrolment e join person p on p.id = e.person where e.id = $1',
    [first!.enrolments[0]],
  )) as [{ login: string }];
  const student = await another();
  await tally.letIn(student, login);
  await tally.navigate(student, `/my/${WETLAND}?slip=check-2`);
  await expect(student.locator('lt-slip-view')).toContainText('released 14 Nov');
  await tally.kill();
  await tally.restart();
  await tally.setClock('2026-11-25T08:00:30Z');
  await expect(student.locator('lt-slip-view')).toContainText('released 25 Nov', { timeout: 60_000 });
  await expect(planned.getByRole('listitem')).toHaveCount(0, { timeout: 30_000 });
  expect(
    await tally.rows(
      `select count(*)::int as n from released_entry where assessment = 'check-2' and released_at > '2026-11-25'`,
    ),
  ).toEqual([{ n: 2 }]);
});

test('in the ledger a score is typed and released to its student alone, the rest of the column after it, and withdrawn @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const id = await tally.enrolment('Farrelly');
  const seen = (): Promise<{ enrolment: string }[]> =>
    tally.rows(
      `select enrolment from released_entry where book = $1 and assessment = 'level-staff' and withdrawn_at is null`,
      [WETLAND],
    );
  await (await cellOf(page, 'Farrelly', 'Level & staff')).click();
  await page.keyboard.type('8 /release');
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('1 student will see their score with its working');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('1 student sees it now.');
  expect(await seen()).toEqual([{ enrolment: id }]);
  expect(
    await tally.rows(`select score::float as score from attempt where assessment = 'level-staff' and enrolment = $1`, [
      id,
    ]),
  ).toEqual([{ score: 8 }]);

  // The keys are with the grid again: the whole column, and its release.
  await page.keyboard.press('Control+Space');
  await page.keyboard.type('/release');
  await page.keyboard.press('Enter');
  await expect(dialog).toContainText('2 students without a score will see that there is none yet');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('21 students see it now.');
  expect(await seen()).toHaveLength(21);

  await page.keyboard.type('/withdraw');
  await page.keyboard.press('Enter');
  await expect(dialog).toContainText('It is hidden at once from 21 students. None of them has opened it.');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('21 students do not see it any more.');
  expect(await seen()).toEqual([]);
});

test('what a colleague changes while a release is looked at is not released unseen @long', async ({ page, tally }) => {
  const id = await openRoom(page, tally, 'Farrelly');
  await page.keyboard.press('Control+Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('1 student will see');
  const elsewhere = await tally.as('aldous');
  const [{ version }] = (await tally.rows<{ version: number }>(
    `select version from entry where assessment = 'soil-pit' and enrolment = $1`,
    [id],
  )) as [{ version: number }];
  await elsewhere('PUT', `/books/${WETLAND}/entries/soil-pit/${id}`, { version, change: { kind: 'score', points: 3 } });
  await page.keyboard.press('Control+Enter');
  await expect(dialog.getByRole('alert')).toContainText('became another after you looked. Nothing was released');
  expect(
    await tally.rows(`select 1 from released_entry where assessment = 'soil-pit' and enrolment = $1`, [id]),
  ).toEqual([]);
  await expect(dialog.getByRole('button', { name: 'Release', exact: true })).toBeEnabled();
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('sees it now.');
});
