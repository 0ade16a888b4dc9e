import type { Page } from '@playwright/test';
import { Random } from '../demo/random';
import { expect, test, WETLAND, type Tally } from './tally';

const STEPS = 150;
const SEED = 20_261_124;

/** Addresses by kind: those of one kind are shown by one page, which stays when one goes from one to the other. */
async function staffPages(tally: Tally): Promise<string[][]> {
  const [farrelly, marchetti] = [await tally.enrolment('Farrelly'), await tally.enrolment('Marchetti')];
  const of = (path: string): string[] => [`/book/${WETLAND}/${path}`, `/book/orchard-practice/${path}`];
  const each = (ids: string[], path: (id: string) => string) => ids.map((id) => `/book/${WETLAND}/${path(id)}`);
  const both = (path: (a: string) => string): string[] => each(['soil-pit', 'report'], path);
  const student = (path: (s: string) => string): string[] => each([farrelly, marchetti], path);
  return [
    ['/desk'],
    ['/settings'],
    ['/new-book'],
    ['/guide/ledger', '/guide/rules'],
    // An address that names no cell of the book that is open leaves the cursor where it is.
    ['/book/orchard-practice/ledger', ...both((a) => `ledger?assessment=${a}`)],
    of('assessments'),
    both((a) => `assessments/${a}`),
    both((a) => `assessments/${a}/arrivals`),
    both((a) => `assessments/${a}/rubric`),
    of('people'),
    of('exceptions'),
    [...of('rules'), ...both((a) => `rules?of=${a}`)],
    of('intake'),
    [...of('release'), ...both((a) => `release?assessment=${a}`)],
    of('closing'),
    of('journal'),
    student((s) => `student/${s}`),
    student((s) => `student/${s}/check-1`),
    student((s) => `as/${s}`),
    both((a) => `marking/${a}/sheet`),
  ];
}

/** What is read on a page, without what stands round it; times of the day go on. */
const textOf = (page: Page): Promise<string> =>
  page.evaluate(() =>
    // Pages lie in outlets within each other: the last is the page itself.
    (Array.from(document.querySelectorAll<HTMLElement>('router-outlet + *')).at(-1)?.innerText ?? '')
      .replace(/\d\d:\d\d/g, 'hh:mm')
      .replace(/\s+/g, ' '),
  );

/** The text once it stays the same. */
async function restingText(page: Page): Promise<string> {
  let before = '';
  await expect(async () => {
    const now = await textOf(page);
    const same = now === before && now.length > 20;
    before = now;
    expect(same, `${page.url()} rests`).toBe(true);
  }).toPass({ intervals: [600], timeout: 20_000 });
  return before;
}

test('every page is the same, loaded or gone to from any other', { tag: '@long' }, async ({ page, tally }) => {
  test.setTimeout(600_000);
  await tally.letIn(page, 'aldous');
  const kinds = await staffPages(tally);
  const loaded = new Map<string, string>();
  for (const path of kinds.flat()) {
    await page.goto(tally.address + path);
    loaded.set(path, await restingText(page));
  }
  const random = new Random(SEED);
  let kind = kinds.at(-1)!;
  let at = kind.at(-1)!;
  for (let step = 0; step < STEPS; step++) {
    // Every second step stays on its page where that shows more than one address.
    const next = step % 2 === 1 && kind.length > 1 ? kind : random.pick(kinds);
    const path = random.pick(next);
    if (path === at) continue;
    await tally.navigate(page, path);
    await expect.poll(() => textOf(page), { message: `${at} → ${path}` }).toBe(loaded.get(path));
    [kind, at] = [next, path];
  }
});
