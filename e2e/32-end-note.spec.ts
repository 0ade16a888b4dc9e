import { accessibilityFaults } from './axe';
import { expect, test, WETLAND } from './tally';
import type { Page } from '@playwright/test';

const ROOM = `/book/${WETLAND}/marking/soil-pit`;
const name = (page: Page) => page.getByRole('heading', { level: 1 });
const note = (page: Page) => page.getByRole('textbox', { name: 'End note' });
const line = (page: Page) => page.getByRole('combobox', { name: 'Phrase' });
const kept = (page: Page) => page.getByText('not kept yet');

test('a note is written, formatted, kept as it is made, and stays with its work', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await page.goto(`${tally.address}${ROOM}`);
  await expect(note(page)).toBeVisible();
  // From the line any letter begins the text, and none is lost however fast one types.
  await page.keyboard.press('e');
  await expect(line(page)).toBeFocused();
  await page.keyboard.type('Clear drawing.');
  await expect(note(page)).toHaveText('Clear drawing.');
  await expect(note(page)).toBeFocused();
  await page.keyboard.press('Control+a');
  await page.getByRole('button', { name: 'bold' }).click();
  await expect(note(page).locator('strong')).toHaveText('Clear drawing.');
  await page.evaluate(() => new Promise(requestAnimationFrame));
  await page.keyboard.press('End');
  // The editor hears of where the cursor went a moment after the browser put it there.
  await page.waitForTimeout(100);
  await page.keyboard.press('Enter');
  await page.keyboard.type('Say how you know.');
  // Esc leaves the text, and bare keys are the room's again.
  await page.keyboard.press('Escape');
  await page.keyboard.press('n');
  await expect(name(page)).toHaveText('Balogun, Temi');
  await expect(note(page)).toHaveText('');
  await page.keyboard.press('ArrowUp');
  await expect(name(page)).toHaveText('Achterberg, Ruben');
  await expect(note(page)).toHaveText('Clear drawing.Say how you know.');
  await expect(kept(page)).toBeHidden();
  await page.reload();
  await expect(note(page).locator('p')).toHaveText(['Clear drawing.', 'Say how you know.']);
  await expect(note(page).locator('strong').first()).toHaveText('Clear drawing.');
  expect(await accessibilityFaults(page)).toEqual([]);
  // Nothing of it is written by having it open.
  expect(await tally.rows(`select count(*)::int as notes from end_note where book = $1`, [WETLAND])).toEqual([{ notes: 1 }]); // prettier-ignore
});

test('two who write in one note see each other’s words at once, and every word stays', async ({
  page,
  tally,
  browser,
}) => {
  await tally.rows(
    `insert into book_staff (school, book, person, role) select school, $1, id, 'marker' from person where login = 'quigg'`,
    [WETLAND],
  );
  await tally.letIn(page, 'aldous');
  await page.goto(`${tally.address}${ROOM}`);
  await expect(note(page)).toBeVisible();
  const other = await (await browser.newContext()).newPage();
  await tally.letIn(other, 'quigg');
  await other.goto(page.url());
  await expect(note(other)).toBeVisible();
  await note(page).click();
  await page.keyboard.type('First.');
  await expect(note(other)).toHaveText('First.', { timeout: 3_000 });
  // In one line at once, one at each end.
  await note(other).click();
  await other.keyboard.press('Home');
  await page.keyboard.press('End');
  await Promise.all([
    page.keyboard.type(' Then the pit was drawn.', { delay: 20 }),
    other.keyboard.type('Before: ', { delay: 40 }),
  ]);
  for (const p of [page, other]) await expect(note(p)).toHaveText('Before: First. Then the pit was drawn.');
  // One takes back only what one wrote oneself.
  await other.keyboard.press('Control+z');
  for (const p of [page, other]) await expect(note(p)).toHaveText('First. Then the pit was drawn.');
});

test(
  'a line that is down and a server that is killed lose no word, a reload included',
  { tag: '@line-cut' },
  async ({ page, tally }) => {
    // prettier-ignore
    await tally.letIn(page, 'aldous');
    await page.goto(`${tally.address}${ROOM}`);
    await expect(note(page)).toBeVisible();
    await note(page).click();
    await page.keyboard.type('Kept before. ');
    await expect(kept(page)).toBeHidden();
    await tally.kill();
    await page.keyboard.type('Typed while nobody answered.');
    await expect(kept(page)).toBeVisible();
    await page.keyboard.press('Escape');
    await page.keyboard.press('n');
    await tally.restart();
    await page.reload();
    await expect(name(page)).toHaveText('Balogun, Temi');
    await page.keyboard.press('ArrowUp');
    await expect(name(page)).toHaveText('Achterberg, Ruben');
    await expect(note(page)).toHaveText('Kept before. Typed while nobody answered.');
    await expect(kept(page)).toBeHidden({ timeout: 20_000 });
    const other = await page.context().newPage();
    await other.goto(page.url());
    await expect(note(other)).toHaveText('Kept before. Typed while nobody answered.');
  },
);

test('a sentence becomes a phrase, is offered as one types, changed in one place and taken out', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await page.goto(`${tally.address}${ROOM}`);
  await note(page).click();
  await page.keyboard.type('Give the hand-texture result beside the colour.');
  await page.keyboard.press('Alt+Enter');
  await expect(page.getByText('Kept as a phrase: “Give the hand-texture')).toBeVisible();
  await page.keyboard.press('Enter');
  await page.keyboard.type('Mind: /tex');
  const offered = page.getByRole('listbox', { name: 'Phrases' }).getByRole('option');
  await expect(offered).toHaveText(/Give the hand-texture result beside the colour\. 0 ×/);
  await page.keyboard.press('Enter');
  await expect(note(page)).toContainText('Mind: Give the hand-texture result beside the colour.');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'phrases', exact: true }).click();
  const dialog = page.getByRole('dialog', { name: 'Phrases' });
  await expect(dialog.getByText('1 ×')).toBeVisible();
  await dialog.getByLabel('Words').fill('Give the texture, {given}.');
  await dialog.getByLabel('A new phrase').fill('Well argued.');
  await dialog.getByRole('button', { name: 'keep it' }).click();
  await expect(dialog.getByLabel('Words')).toHaveCount(2);
  expect(await accessibilityFaults(page)).toEqual([]);
  await dialog.getByRole('combobox', { name: 'For whom' }).last().click();
  await page.getByRole('option', { name: 'for this book' }).click();
  await dialog.getByRole('button', { name: 'Leave it' }).click();
  await expect(dialog).toBeHidden();
  // Without its first letters all are offered; the first name is filled in.
  await page.keyboard.press('e');
  await page.keyboard.type('/give');
  await page.keyboard.press('Enter');
  await expect(note(page)).toContainText('Give the texture, Ruben.');
  await page.getByRole('button', { name: 'phrases', exact: true }).click();
  await dialog.getByRole('button', { name: 'take out' }).first().click();
  await expect(dialog.getByLabel('Words')).toHaveCount(1);
});
