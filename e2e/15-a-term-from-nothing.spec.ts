import type { Page } from '@playwright/test';
import { documentOf, expectFigures, rows, standings } from './exception-figures';
import { signOut } from './sign-out';
import { chooseOption, expect, test } from './tally';

const PASSWORD = 'long-enough-1';
const CLASS = [
  ['T01', 'Ainsley', 'Brook', 'North'],
  ['T02', 'Dunmore', 'Fenella', 'North'],
  ['T03', 'Garrick', 'Hollis', 'North'],
  ['T04', 'Imrie', 'Jocelyn', 'South'],
  ['T05', 'Kestrel', 'Lowell', 'South'],
  ['T06', 'Merrow', 'Niamh', 'South'],
];
const WORK = [
  'Moss count, 20, Field work, 6 Nov',
  'Reed count, 20, Field work, 13 Nov',
  'Pond dip, 20, Field work, 20 Nov',
  'Check 1, 10, Checks, 3 Nov',
  'Check 2, 10, Checks, 10 Nov',
  'Check 3, 10, Checks, 17 Nov',
  'Level, 25, Practicals, 5 Nov',
  'Auger, 25, Practicals, 12 Nov',
  'Texture, 25, Practicals, 19 Nov',
  'Plan, 40, Survey, 9 Nov',
  'Survey, 100, Survey, 16 Dec',
  'Talk, 10, Survey, 18 Dec, extra credit',
];

async function choose(page: Page, label: string, option: string): Promise<void> {
  await page
    .locator('p-multiselect')
    .filter({ has: page.getByLabel(label) })
    .click();
  await page.getByRole('option', { name: option, exact: true }).click();
  await page.keyboard.press('Escape');
}

