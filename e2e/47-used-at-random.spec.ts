import type { Page } from '@playwright/test';
import { Random } from '../demo/random';
import { actAtRandom } from './act-at-random';
import { atRest } from './at-rest';
import { officePages, staffPages, studentPages, type Kinds } from './pages-of';
import { expect, test, WETLAND, type Tally } from './tally';

const SEED = Number(process.env['SEED'] ?? 20_261_202);
const ROUNDS = 30;
const ACTS = 14;

/** What a page has said that it must not, from now on. */
function faultsOf(page: Page): string[] {
  const said: string[] = [];
  page.on('console', (m) => m.type() === 'error' && !/status of 4\d\d/.test(m.text()) && said.push(m.text()));
  page.on('pageerror', (e) => said.push(e.stack ?? e.message));
  page.on('response', (r) => r.status() >= 500 && said.push(`${r.status()} ${r.request().method()} ${r.url()}`));
  // It asks whether what was begun may be left.
  page.on('dialog', (d) => void d.accept().catch((e: Error) => said.push(e.message)));
  return said;
}

/** Goes to one page after the other and does there what comes, `after` each; fails with the last acts where something is said. */
async function useAtRandom(page: Page, tally: Tally, kinds: Kinds, after: (round: number) => Promise<void>) {
  const random = new Random(SEED);
  const said = faultsOf(page);
  const acts: string[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const path = random.pick(random.pick(kinds));
    acts.push(`→ ${path}`);
    // Now and then it is loaded.
    if (random.chance(0.2)) await page.goto(tally.address + path);
    else await tally.navigate(page, path);
    // People begin before all of it is there.
    await page.waitForTimeout(400);
    for (let act = 0; act < ACTS; act++) {
      acts.push(`${page.url().replace(tally.address, '')}: ${await actAtRandom(page, random)}`);
      await page.waitForTimeout(60);
    }
    const last = acts.slice(-2 * ACTS).join('\n');
    expect(said, last).toEqual([]);
    await expect(page.locator('body'), last).not.toContainText('Something went wrong on this page');
    await expect(page.locator('router-outlet + *').last(), last).toBeAttached();
    await after(round);
  }
}

const nothing = (): Promise<void> => Promise.resolve();

test.describe('what is done on any page, in any order, is done without a fault', { tag: '@long' }, () => {
  test.setTimeout(900_000);

  test('by a teacher; and a ledger that stayed open shows what one that is loaded does', async ({
    page,
    tally,
    another,
  }) => {
    await tally.letIn(page, 'aldous');
    const staying = await another();
    await tally.letIn(staying, 'aldous');
    await tally.openLedger(staying);
    const said = faultsOf(staying);
    /** The rows that are drawn, by name. */
    const rows = async (): Promise<Map<string, string>> => {
      const texts = (): Promise<string> =>
        staying
          .locator('lt-ledger .row')
          .evaluateAll((all) =>
            JSON.stringify((all as HTMLElement[]).map((r) => [r.querySelector('.name b')?.textContent, r.innerText])),
          );
      return new Map(JSON.parse(await atRest(texts)) as [string, string][]);
    };
    const marking = ['soil-pit', 'report'].map((a) => `/book/${WETLAND}/marking/${a}`);
    const pages = (await staffPages(tally)).filter((kind) => !kind.includes('/settings'));
    await useAtRandom(page, tally, [...pages, marking, marking], async (round) => {
      if (round % 5 !== 4) return;
      const live = await rows();
      await staying.reload();
      await expect(staying.locator('.standing b').first()).not.toBeEmpty();
      const loaded = await rows();
      // Of the rows at the edge more or fewer may be drawn.
      const both = [...loaded.keys()].filter((name) => live.has(name));
      expect(both.length).toBeGreaterThan(15);
      expect(both.map((name) => live.get(name))).toEqual(both.map((name) => loaded.get(name)));
      expect(said).toEqual([]);
    });
  });

  test('by the office', async ({ page, tally }) => {
    await tally.letIn(page, 'halloran');
    await useAtRandom(page, tally, officePages, nothing);
  });

  test('by a student', async ({ page, tally }) => {
    await tally.letIn(page, 'farrelly');
    await useAtRandom(page, tally, studentPages, nothing);
  });
});
