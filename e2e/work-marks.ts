import type { Page } from '@playwright/test';
import { expect, WETLAND, type Tally } from './tally';

export const ROOM = `/book/${WETLAND}/marking/soil-pit`;
export const mark = (page: Page, kind: string) => page.locator(`lt-surface-marks .mark.${kind}`);
export const margin = (page: Page) => page.getByRole('group', { name: 'Margin' });
export const words = (page: Page) => page.getByRole('combobox', { name: 'What you say of it' });

export async function goTo(page: Page, student: string): Promise<void> {
  await page.getByRole('button', { name: new RegExp(`^${student}`) }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(student);
}

/** Into the room, at a work whose first page is drawn with its text. */
export async function atPdf(page: Page, tally: Tally, student = 'Ibekwe'): Promise<void> {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await goTo(page, student);
  await expect(page.locator('.textLayer span').first()).toBeAttached();
  await expect(page.getByRole('toolbar', { name: 'Mark on the work' })).toBeVisible();
}

/** Chooses words of a line with the mouse, by shares of its width. */
export async function chooseWords(page: Page, line: number, from: number, to: number): Promise<void> {
  const box = (await page.locator('.textLayer span:not(.markedContent)').nth(line).boundingBox())!;
  // Whole pixels, as a mouse gives them: pressed between two, Chromium chooses nothing at some places.
  const [x, y] = [(share: number) => Math.round(box.x + share * box.width), Math.round(box.y + box.height / 2)];
  await page.mouse.move(x(from), y);
  await page.mouse.down();
  await page.mouse.move(x(to), y, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByRole('toolbar', { name: 'The words that are chosen' })).toBeVisible();
}

/** A place of the surface that is shown, in its widths. */
export async function at(page: Page, x: number, y: number): Promise<[number, number]> {
  const box = (await page.locator('lt-surface-marks').first().boundingBox())!;
  return [box.x + x * box.width, box.y + y * box.width];
}

/** One line after the other, as a hand that does not rest between them. */
export async function drawLines(page: Page, ...lines: [number, number][][]): Promise<void> {
  const placed = await Promise.all(lines.map((points) => Promise.all(points.map((p) => at(page, ...p)))));
  for (const [begin, ...rest] of placed) {
    await page.mouse.move(...begin!);
    await page.mouse.down();
    for (const p of rest) await page.mouse.move(...p, { steps: 3 });
    await page.mouse.up();
  }
}
