import { cellOf, expect, standingOf, test } from './tally';

const REPORT = 'Report';

test('scores are typed down a column with the keyboard alone, and each is kept with its journal line', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const before = await standingOf(page, 'Abernethy').textContent();
  const grid = page.getByRole('grid');
  await expect(grid).toBeFocused();
  // To the last column; then digits, words completed as typed, arrows, Tab, Esc, Backspace.
  await page.keyboard.press('End');
  await page.keyboard.press('ArrowLeft');
  await expect(page.locator('footer output')).toContainText('Abernethy, Maud, Report');
  await page.keyboard.type('71');
  await page.keyboard.press('Enter');
  await page.keyboard.type('64,5');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.type('ex');
  await expect(page.locator('lt-cell-editor input')).toHaveValue('excused');
  await page.keyboard.press('Enter');
  await page.keyboard.type('mi');
  await page.keyboard.press('Enter');
  await page.keyboard.type('85%');
  await page.keyboard.press('Enter');
  await page.keyboard.type('17/20');
  await page.keyboard.press('Enter');
  await page.keyboard.type('55');
  await page.keyboard.press('Escape');
  await page.keyboard.type('99');
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Backspace');

  await expect(await cellOf(page, 'Abernethy', REPORT)).toHaveText('71.0');
  await expect(await cellOf(page, 'Achterberg', REPORT)).toHaveText('64.5');
  await expect(await cellOf(page, 'Balogun', REPORT)).toHaveText('excused');
  await expect(await cellOf(page, 'Carrow', REPORT)).toHaveText('missing');
  await expect(await cellOf(page, 'Dacosta', REPORT)).toHaveText('85.0');
  await expect(await cellOf(page, 'Eklund', REPORT)).toHaveText('85.0');
  await expect(await cellOf(page, 'Farrelly', REPORT)).toHaveText('');
  await expect(standingOf(page, 'Abernethy')).not.toHaveText(before!);
  await expect(page.locator('footer output')).toContainText('Kept');

  const held = async () =>
    tally.rows<{ family: string; score: number | null; state: string | null }>(
      `select p.family, a.score::float as score, e.state from entry e
       join enrolment n on n.school = e.school and n.book = e.book and n.id = e.enrolment join person p on p.school = n.school and p.id = n.person
       left join attempt a on a.school = e.school and a.book = e.book and a.assessment = e.assessment and a.enrolment = e.enrolment
       where e.book = 'wetland-survey-methods' and e.assessment = 'report' and p.family < 'G' order by p.family`,
    );
  await expect.poll(held).toEqual([
    { family: 'Abernethy', score: 71, state: null },
    { family: 'Achterberg', score: 64.5, state: null },
    { family: 'Balogun', score: null, state: 'excused' },
    { family: 'Carrow', score: null, state: 'missing' },
    { family: 'Dacosta', score: 85, state: null },
    { family: 'Eklund', score: 85, state: null },
    { family: 'Farrelly', score: null, state: null },
  ]);
  // Cells are sent side by side; within one cell the lines stand in the order typed.
  const lines = await tally.rows<{ becomes: string }>(
    `select becomes from journal where book = $1 and assessment = 'report' and was not like '%receivedAt%' and becomes not like '%dueAt%' order by enrolment, seq`,
    ['wetland-survey-methods'],
  );
  const becomes = lines.map((l) => l.becomes).filter((b) => !b.includes('receivedAt'));
  expect([...becomes].sort()).toEqual(
    [
      '{"attempts":[{"score":64.5}]}',
      '{"attempts":[{"score":71}]}',
      '{"attempts":[{"score":85}]}',
      '{"attempts":[{"score":85}]}',
      '{"attempts":[{"score":99}]}',
      '{"state":"excused"}',
      '{"state":"missing"}',
      '{}',
    ].sort(),
  );
  expect(becomes.indexOf('{}') - becomes.indexOf('{"attempts":[{"score":99}]}')).toBe(1);
});

