import { readFileSync } from 'node:fs';
import { WETLAND, cellOf, expect, passwordOf, test } from './tally';

test('Ctrl+Enter goes on after the mouse was used, and Esc leaves the question', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/release?assessment=check-1`);
  await page.getByRole('checkbox', { name: 'Farrelly, Con' }).check();
  // What the mouse last clicked has no focus of its own.
  await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
  await page.keyboard.press('Control+Enter');
  const question = page.getByRole('dialog');
  await expect(question).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(question).toBeHidden();
});

test('a figure typed on the standing waits for Ctrl+Enter, and is left as it was by Esc or elsewhere @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const standing = page.locator('.standing').first();
  const before = await standing.textContent();
  await standing.click();
  await page.keyboard.type('72');
  await page.keyboard.press('Enter');
  await expect(page.getByText('No bare key does it.')).toBeVisible();
  await page.locator('.cell').nth(4).click();
  await expect(page.locator('.cursor.editing')).toHaveCount(0);
  await standing.click();
  await page.keyboard.type('/exceptions');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/exceptions\?student=/);
  await page.goBack();
  await expect(standing).toHaveText(before!);
  // By the mouse alone, or a finger.
  await standing.click();
  await page.keyboard.type('72');
  await page.getByRole('button', { name: 'Ctrl+Enter sets it as the final grade' }).click();
  await expect(standing).toContainText('72.0');
});

test('a slash in a book without anything opens what can be done there', async ({ page, tally }) => {
  await tally.signIn(page, 'aldous');
  const data = { login: 'aldous', password: passwordOf('aldous') };
  const me = (await (await page.request.post(`${tally.address}/api/v1/session`, { data })).json()) as { token: string };
  const made = await page.request.post(`${tally.address}/api/v1/books`, {
    headers: { 'x-last-tally-token': me.token },
    data: {
      id: 'bare',
      term: (await tally.rows<{ id: string }>('select id from term limit 1'))[0]!.id,
      title: 'Bare',
      sections: [],
      staff: [],
      rules: { from: WETLAND },
    },
  });
  expect(made.status()).toBe(201);
  await tally.navigate(page, '/book/bare/ledger');
  await expect(page.getByText('This book has no assessment yet.')).toBeVisible();
  await page.keyboard.type('/');
  const palette = page.getByRole('dialog');
  await expect(palette).toBeVisible();
  await page.keyboard.type('new');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel(/Assessment|assessment/).first()).toBeVisible();
});

test('what the ledger shows is saved as a file, one assessment alone where it is selected @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Tregenza', 'Check 1');
  const saved = async (): Promise<string[]> => {
    const download = page.waitForEvent('download');
    await page.keyboard.type('/save');
    await page.keyboard.press('Enter');
    const file = await download;
    expect(file.suggestedFilename()).toMatch(/\.csv$/);
    return readFileSync(await file.path(), 'utf8')
      .replace('\uFEFF', '')
      .trimEnd()
      .split('\r\n');
  };
  await cell.click();
  const all = await saved();
  expect(all[0]).toContain(
    'Scores of Wetland Survey Methods, Autumn 2026: 10 assessments, all 21 students, what counts',
  );
  expect(all[1]!.split(',').slice(0, 4)).toEqual(['Student number', 'Family name', 'Given name', 'Section']);
  expect(all).toHaveLength(2 + 21);
  const shown = await cell.textContent();
  await cell.click();
  await page.keyboard.press('Control+Space');
  const one = await saved();
  expect(one[1]).toMatch(/,Check 1 \(of 12\)$/);
  expect(
    Number(
      one
        .find((l) => l.includes('Tregenza'))!
        .split(',')
        .pop(),
    ),
  ).toBe(Number(shown));
});

test('cells are copied alone, and with names and headings', async ({ page, tally }) => {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const copied = () => page.evaluate(() => navigator.clipboard.readText());
  await (await cellOf(page, 'Carrow', 'Peat core')).click();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Control+c');
  expect(await copied()).toBe('15.0\t16.0');
  await page.keyboard.type('/copy');
  await page.keyboard.press('Enter');
  await expect(page.locator('footer')).toContainText('copied with names and headings');
  const [heads, row, ...more] = (await copied()).split('\n');
  expect(heads).toBe('Student number\tFamily name\tGiven name\tSection\tPeat core (of 20)\tHedge survey (of 20)');
  expect(row).toMatch(/^BC\d+\tCarrow\tIsolde\tSouth\t15\.0\t16\.0$/);
  expect(more).toEqual([]);
});

test('where there is little height, the heads give way to the rows @long', async ({ page, tally }) => {
  await page.setViewportSize({ width: 640, height: 400 });
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Abernethy', 'Peat core');
  const head = await page.locator('.grid .head').boundingBox();
  const first = await cell.boundingBox();
  const foot = await page.locator('footer').boundingBox();
  expect(first!.y).toBeGreaterThanOrEqual(head!.y + head!.height - 1);
  // More than half of the window is rows.
  expect(foot!.y - first!.y).toBeGreaterThan(200);
  await cell.click();
  for (let row = 0; row < 12; row++) await page.keyboard.press('ArrowDown');
  const cursor = await page.locator('.cursor').boundingBox();
  expect(cursor!.y).toBeGreaterThanOrEqual(head!.y + head!.height - 1);
  expect(cursor!.y + cursor!.height).toBeLessThanOrEqual(foot!.y + 1);
});
