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
  await tally.navigate(page, ROOM);
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
  expect(await tally.rows(`select count(*)::int as notes from end_note where book = $1 and assessment = 'soil-pit'`, [WETLAND])).toEqual([{ notes: 1 }]); // prettier-ignore
});

test('what is dictated goes on with the note, where the browser understands it on the device itself @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await expect(note(page)).toBeVisible();
  const dictate = page.getByRole('button', { name: 'dictate' });
  await expect(dictate).toBeHidden();
  // This machine's browser has no recognition of its own: one that says what the test says stands in for it.
  await page.addInitScript(() => {
    class Recognition extends EventTarget {
      static available = (options: { processLocally: boolean }) =>
        Promise.resolve(options.processLocally ? 'available' : 'unavailable');
      get processLocally(): boolean {
        return true;
      }
      set processLocally(_: boolean) {
        Object.assign(globalThis, { spoken: this });
      }
      start(): void {}
      stop(): void {
        this.dispatchEvent(new Event('end'));
      }
    }
    Object.assign(globalThis, { SpeechRecognition: Recognition });
  });
  await page.reload();
  await note(page).pressSequentially('Clear drawing.');
  await dictate.click();
  await page.evaluate(() => {
    const results = [Object.assign([{ transcript: 'Say how you know.' }], { isFinal: true })];
    const event = Object.assign(new Event('result'), { resultIndex: 0, results });
    (globalThis as unknown as { spoken: EventTarget }).spoken.dispatchEvent(event);
  });
  await expect(note(page)).toHaveText('Clear drawing. Say how you know.');
  await page.getByRole('button', { name: 'stop dictating' }).click();
  await expect(dictate).toBeVisible();
  await expect(kept(page)).toBeHidden();
  await page.reload();
  await expect(note(page)).toHaveText('Clear drawing. Say how you know.');
});

test('two who write in one note see each other’s words at once, and every word stays', async ({
  page,
  tally,
  another,
}) => {
  await tally.rows(
    `insert into book_staff (school, book, person, role) select school, $1, id, 'marker' from person where login = 'quigg'`,
    [WETLAND],
  );
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await expect(note(page)).toBeVisible();
  const other = await another();
  await tally.letIn(other, 'quigg');
  await other.goto(page.url());
  await expect(note(other)).toBeVisible();
  await note(page).click();
  await page.keyboard.type('First.');
  await expect(note(other)).toHaveText('First.');
  // In one line at once, one at each end.
  await note(other).click();
  await other.keyboard.press('Home');
  await page.keyboard.press('End');
  await Promise.all([
    page.keyboard.type(' Then the pit was drawn.', { delay: 20 }),
    other.keyboard.type('Before: ', { delay: 40 }),
  ]);
  for (const p of [page, other]) await expect(note(p)).toHaveText('Before: First. Then the pit was drawn.');
  // One takes back only what one wrote oneself, a pause at a time, and then nothing more.
  await expect(async () => {
    if ((await note(other).innerText()).startsWith('B')) await other.keyboard.press('Control+z');
    await expect(note(other)).toHaveText('First. Then the pit was drawn.', { timeout: 1_000 });
  }).toPass();
  await other.keyboard.press('Control+z');
  for (const p of [page, other]) await expect(note(p)).toHaveText('First. Then the pit was drawn.');
});

