import type { Page } from '@playwright/test';
import { STAFF_PASSWORD } from '../demo/accounts.mjs';
import { cellOf, expect, test, type Tally } from './tally';

const BOOK = 'orchard-practice';
const TITLE = 'Orchard plan';

interface Held {
  family: string;
  score: number | null;
  state: string | null;
}

/** What the database holds of an assessment, by student. */
const held = (tally: Tally, families: string[]): Promise<Held[]> =>
  tally.rows<Held>(
    `select p.family, a.score::float as score, e.state from enrolment n
       join person p on p.school = n.school and p.id = n.person
       left join entry e on e.school = n.school and e.book = n.book and e.enrolment = n.id and e.assessment = 'orchard-plan'
       left join attempt a on a.school = e.school and a.book = e.book and a.assessment = e.assessment and a.enrolment = e.enrolment
     where n.book = $1 and p.family = any($2) order by p.family`,
    [BOOK, families],
  );
const scores = async (tally: Tally, families: string[]): Promise<(number | string | null)[]> =>
  (await held(tally, families)).map((h) => h.state ?? h.score);
const lines = async (tally: Tally): Promise<number> =>
  (await tally.rows<{ n: number }>(`select count(*)::int as n from journal where book = $1`, [BOOK]))[0]!.n;

async function copy(page: Page, text: string): Promise<void> {
  await page.evaluate((t) => navigator.clipboard.writeText(t), text);
}

