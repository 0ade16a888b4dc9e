import type { Page } from '@playwright/test';
import { DEMO_CLOCK } from '../demo/accounts.mjs';
import { Random } from '../demo/random';
import { atRest, waitsFor } from './at-rest';
import { BOOKS, officePages, staffPages, studentPages, type Kinds } from './pages-of';
import { expect, test, type Tally } from './tally';

const SEED = 20_261_124;

/** What is read on a page and at its foot; times of the day go on. */
const textOf = (page: Page): Promise<string> =>
  page.evaluate(() => {
    // Pages lie in outlets within each other: the last is the page itself.
    const itself = Array.from(document.querySelectorAll<HTMLElement>('router-outlet + *')).at(-1)?.innerText ?? '';
    const foot = document.querySelector<HTMLElement>('lt-foot-bar')?.innerText ?? '';
    return `${itself}\n${foot}`.replace(/\d\d:\d\d/g, 'hh:mm').replace(/\s+/g, ' ');
  });

/** Loads each page, then goes to each from others, as often as `steps` says. */
async function walk(page: Page, tally: Tally, kinds: Kinds, steps: number): Promise<void> {
  // “8 h left” is not to become “7 h left” meanwhile.
  await tally.setClock(DEMO_CLOCK);
  const loaded = new Map<string, string>();
  const waits = waitsFor(page);
  for (const path of kinds.flat()) {
    await page.goto(tally.address + path);
    loaded.set(path, await atRest(() => textOf(page), waits));
  }
  const random = new Random(SEED);
  let kind = kinds.at(-1)!;
  let at = kind.at(-1)!;
  for (let step = 0; step < steps; step++) {
    // Every second step stays on its page where that shows more than one address.
    const next = step % 2 === 1 && kind.length > 1 ? kind : random.pick(kinds);
    const path = random.pick(next);
    if (path === at) continue;
    await tally.navigate(page, path);
    await expect.poll(() => textOf(page), { message: `${at} → ${path}` }).toBe(loaded.get(path));
    [kind, at] = [next, path];
  }
}

test.describe('every page is the same, loaded or gone to from any other', { tag: '@long' }, () => {
  test.setTimeout(600_000);

  test('for a teacher', async ({ page, tally }) => {
    await tally.letIn(page, 'aldous');
    await walk(page, tally, await staffPages(tally), 150);
  });

  test('for the office', async ({ page, tally }) => {
    await tally.letIn(page, 'halloran');
    await walk(page, tally, officePages, 80);
  });

  test('for a student', async ({ page, tally }) => {
    const [both] = await tally.rows<{ login: string }>(
      `select p.login from person p join enrolment e on e.school = p.school and e.person = p.id
       where e.book = any($1) group by p.login having count(distinct e.book) = 2 order by p.login`,
      [BOOKS],
    );
    await tally.letIn(page, both!.login);
    // What counts as read once it was looked at is read before.
    const waits = waitsFor(page);
    for (const path of studentPages.flat()) {
      await page.goto(tally.address + path);
      await atRest(() => textOf(page), waits);
    }
    await walk(page, tally, studentPages, 80);
  });
});
