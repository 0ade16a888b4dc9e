import { readFile } from 'node:fs/promises';
import type { Download } from '@playwright/test';
import { accessibilityFaults } from './axe';
import { chooseOption, expect, test, WETLAND } from './tally';

const bytesOf = async (file: Download): Promise<Buffer> => readFile(await file.path());

test('a student asks what a letter would need, of what is released and nothing else', async ({ page, tally }) => {
  await tally.letIn(page, 'eklund');
  await tally.navigate(page, `/my/${WETLAND}`);
  const needed = page.locator('lt-what-needed');
  await needed.getByRole('button', { name: 'what would I need' }).click();
  await expect(needed.getByRole('combobox')).toHaveText('B');
  await expect(needed).toContainText('B by Report');
  await expect(needed).toContainText('Worked out from what is released to you');
  const before = await needed.locator('dl').textContent();
  expect(await accessibilityFaults(page)).toEqual([]);
  await chooseOption(page, 'For which letter', 'A');
  await expect(needed).toContainText('A by Report');
  await chooseOption(page, 'For which letter', 'B');

  // What a teacher types and does not release changes nothing of it.
  const teacher = await tally.as('aldous');
  const id = await tally.enrolment('Eklund');
  const [{ version }] = (await tally.rows<{ version: number }>(
    `select version from entry where assessment = 'level-staff' and enrolment = $1`,
    [id],
  )) as [{ version: number }];
  await teacher('PUT', `/books/${WETLAND}/entries/level-staff/${id}`, {
    version,
    change: { kind: 'score', points: 1 },
  });
  await page.reload();
  await needed.getByRole('button', { name: 'what would I need' }).click();
  await expect(needed.locator('dl')).toHaveText(before!);
});

test('a slip is printed and saved as a PDF, by its student and by staff who look as they do', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'farrelly');
  await tally.navigate(page, `/my/${WETLAND}?slip=pond-transect`);
  const own = page.waitForEvent('download');
  await page.getByRole('link', { name: 'as a PDF' }).click();
  const file = await own;
  expect(file.suggestedFilename()).toBe('Pond transect Farrelly Con.pdf');
  const bytes = await bytesOf(file);
  expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
  // Printed from the page, the paper says whose it is too, and holds the slip alone.
  const whose = page.getByText('Con Farrelly · Wetland Survey Methods');
  await expect(whose).toBeHidden();
  await page.emulateMedia({ media: 'print' });
  await expect(whose).toBeVisible();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Pond transect');
  await expect(page.locator('lt-slip-view .figure')).toBeVisible();
  for (const away of [
    page.getByRole('heading', { name: 'Piece by piece' }),
    page.locator('footer'),
    page.locator('header'),
  ])
    await expect(away).toBeHidden();
  await page.emulateMedia({ media: null });
  // Of what is not released there is none.
  await tally.navigate(page, `/my/${WETLAND}?slip=soil-pit`);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Soil pit');
  await expect(page.getByRole('link', { name: 'as a PDF' })).toHaveCount(0);

  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/as/${await tally.enrolment('Farrelly')}?slip=pond-transect`);
  const asStudent = page.waitForEvent('download');
  await page.getByRole('link', { name: 'as a PDF' }).click();
  expect((await bytesOf(await asStudent)).length).toBeGreaterThan(5_000);
});

test('a student saves their own data', async ({ page, tally }) => {
  await tally.letIn(page, 'farrelly');
  await tally.navigate(page, '/settings');
  await expect(page.getByRole('heading', { name: 'Keys in the marking room' })).toHaveCount(0);
  const saved = page.waitForEvent('download');
  await page.getByRole('link', { name: 'your data as a file' }).click();
  const data = JSON.parse((await bytesOf(await saved)).toString()) as { books: { page: { title: string } }[] };
  expect(data.books.map((b) => b.page.title)).toContain('Wetland Survey Methods');
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, '/settings');
  await expect(page.getByRole('heading', { name: 'Keys in the marking room' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'your data as a file' })).toHaveCount(0);
});

test('who marked it is not said where the assessment hides it', async ({ page, tally, another }) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/assessments/pond-transect`);
  await chooseOption(page, 'Whether students read who marked it', 'do not read who marked it');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.locator('footer output')).toContainText(/kept|Kept/);
  const id = await tally.enrolment('Farrelly');
  const teacher = await tally.as('aldous');
  await teacher('POST', `/books/${WETLAND}/release`, {
    ...{ assessment: 'pond-transect', enrolments: [id], moveRules: false },
  });
  const student = await another();
  await tally.letIn(student, 'farrelly');
  await tally.navigate(student, `/my/${WETLAND}?slip=pond-transect`);
  await expect(student.locator('lt-slip-view')).toContainText('Who marked it is not said here.');
  await expect(student.locator('lt-slip-view')).not.toContainText('Aldous');
});