test('a day by keyboard alone', { tag: ['@line-cut', '@long'] }, async ({ page, tally, another }) => {
  test.setTimeout(180_000);
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  const key = page.keyboard;
  const foot = page.locator('footer output');
  const type = async (text: string): Promise<void> => {
    await key.type(text);
    await key.press('Enter');
  };

  // Sign in, and straight to the column by the line that jumps anywhere.
  await tally.navigate(page, '/sign-in');
  await page.getByLabel('Sign-in name').focus();
  await key.type('aldous');
  await key.press('Tab');
  await type(STAFF_PASSWORD);
  await expect(page).toHaveURL(/desk/);
  await key.press('Control+k');
  await key.type('orchard pr');
  await expect(page.getByRole('option').first()).toContainText('Orchard Practice');
  await key.press('Enter');
  await expect(page.locator('.standing b').first()).not.toBeEmpty();
  await key.press('Control+k');
  await key.type('orchard plan');
  await expect(page.getByRole('option').first()).toContainText(TITLE);
  await key.press('Enter');
  await expect(foot).toContainText(TITLE);
  const families = await page.locator('.row .name b').evaluateAll((all) =>
    all.map((e) => ({
      family: e.textContent!.split(',')[0]!,
      row: Number(e.closest('[role=row]')!.getAttribute('aria-rowindex')),
    })),
  );
  const names = families.sort((a, b) => a.row - b.row).map((f) => f.family);
  const cell = (i: number) => cellOf(page, names[i]!, TITLE);
  const ofRows = (...rows: number[]) =>
    scores(
      tally,
      rows.map((r) => names[r]!),
    );
  await expect(page.getByRole('grid')).toBeFocused();
  await key.press('Control+Home');
  await key.press('End');
  await key.press('ArrowLeft');
  await expect(foot).toContainText(`${names[0]!}`);

  // Scores down the class: points, a percentage, a fraction, a state, and one that cannot be read.
  for (const text of ['31', '80%', '17/20', 'ex']) await type(text);
  await type('7..');
  await expect(page.getByText('“7..” is not a score, a percentage, a fraction or a state.')).toBeVisible();
  await key.press('Enter');
  await expect(await cell(4)).toHaveText('7..');
  await expect(await cell(4)).toHaveAttribute('aria-label', /cannot be read; kept now: nothing/);
  await expect.poll(() => ofRows(0, 1, 2, 3, 4)).toEqual([31, 40, 42.5, 'excused', null]);
  await key.press('ArrowUp');
  await type('45');
  await expect(await cell(4)).toHaveText('45.0');
  await expect.poll(() => ofRows(4)).toEqual([45]);

  // A paste over two that are there: shown first, then made as one.
  const before = await lines(tally);
  await key.press('Control+Home');
  await key.press('End');
  await key.press('ArrowLeft');
  await copy(page, '32\n33\n\n34');
  await key.press('Control+v');
  await expect(page.getByRole('dialog')).toContainText('3 would overwrite');
  await key.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
  await expect(await cell(3)).toHaveText('34.0');
  await expect.poll(() => ofRows(0, 1, 2, 3)).toEqual([32, 33, 42.5, 34]);
  expect((await lines(tally)) - before).toBe(3);
  const [pasted] = await tally.rows<{ kind: string; cells: number }>(
    `select kind, cells from batch where book = $1 order by made_at desc limit 1`,
    [BOOK],
  );
  expect(pasted).toEqual({ kind: 'paste', cells: 3 });

  // A fill of what is empty needs no question.
  await expect(page.getByRole('grid')).toBeFocused();
  for (let i = 0; i < 5; i++) await key.press('ArrowDown');
  await type('35');
  await key.press('ArrowUp');
  for (let i = 0; i < 3; i++) await key.press('Shift+ArrowDown');
  await expect(foot).toContainText('4 cells selected');
  await type('/down');
  await expect(await cell(8)).toHaveText('35.0');
  await expect.poll(() => ofRows(5, 6, 7, 8)).toEqual([35, 35, 35, 35]);

  // The undo of it after the page was loaded anew: the journal knows what was last.
  await page.reload();
  await expect(page.locator('.standing b').first()).not.toBeEmpty();
  await expect(page.getByRole('grid')).toBeFocused();
  await key.press('Control+z');
  await expect(foot).toContainText('Put back: 3 cells');
  await expect(await cell(8)).toHaveText('');
  await expect(await cell(5)).toHaveText('35.0');
  expect(await ofRows(5, 6, 7, 8)).toEqual([35, null, null, null]);
  await key.press('Control+y');
  await expect(foot).toContainText('Made again: 3 cells');
  expect(await ofRows(5, 6, 7, 8)).toEqual([35, 35, 35, 35]);
  await key.press('Control+z');
  await expect(await cell(8)).toHaveText('');

  // The line drops; what is typed is shown as not kept, and is kept when it comes back.
  await key.press('Control+Home');
  await key.press('End');
  await key.press('ArrowLeft');
  for (let i = 0; i < 9; i++) await key.press('ArrowDown');
  await page.context().setOffline(true);
  await type('41');
  await expect(await cell(9)).toHaveAttribute('aria-label', /not kept yet/);
  await expect(foot).toContainText('not kept yet');
  expect(await ofRows(9)).toEqual([null]);
  await page.context().setOffline(false);
  await expect.poll(() => ofRows(9), { timeout: 60_000 }).toEqual([41]);
  await expect(await cell(9)).not.toHaveAttribute('aria-label', /not kept yet/);

  // Two people on one cell while one of them has no line: both values are shown, and one is chosen.
  const other = await another();
  await tally.letIn(other, 'penhale');
  await tally.navigate(other, `/book/${BOOK}/ledger`);
  await expect(other.locator('.standing b').first()).not.toBeEmpty();
  await page.context().setOffline(true);
  await type('11');
  await expect(await cell(10)).toHaveAttribute('aria-label', /not kept yet/);
  const theirs = await cellOf(other, names[10]!, TITLE);
  await theirs.click();
  await other.keyboard.type('20');
  await other.keyboard.press('Enter');
  await expect.poll(() => ofRows(10)).toEqual([20]);
  await page.context().setOffline(false);
  await expect(await cell(10)).toHaveText('which?', { timeout: 60_000 });
  expect(await ofRows(10)).toEqual([20]);
  await key.press('ArrowUp');
  await expect(page.getByRole('alert')).toContainText('yours 11');
  await expect(page.getByRole('alert')).toContainText('theirs 20');
  await type('/mine');
  await expect(await cell(10)).toHaveText('11.0');
  await expect.poll(() => ofRows(10)).toEqual([11]);
  // The other sees it without doing anything.
  await expect(theirs).toHaveText('11.0');

  // Back in the journal: the paste is put back whole, with the reason, though two of its cells were typed over since.
  await key.press('Control+k');
  await type('journal');
  await expect(page.getByRole('heading', { name: 'Journal' })).toBeVisible();
  const paste = page.locator('li').filter({ has: page.locator('.what', { hasText: '3 cells pasted' }) });
  await expect(paste).toHaveCount(1);
  for (let i = 0; i < 40 && !(await paste.locator('.what').evaluate((e) => e === document.activeElement)); i++)
    await key.press('ArrowDown');
  await expect(paste.locator('.what')).toBeFocused();
  await key.press('Tab');
  await key.press('Enter');
  await expect(page.getByRole('dialog')).toContainText('3 would be again');
  await expect(page.getByLabel('Why (stands in the journal)')).toBeFocused();
  await type('pasted into the wrong class');
  await expect(foot).toContainText('Put back: 3 cells pasted');
  expect(await ofRows(0, 1, 2, 3)).toEqual([31, 40, 42.5, 'excused']);
  await expect(paste).toContainText('put back');
  await expect(page.locator('li').first()).toContainText('pasted into the wrong class');
  await key.press('Control+k');
  await type('ledger');
  await expect(await cell(0)).toHaveText('31.0');
  await expect(await cell(3)).toHaveText('excused');
});
