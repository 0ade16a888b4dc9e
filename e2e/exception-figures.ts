import type { Page } from '@playwright/test';
import { withoutException, type CellException } from '../core/book/exceptions';
import { contentOf } from '../core/book/change';
import type { BookDocument } from '../core/book/document';
import { computeBook } from '../core/calculation/result';
import { expect, type Tally } from './tally';

/** The book as the server keeps it now. */
export async function documentOf(page: Page, tally: Tally, book: string): Promise<BookDocument> {
  const response = await page.request.get(`${tally.address}/api/v1/books/${book}/sheet`);
  return ((await response.json()) as { document: BookDocument }).document;
}

/** Standings by student, as the core works them out from the kept book. */
export const standings = (book: BookDocument): Record<string, string | null> =>
  Object.fromEntries(computeBook(book).students.map((s) => [s.id, s.percent]));

export const rows = (page: Page) => page.locator('tr[data-key]');

/** What every shown row says of the standing is what the core says of the same book with and without it. */
export async function expectFigures(page: Page, tally: Tally, book: string): Promise<void> {
  // An override comes to the page with the sheet, a moment after the list.
  await expect(() => compareFigures(page, tally, book)).toPass({ timeout: 20_000 });
}

async function compareFigures(page: Page, tally: Tally, book: string): Promise<void> {
  const document = await documentOf(page, tally, book);
  const now = standings(document);
  await expect(page.locator('td.changes', { hasText: '…' })).toHaveCount(0);
  const shown = await rows(page).evaluateAll((all) =>
    all.map((r) => [r.getAttribute('data-key')!, r.querySelector('.changes')!.textContent!.trim()] as const),
  );
  for (const [key, says] of shown) {
    const [student, item, kind] = key.split(' ') as [string, string, string];
    const students = document.students.map((s) =>
      s.id === student && kind === 'extra-time' ? { ...s, extraTimeHours: 0 } : s,
    );
    const overrides = (document.overrides ?? []).filter((o) => o.student !== student || kind !== 'override');
    const entries = document.entries.map((e) =>
      e.student === student && e.item === item
        ? { student, item, ...withoutException(contentOf(e), kind as CellException) }
        : e,
    );
    const without = computeBook({ ...document, students, overrides, entries }).students.find((s) => s.id === student)!;
    const letter = computeBook(document).students.find((s) => s.id === student)!.letter;
    const is = `${without.percent ?? 'no grade'} → ${[now[student], letter].filter(Boolean).join(' ')}`;
    const same = without.percent === now[student] && without.letter === letter;
    expect([key, says]).toEqual([key, same ? 'nothing now' : is]);
  }
}