test.describe('from an empty database', () => {
  test.use({ empty: true });

  test(
    'a term is set up, and every student’s own case is kept and ended',
    { tag: '@long' },
    async ({ page, tally, another }) => {
      test.setTimeout(600_000);
      // The first page makes the school, its administrator and its first term, with the code that was printed.
      await tally.navigate(page, '/desk');
      await expect(page).toHaveURL(/\/begin$/);
      await page.getByLabel('The code').fill('E 2 E');
      await page.getByLabel('What it is called').first().fill('Tarn School');
      await page.getByLabel('Given name').fill('Una');
      await page.getByLabel('Family name').fill('Office');
      await page.getByLabel('Sign-in name').fill('office');
      await page.getByLabel('Password, at least eight characters').fill(PASSWORD);
      await page.getByLabel('The same once more').fill(PASSWORD);
      await page.getByLabel('What it is called').last().fill('Autumn 2026');
      await page.getByLabel('From', { exact: true }).fill('1 Sep 2026');
      await expect(page.getByText('The term has a first and a last day.')).toBeVisible();
      await page.getByLabel('To', { exact: true }).fill('20 Dec 2026');
      await page.getByRole('button', { name: 'Make the school' }).click();
      await expect(page.getByRole('heading', { name: 'Tarn School is made' })).toBeVisible();
      await page.getByRole('button', { name: 'To the office' }).click();
      await tally.setClock('2026-11-24T09:00:00Z');
      await signOut(page);
      await page.goto(`${tally.address}/begin`);
      await expect(page).toHaveURL(/sign-in/);
      const signIn = async (login: string): Promise<void> => {
        await tally.navigate(page, '/sign-in');
        await page.getByLabel('Sign-in name').fill(login);
        await page.getByLabel('Password').fill(PASSWORD);
        await page.getByRole('button', { name: 'Sign in' }).click();
        await expect(page).not.toHaveURL(/sign-in/);
      };

      // The office makes another term and invites a teacher and a marker.
      await signIn('office');
      await page.getByRole('button', { name: 'make a term' }).click();
      await page.getByLabel('Title').fill('Spring 2026');
      await page.getByLabel('First day of the term', { exact: true }).fill('2026-01-12');
      await page.getByLabel('Last day of the term', { exact: true }).fill('2026-05-29');
      await page.getByRole('button', { name: 'Make the term' }).click();
      await expect(page.locator('footer')).toContainText('Spring 2026 is made.');
      await page.getByRole('button', { name: 'add staff' }).click();
      await page.getByLabel(/^One to a line/).fill('Rosamund Aldous\nPerran Quigg');
      await page.getByRole('button', { name: 'Add and invite them' }).click();
      const invited = page.getByRole('region', { name: 'Invitations' }).locator('code');
      await expect(invited).toHaveCount(2);
      const links = await invited.allTextContents();

      // They choose their passwords; a link works once.
      const other = await another();
      for (const link of links) {
        await other.goto(link);
        await other.getByLabel('Password, at least eight characters').fill(PASSWORD);
        await other.getByLabel('The same once more').fill(PASSWORD);
        await other.getByRole('button', { name: 'Keep it' }).click();
        await expect(other.getByText(/Your sign-in name is/)).toBeVisible();
      }
      await other.goto(links[0]!);
      await other.reload();
      await other.getByLabel('Password, at least eight characters').fill('another-one-2');
      await other.getByLabel('The same once more').fill('another-one-2');
      await other.getByRole('button', { name: 'Keep it' }).click();
      await expect(other.getByText('This invitation was used already')).toBeVisible();
      await other.context().close();
      await signOut(page);

      // The teacher makes a book, and takes the marker onto it.
      await signIn('aldous');
      await page.getByRole('link', { name: 'make a book' }).first().click();
      await page.getByLabel('Title').fill('Wetland Survey');
      await page.getByLabel(/^Sections/).fill('North, South');
      await page.getByLabel('Categories with their weights').fill('Field work 40, Checks 20, Practicals 20, Survey');
      await expect(page.getByRole('alert')).toHaveText(
        '“Survey” is no category with its weight, such as “Field work 40”.',
      );
      await page.getByLabel('Categories with their weights').fill('Field work 40, Checks 20, Practicals 20, Survey 20');
      await page.getByRole('button', { name: 'Make the book' }).click();
      await expect(page).toHaveURL(/\/people$/);
      const book = new URL(page.url()).pathname.split('/')[2]!;
      await page.getByLabel(/^Add somebody by their sign-in name/).fill('quigg');
      await page.getByRole('button', { name: 'Add', exact: true }).click();
      await expect(page.getByLabel('Role of P. Quigg')).toHaveText('marker');

      // Students are pasted: what becomes of each line is said before anything is done.
      await page.getByRole('button', { name: 'Add students …' }).click();
      const list = page.getByLabel(/^One student to a line/);
      await list.fill([...CLASS, CLASS[0]!].map((s) => s.join('\t')).join('\n'));
      await expect(page.getByRole('status').filter({ hasText: '6 new, 1 left out' })).toBeVisible();
      await page.getByRole('button', { name: 'Keep 6' }).click();
      await expect(page.locator('tbody tr')).toHaveCount(6);
      expect(await tally.rows('select count(*)::int as n from enrolment where book = $1', [book])).toEqual([{ n: 6 }]);

      // Twelve assessments in four categories, one line each.
      await page.getByRole('link', { name: 'Assessments' }).click();
      const line = page.getByRole('textbox', { name: /^A new assessment/ });
      for (const work of WORK) {
        await line.fill(work);
        await page.keyboard.press('Enter');
        await expect(page.locator('footer')).toContainText(`${work.split(',')[0]} is made.`);
      }
      const document = await documentOf(page, tally, book);
      expect(document.tree.children.map((g) => (g.type === 'group' ? [g.weight, g.children.length] : []))).toEqual([
        [40, 3],
        [20, 3],
        [20, 3],
        [20, 3],
      ]);

      // Scores for the whole class in three columns, by keyboard alone.
      await page.getByRole('link', { name: 'Ledger' }).click();
      await expect(page.locator('.row')).toHaveCount(6);
      await page.getByRole('grid').focus();
      for (const [col, scores] of [
        [0, [12, 15, 18, 9, 16, 20]],
        [3, [7, 9, 4, 10, 6, 8]],
        [6, [20, 11, 25, 17, 14, 22]],
      ] as const) {
        for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowUp');
        await page.keyboard.press('Home');
        for (let i = 0; i < col; i++) await page.keyboard.press('ArrowRight');
        for (const score of scores) {
          await page.keyboard.type(String(score));
          await page.keyboard.press('Enter');
        }
      }
      await expect
        .poll(
          async () => (await tally.rows('select 1 from attempt where book = $1 and score is not null', [book])).length,
        )
        .toBe(18);
      const idOf = async (table: string, column: string, value: string): Promise<string> => {
        const sql =
          table === 'assessment'
            ? 'select id from assessment where book = $1 and title = $2'
            : 'select e.id from enrolment e join person p using (school) where e.person = p.id and e.book = $1 and p.family = $2';
        return (await tally.rows<{ id: string }>(sql, [book, value]))[0]!.id;
      };
      const [brook, moss] = [
        await idOf('enrolment', 'family', 'Ainsley'),
        await idOf('assessment', 'title', 'Moss count'),
      ];
      const begun = standings(await documentOf(page, tally, book));

      // Every kind for one, for some, and for a whole class; each is ended again.
      const kinds: [label: string, value: string, kinds: string[]][] = [
        ['excused', '', ['excused']],
        ['missing, by hand', '', ['missing']],
        ['still awaited', '', ['awaiting']],
        ['own due date', '+10', ['extension']],
        ['open again', '1 Dec 17:00', ['extension']],
        ['late allowance', '2', ['allowance']],
        ['lateness waived', '', ['waiver']],
        ['score set', '50%', ['set']],
        ['zero that stays', '', ['set', 'protected']],
        ['always kept', '', ['protected']],
        ['extra time everywhere', '24', ['extra-time']],
        ['final grade set', '71.5', ['override']],
      ];
      for (const [label, value, made] of kinds)
        for (const scope of ['one', 'some', 'whole'] as const) {
          const whole = ['extra-time', 'override'].includes(made[0]!);
          const query = `${scope === 'whole' ? '' : `student=${brook}&`}assessment=${moss}`;
          await page.goto(`${tally.address}/book/${book}/exceptions?${query}`);
          await page.locator('p-select').click();
          await page.getByRole('option', { name: label, exact: true }).click();
          if (scope === 'some') {
            await choose(page, 'For whom', 'Imrie, Jocelyn');
            if (!whole) await choose(page, 'On which assessments', 'Check 1');
          }
          if (scope === 'whole') await page.getByRole('button', { name: 'everybody' }).click();
          if (label === 'open again') await page.getByRole('textbox', { name: 'Open again until' }).fill(value);
          else if (value) await page.getByLabel(/^Value/).fill(value);
          await page.getByLabel('because').fill(`${label}, for ${scope}`);
          const students = { one: 1, some: 2, whole: 6 }[scope];
          const cells = whole ? students : { one: 1, some: 4, whole: 6 }[scope];
          await expect(page.locator('.says b')).toContainText(
            whole ? new RegExp(`^${students} students?$`) : new RegExp(`^${cells} cells?,`),
          );
          await page.keyboard.press('Control+Enter');
          await expect(rows(page)).toHaveCount(cells * made.length);
          await expect(rows(page).locator('.why').first()).toHaveText(`${label}, for ${scope}`);
          await expect(rows(page).locator('.since').first()).toContainText('R. Aldous');
          await expectFigures(page, tally, book);
          for (let left = cells * made.length; left > 0; left--) {
            await rows(page).first().focus();
            await page.keyboard.press('Delete');
            await expect(rows(page)).toHaveCount(left - 1);
          }
          expect(standings(await documentOf(page, tally, book))).toEqual(begun);
        }

      // What the ledger shows is what the core says of the kept book.
      await page.getByRole('link', { name: 'Ledger' }).click();
      for (const [, family] of CLASS)
        await expect(
          page
            .locator('.row')
            .filter({ hasText: `${family},` })
            .locator('.standing b'),
        ).toHaveText(begun[await idOf('enrolment', 'family', family!)]!);

      // Moved to the other section with their scores; the dates of both stand there.
      await page.getByRole('link', { name: 'People' }).click();
      await page.getByLabel('Ainsley, Brook').check();
      await chooseOption(page, 'Move to a section', 'South');
      await expect(page.locator('tr', { hasText: 'Ainsley' })).toContainText(/South since .+; North .+ to /);
      // The list may be there before the answer, which lets go of who was chosen.
      await expect(page.getByLabel('Ainsley, Brook')).not.toBeChecked();
      expect(standings(await documentOf(page, tally, book))).toEqual(begun);
      await page.getByLabel('Ainsley, Brook').check();
      await page.getByRole('button', { name: 'out of the book' }).click();
      await expect(page.locator('tbody tr')).toHaveCount(5);
      expect(Object.keys(standings(await documentOf(page, tally, book)))).toHaveLength(5);
      await page.getByLabel('the 1 who left').check();
      await page.getByLabel('Ainsley, Brook').check();
      await page.getByRole('button', { name: 'back in' }).click();
      await page.getByLabel(/who left/).waitFor({ state: 'detached' });
      await expect.poll(async () => standings(await documentOf(page, tally, book))).toEqual(begun);
    },
  );
});