test('a cell shows what counts, and what was marked while it is edited; lateness is said by hand', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Farrelly', 'Soil pit');
  await cell.click();
  await page.keyboard.type('18');
  await page.keyboard.press('Enter');
  await cell.click();
  await page.keyboard.type('/late 2');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('−4 14.0');
  await page.keyboard.press('Enter');
  await expect(page.locator('lt-cell-editor input')).toHaveValue('18');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Alt+m');
  await expect(cell).toHaveText('−4 18.0');
  await page.keyboard.press('Alt+m');
  await expect(cell).toHaveText('−4 14.0');

  // By the time it came in: due 12 November 17:00.
  await page.keyboard.type('/late 13 Nov 09:00');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('−2 16.0');
  const student = await tally.enrolment('Farrelly');
  await expect
    .poll(() =>
      tally.rows(`select late_units, received_at from attempt where assessment = 'soil-pit' and enrolment = $1`, [
        student,
      ]),
    )
    .toEqual([{ late_units: null, received_at: new Date('2026-11-13T09:00:00Z') }]);
});

test('what cannot be read stays in the cell with the reason, and more than full marks asks once', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Eklund', 'Check 1');
  const was = await cell.textContent();
  await cell.click();
  await page.keyboard.type('7..5');
  await page.keyboard.press('Enter');
  await expect(page.getByText('“7..5” is not a score, a percentage, a fraction or a state.')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(cell).toHaveText(was!);
  await page.keyboard.type('13');
  await page.keyboard.press('Enter');
  await expect(page.getByText('13 is more than the 12 possible. Enter once more keeps it.')).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('13.0');
  expect(
    await tally.rows(
      `select count(*)::int as n from journal where assessment = 'check-1' and enrolment = $1 and becomes like '%7..5%'`,
      [await tally.enrolment('Eklund')],
    ),
  ).toEqual([{ n: 0 }]);
});

test(
  'two people on one cell: the second sees both values and chooses',
  { tag: '@line-cut' },
  async ({ page, tally, another }) => {
    await tally.signIn(page, 'aldous');
    // Told live, nobody would clash: here the line that tells is cut.
    await page.route('**/api/v1/events**', (route) => route.abort());
    await tally.navigate(page, '/book/orchard-practice/ledger');
    const other = await another();
    await tally.letIn(other, 'penhale');
    await tally.navigate(other, '/book/orchard-practice/ledger');
    const mine = await cellOf(page, 'Quill', 'Rootstock ID');
    const theirs = await cellOf(other, 'Quill', 'Rootstock ID');
    await theirs.click();
    await other.keyboard.type('20');
    await other.keyboard.press('Enter');
    await expect(other.locator('footer output')).toContainText('Kept');

    await mine.click();
    await page.keyboard.type('11');
    await page.keyboard.press('Enter');
    await expect(mine).toHaveText('which?');
    await mine.click();
    await expect(page.getByRole('alert')).toContainText('yours 11');
    await expect(page.getByRole('alert')).toContainText('theirs 20');
    const score = () =>
      tally.rows(
        `select score::float as score from attempt a join enrolment e on e.id = a.enrolment join person p on p.id = e.person where a.book = 'orchard-practice' and assessment = 'rootstock' and p.family = 'Quill'`,
      );
    expect(await score()).toEqual([{ score: 20 }]);
    await page.getByRole('button', { name: 'keep mine' }).click();
    await expect(mine).toHaveText('11.0');
    await expect.poll(score).toEqual([{ score: 11 }]);
  },
);

test('what was looked for in one book is not looked for in the next', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const find = page.getByRole('searchbox', { name: 'Find a name' });
  await find.fill('Farr');
  await expect(page.locator('.row')).toHaveCount(1);
  await expect(page).toHaveURL(/Farr/);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('orchard practice');
  await expect(page.getByRole('option').first()).toContainText('Orchard Practice');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('grid')).toContainText('Orchard plan');
  await expect(find).toHaveValue('');
  expect(await page.locator('.row').count()).toBeGreaterThan(10);
  await expect(page).toHaveURL(/orchard-practice\/ledger$/);
});
