import { WETLAND, cellOf, expect, passwordOf, test, type Tally } from './tally';
import type { Page } from '@playwright/test';

/** A colleague's score, by the API: they sit at another machine. */
async function colleagueScores(page: Page, tally: Tally, family: string, assessment: string, points: number) {
  const request = await page.context().browser()!.newContext();
  const send = request.request;
  const data = { login: 'penhale', password: passwordOf('penhale') };
  const me = (await (await send.post(`${tally.address}/api/v1/session`, { data })).json()) as { token: string };
  const enrolment = await tally.enrolment(family);
  const [kept] = await tally.rows<{ version: number }>(
    'select version from entry where book = $1 and assessment = $2 and enrolment = $3',
    [WETLAND, assessment, enrolment],
  );
  const answer = await send.put(`${tally.address}/api/v1/books/${WETLAND}/entries/${assessment}/${enrolment}`, {
    headers: { 'x-last-tally-token': me.token },
    data: {
      operation: `colleague-${Date.now()}`,
      version: kept?.version ?? 0,
      change: { kind: 'score', points },
    },
  });
  expect(answer.status()).toBe(200);
  await request.close();
}

/** An assessment of the book and a student's score on it as it is kept. */
async function keptScore(tally: Tally, family: string, assessment: string): Promise<number | undefined> {
  const [row] = await tally.rows<{ score: string }>(
    `select score from attempt where book = $1 and assessment = $2 and enrolment = $3 order by number desc limit 1`,
    [WETLAND, assessment, await tally.enrolment(family)],
  );
  return row && Number(row.score);
}

/** Somebody else marks in the book too. */
test.beforeEach(async ({ tally }) => {
  await tally.rows(
    `insert into book_staff (school, book, person, role)
     select school, $1, id, 'marker' from person where login = 'penhale' on conflict do nothing`,
    [WETLAND],
  );
});

const ID = 'report';
const TITLE = 'Report';

test('what a colleague keeps while one types in the same cell is not overwritten: one is asked which', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Tregenza', TITLE);
  await cell.click();
  await page.keyboard.type('3');
  await colleagueScores(page, tally, 'Tregenza', ID, 6);
  await expect(page.locator('footer output')).toContainText('changed Tregenza');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('which?');
  expect(await keptScore(tally, 'Tregenza', ID)).toBe(6);
  // One's own, after having been asked.
  await cell.click();
  await page.keyboard.type('/mine');
  await page.keyboard.press('Enter');
  await expect.poll(() => keptScore(tally, 'Tregenza', ID)).toBe(3);
});

test('a pasted list that is being looked at when a colleague’s score comes in overwrites nothing unasked', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await (await cellOf(page, 'Tregenza', TITLE)).click();
  await page.evaluate(() => {
    const data = new DataTransfer();
    data.setData('text/plain', '1\nnot a score');
    document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }));
  });
  const preview = page.getByRole('dialog');
  await expect(preview).toBeVisible();
  await colleagueScores(page, tally, 'Tregenza', ID, 7);
  await preview.getByRole('button', { name: /^All/ }).click();
  await expect(preview).toBeHidden();
  await expect(await cellOf(page, 'Tregenza', TITLE)).toHaveText('which?');
  expect(await keptScore(tally, 'Tregenza', ID)).toBe(7);
});

for (const [how, script] of [
  ['refuses', `indexedDB.open = () => { throw new Error('not in this window'); };`],
  ['never answers', `indexedDB.open = () => new EventTarget();`],
] as const)
  test(`a disk that ${how} costs nobody a score, nor the ledger`, { tag: '@line-cut' }, async ({ page, tally }) => {
    await page.addInitScript(script);
    await tally.letIn(page, 'aldous');
    await tally.openLedger(page);
    await (await cellOf(page, 'Tregenza', TITLE)).click();
    await page.keyboard.type('5');
    await page.keyboard.press('Enter');
    await expect.poll(() => keptScore(tally, 'Tregenza', ID)).toBe(5);
  });

test(
  'what waits of one person is not sent in the name of the next one at the same page',
  { tag: '@line-cut' },
  async ({ page, tally }) => {
    await tally.letIn(page, 'aldous');
    await tally.openLedger(page);
    const before = await keptScore(tally, 'Tregenza', ID);
    await page.route('**/entries/**', (route) => route.abort());
    await (await cellOf(page, 'Tregenza', TITLE)).click();
    await page.keyboard.type('2');
    await page.keyboard.press('Enter');
    await expect(page.locator('footer output')).toContainText('not kept yet');
    // Another signs in in the same tab, without a reload of its page's memory being asked for.
    const data = { login: 'penhale', password: passwordOf('penhale') };
    await page.request.post(`${tally.address}/api/v1/session`, { data, maxRetries: 1 });
    await tally.navigate(page, '/desk');
    await page.unroute('**/entries/**');
    await tally.openLedger(page);
    await page.waitForTimeout(1_500);
    expect(await keptScore(tally, 'Tregenza', ID)).toBe(before);
    await tally.letIn(page, 'aldous');
    await tally.openLedger(page);
    await expect.poll(() => keptScore(tally, 'Tregenza', ID)).toBe(2);
    const [line] = await tally.rows<{ login: string }>(
      `select p.login from journal j join person p on p.school = j.school and p.id = j.person where j.book = $1 order by j.seq desc limit 1`,
      [WETLAND],
    );
    expect(line!.login).toBe('aldous');
  },
);

test(
  'undo whose answer is lost is sent again by itself, and done once',
  { tag: '@line-cut' },
  async ({ page, tally }) => {
    await tally.letIn(page, 'aldous');
    await tally.openLedger(page);
    const before = await keptScore(tally, 'Tregenza', ID);
    const cell = await cellOf(page, 'Tregenza', TITLE);
    for (const points of ['1', '4']) {
      await cell.click();
      await page.keyboard.type(points);
      await page.keyboard.press('Enter');
      await expect.poll(() => keptScore(tally, 'Tregenza', ID)).toBe(Number(points));
    }
    let lost = 0;
    await page.route('**/undo', async (route) => {
      if (lost++ > 0) return route.continue();
      await route.fetch();
      await route.abort();
    });
    await cell.click();
    await page.keyboard.press('Control+z');
    await expect(page.locator('footer output')).toContainText('Put back');
    expect(lost).toBe(2);
    expect(await keptScore(tally, 'Tregenza', ID)).toBe(1);
    await page.keyboard.press('Control+z');
    await expect.poll(() => keptScore(tally, 'Tregenza', ID)).toBe(before);
  },
);

test('after wrong guesses signing in takes a moment longer, and nobody is kept out @long', async ({ page, tally }) => {
  for (let i = 0; i < 6; i++) {
    const data = { login: 'aldous', password: `guess-${i}` };
    await page.request.post(`${tally.address}/api/v1/session`, { data });
  }
  await tally.navigate(page, '/sign-in');
  await page.getByLabel('Sign-in name').fill('aldous');
  await page.getByLabel('Password').fill(passwordOf('aldous'));
  await page.getByLabel('Password').press('Enter');
  await expect(page).toHaveURL(/\/desk/);
});
