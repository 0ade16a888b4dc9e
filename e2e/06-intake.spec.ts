import { cellOf, expect, test, WETLAND } from './tally';

test('a file is brought in: read, looked at, applied in one piece, and put back', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const before = await (await cellOf(page, 'Abernethy', 'Pond transect')).textContent();
  await page.getByRole('link', { name: 'Intake' }).click();
  // Windows-1252, semicolons, decimal commas, a title line, a rescaled column, blanks, a word, a stranger, a slip of the pen.
  const [same] = await tally.rows<{ score: string }>(
    `select score::float as score from attempt where book = $1 and assessment = 'check-2' and enrolment = $2`,
    [WETLAND, await tally.enrolment('Carrow')],
  );
  const text = `Pr\xfcfung im Feld;;\r\nStudent number;Pond transect /30;Check 2\r\nBC24101;27,75;9\r\nBC24108;1x5;\r\nBC24115;;ex\r\nBC99999;3;4\r\nBC24122;29,25;${same!.score}\r\n`;
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'field-checks.csv', mimeType: 'text/csv', buffer: Buffer.from(text, 'latin1') });
  await expect(page.getByRole('heading', { name: 'field-checks.csv' })).toBeVisible();
  await expect(page.getByText('5 rows, semicolons, decimal comma, Windows-1252, headings in row 2')).toBeVisible();
  const sum = page.getByLabel('What will happen');
  await expect(sum).toContainText('1 refused');
  await expect(sum).toContainText('1 of 5 rows unmatched');
  await expect(sum).toContainText('2 blank');
  await expect(page.getByText('“1x5” is not a score, a percentage, a fraction or a state.')).toBeVisible();
  await expect(page.getByText('Nobody in this book has this number, mail address or name.')).toBeVisible();
  // Old beside new: 27,75 of 30 is 18.5 of 20.
  const row = page.locator('tbody tr', { hasText: 'Abernethy' });
  await expect(row.locator('s')).toHaveText(before!.trim().replace(/\.0$/, ''));
  await expect(row).toContainText('18.5');
  expect(
    await tally.rows(`select count(*)::int as n from batch where book = $1 and title = 'field-checks.csv'`, [WETLAND]),
  ).toEqual([{ n: 0 }]);

  const button = page.getByRole('button', { name: /^Bring in \d+ scores?$/ });
  const count = Number(/\d+/.exec((await button.textContent())!)![0]);
  await button.click();
  await expect(page.getByRole('main').getByText(`${count} scores of field-checks.csv are in the book.`)).toBeVisible();
  expect(await tally.rows(`select cells from batch where book = $1 and title = 'field-checks.csv'`, [WETLAND])).toEqual(
    [{ cells: count }],
  );
  expect(
    await tally.rows(
      `select score::float as score from attempt where book = $1 and assessment = 'pond-transect' and enrolment = $2`,
      [WETLAND, await tally.enrolment('Abernethy')],
    ),
  ).toEqual([{ score: 18.5 }]);
  await page.getByRole('link', { name: 'Ledger' }).click();
  await expect(await cellOf(page, 'Abernethy', 'Pond transect')).toHaveText('18.5');

  await page.getByRole('link', { name: 'Intake' }).click();
  await page.getByRole('button', { name: 'put back field-checks.csv' }).click();
  await expect(page.locator('footer output')).toContainText(`${count} cells are as they were before.`);
  await page.getByRole('link', { name: 'Ledger' }).click();
  await expect(await cellOf(page, 'Abernethy', 'Pond transect')).toHaveText(before!);
});

test('a paste is read by name; a file that is no text is refused with what to do', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/intake`);
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'scores.xlsx', mimeType: 'application/zip', buffer: Buffer.from('PK') });
  await expect(page.getByRole('alert')).toContainText('Save it as CSV');
  await page.getByLabel('Or paste a table').fill('Name\tReport\nCon Farrelly\t66\nFarrelly, Con\t67\n');
  await page.getByRole('button', { name: 'Read the table' }).click();
  await expect(page.getByText('Row 2 is for the same student; only the first is used.')).toBeVisible();
  await page.getByRole('button', { name: 'Bring in 1 score' }).click();
  await expect(page.getByRole('main').getByText('1 score of Pasted table is in the book.')).toBeVisible();
  expect(
    await tally.rows(
      `select score::float as score from attempt where book = $1 and assessment = 'report' and enrolment = $2`,
      [WETLAND, await tally.enrolment('Farrelly')],
    ),
  ).toEqual([{ score: 66 }]);
});
