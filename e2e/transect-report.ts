import { createHash, randomBytes } from 'node:crypto';
import type { Page } from '@playwright/test';
import { expect, WETLAND, type Tally } from './tally';

/** A JPEG’s beginning, and bytes of its own: photographs from a phone. */
export const photograph = (bytes: number): Buffer =>
  Buffer.concat([Buffer.from('ffd8ffe000104a46494600010100000100010000', 'hex'), randomBytes(bytes)]);
/** Of all that is handed in at the demo school, what belongs to the assessment of these tests. */
export const OURS = `s.assessment = (select id from assessment where title = 'Transect report')`;
export const OUR_FILES = `submission_file f join submission s on s.school = f.school and s.book = f.book and s.id = f.submission
  join upload u on u.school = f.school and u.id = f.upload where ${OURS}`;
export const sha = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** Makes an assessment in one line in the ledger, as a teacher does, and says more of it on its page. */
export async function setAssessment(page: Page, tally: Tally): Promise<void> {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await page.keyboard.type('/new');
  await page.keyboard.press('Enter');
  const line = page.getByLabel(/^A new assessment/);
  await line.fill('Presentation, 10, in the room, 4 Dec');
  await expect(page.getByRole('dialog')).toContainText('on paper or in the room');
  await line.fill('Transect report, 20, 27 Nov 17:00');
  await expect(page.getByRole('dialog')).toContainText('handed in here');
  await line.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
  const [made] = await tally.rows<{ id: string }>(`select id from assessment where title = 'Transect report'`);
  await tally.navigate(page, `/book/${WETLAND}/assessments/${made!.id}`);
  await page.getByRole('combobox', { name: 'How often it can be handed in' }).click();
  await page.getByRole('option', { name: '2 times' }).click();
  await page.getByRole('combobox', { name: 'What the student ticks' }).click();
  await page.getByRole('option', { name: 'these words:' }).click();
  await page.getByLabel('What the student ticks, in words').fill('All of it comes from me or names its source.');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('Transect report: kept');
  expect(await tally.rows(`select takes_work, work::json from assessment where title = 'Transect report'`)).toEqual([
    { takes_work: true, work: { attempts: 2, statement: 'All of it comes from me or names its source.' } },
  ]);
}