test(
  'a line that is down and a server that is killed lose no word, a reload included',
  { tag: ['@line-cut', '@long'] },
  async ({ page, tally }) => {
    // prettier-ignore
    await tally.letIn(page, 'aldous');
    await tally.navigate(page, ROOM);
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

test('a sentence becomes a phrase, is offered as one types, changed in one place and taken out @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
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
  // It lies over the whole page, not within the part that it was opened from; it opens by growing.
  const { width: across, height: down } = page.viewportSize()!;
  await expect(async () => {
    const { x, y, width, height } = (await dialog.boundingBox())!;
    expect(width).toBeGreaterThan(500);
    expect(Math.abs(x + width / 2 - across / 2)).toBeLessThan(10);
    expect(Math.abs(y + height / 2 - down / 2)).toBeLessThan(10);
  }).toPass();
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

test('a phrase that is changed half-way leads through just those notes that have its former words @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  const phrase = 'Give the hand-texture result, {given}.';
  const as = await tally.as('aldous');
  await as('PUT', `/books/${WETLAND}/phrases/texture`, { version: 0, scope: 'own', words: phrase });
  await page.reload();
  for (const student of ['Ibekwe', 'Jansky']) {
    await page.getByRole('button', { name: new RegExp(`^${student}`) }).click();
    await expect(note(page)).toBeVisible();
    await line(page).fill('/hand');
    await page.keyboard.press('Enter');
    await expect(note(page)).toContainText('Give the hand-texture result,');
    await expect(kept(page)).toBeHidden();
  }
  await page.getByRole('button', { name: 'phrases' }).click();
  const all = page.getByRole('dialog').getByRole('textbox', { name: 'Words', exact: true });
  await expect(all.first()).toBeVisible();
  const at = await all.evaluateAll((boxes, of) => boxes.findIndex((b) => (b as HTMLTextAreaElement).value === of), phrase); // prettier-ignore
  const words = all.nth(at);
  await words.fill('Say which hand-texture you found, {given}.');
  await words.blur();
  await expect(page.getByRole('dialog')).toContainText('2 students have the former words here');
  await page.getByRole('button', { name: 'go through them' }).click();
  await expect(page.getByText('2 of 21 listed')).toBeVisible();
  await expect(page.getByText('“Give the hand-texture result, Petra.” is now')).toBeVisible();
  await page.getByRole('button', { name: 'put the new words in' }).click();
  await expect(note(page)).toHaveText('Say which hand-texture you found, Petra.');
  await expect(page.getByRole('button', { name: 'put the new words in' })).toBeHidden();
  await page.getByRole('button', { name: /^Ibekwe/ }).click();
  await page.getByRole('button', { name: 'put the new words in' }).click();
  await expect(note(page)).toHaveText('Say which hand-texture you found, Chidi.');
  await page.getByRole('button', { name: 'show everybody' }).first().click();
  await expect(page.getByText('21 of 21 listed')).toBeVisible();
});

test(
  'short comments go down the plain sheet after the scores, over a dead line too',
  { tag: ['@line-cut', '@long'] },
  async ({ page, tally }) => {
    await tally.letIn(page, 'aldous');
    await tally.navigate(page, `${ROOM}/sheet`);
    const score = (name: string) => page.getByLabel(name, { exact: true });
    const comment = (name: string) => page.getByLabel(`Comment for ${name}`);
    await score('Achterberg, Ruben').fill('12');
    await page.keyboard.press('Tab');
    await expect(comment('Achterberg, Ruben')).toBeFocused();
    await page.keyboard.type('Held up well.');
    await page.keyboard.press('Enter');
    await expect(score('Balogun, Temi')).toBeFocused();
    const row = (name: string) => page.getByRole('listitem').filter({ hasText: name });
    await expect(row('Achterberg')).toContainText('Held up well.');
    await comment('Balogun, Temi').focus();
    await page.keyboard.press('ArrowUp');
    await expect(comment('Achterberg, Ruben')).toBeFocused();
    // Another line stands below what is there.
    await comment('Achterberg, Ruben').fill('Name the horizons.');
    await page.keyboard.press('Enter');
    await expect(row('Achterberg')).toContainText('Held up well. Name the horizons.');
    await page.context().setOffline(true);
    await comment('Balogun, Temi').fill('Well argued.');
    await page.keyboard.press('Enter');
    await expect(row('Balogun')).toContainText('Well argued.');
    await page.context().setOffline(false);
    const notes = () => tally.rows<{ n: number }>(`select count(*)::int as n from end_note where version > 0 and assessment = 'soil-pit'`); // prettier-ignore
    await expect.poll(async () => (await notes())[0]!.n).toBeGreaterThanOrEqual(2);
    await page.reload();
    await expect(row('Balogun')).toContainText('Well argued.');
    expect(await accessibilityFaults(page)).toEqual([]);
    await tally.navigate(page, ROOM);
    await page.getByRole('button', { name: /^Achterberg/ }).click();
    await expect(note(page).locator('p')).toHaveText(['Held up well.', 'Name the horizons.']);
  },
);
