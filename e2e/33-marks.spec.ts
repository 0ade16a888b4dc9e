import { readFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import { accessibilityFaults } from './axe';
import { expect, test, WETLAND, type Tally } from './tally';
import { ROOM, at, atPdf, chooseWords, drawLines, goTo, margin, mark, words } from './work-marks';

const kept = (tally: Tally) =>
  tally.rows<{ n: number }>('select count(*)::int as n from work_mark where not removed').then((r) => r[0]!.n);

async function second(another: () => Promise<Page>, tally: Tally, url: string): Promise<Page> {
  await tally.rows(
    `insert into book_staff (school, book, person, role) select school, $1, id, 'marker' from person where login = 'quigg'`,
    [WETLAND],
  );
  const other = await another();
  await tally.letIn(other, 'quigg');
  await other.goto(url);
  await expect(other.locator('.textLayer span').first()).toBeAttached();
  return other;
}

test('words are highlighted, commented on and struck; notes, text, areas and the pen stand where they were put', async ({
  page,
  tally,
}) => {
  await atPdf(page, tally);
  await chooseWords(page, 2, 0.2, 0.6);
  await page.keyboard.press('c');
  await expect(words(page)).toBeFocused();
  await page.keyboard.type('Say how you know.');
  await page.keyboard.press('Enter');
  await expect(margin(page)).toContainText('Say how you know.');
  await expect(mark(page, 'highlight')).toHaveCount(1);
  await chooseWords(page, 4, 0.1, 0.3);
  await page.getByRole('button', { name: 'strike' }).click();
  await expect(page.getByRole('textbox', { name: 'Better' })).toBeFocused();
  await page.keyboard.type('loam');
  await page.keyboard.press('Enter');
  await expect(mark(page, 'strike').locator('text')).toHaveText('loam');
  // A note in the margin and a text on the work, with the mouse and without.
  await page.keyboard.press('m');
  await page.mouse.click(...(await at(page, 0.7, 0.3)));
  await expect(words(page)).toBeFocused();
  await page.keyboard.type('Measured?');
  await page.keyboard.press('Enter');
  await page.keyboard.press('m');
  await page.keyboard.press('Enter');
  await expect(words(page)).toBeFocused();
  await page.keyboard.press('Escape');
  // It said nothing, so it is none.
  await expect(mark(page, 'note')).toHaveCount(1);
  await page.keyboard.press('t');
  await page.mouse.click(...(await at(page, 0.15, 0.1)));
  await expect(page.getByRole('textbox', { name: 'Text on the work' })).toBeFocused();
  await page.keyboard.type('Good opening');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Text: Good opening' })).toBeVisible();
  // Lines that follow each other are one drawing, each a step of its own.
  await page.keyboard.press('p');
  await drawLines(page, [[0.3, 0.5], [0.4, 0.45], [0.5, 0.5]], [[0.3, 0.52], [0.5, 0.52]]); // prettier-ignore
  await page.keyboard.press('Escape');
  await expect(mark(page, 'pen')).toHaveCount(1);
  await expect.poll(() => kept(tally)).toBe(5);
  const pathsOf = () => mark(page, 'pen').locator('path').count();
  await expect.poll(pathsOf).toBe(2);
  await page.keyboard.press('Control+z');
  await expect.poll(pathsOf).toBe(1);
  await page.keyboard.press('Control+y');
  await expect.poll(pathsOf).toBe(2);
  expect(await accessibilityFaults(page)).toEqual([]);
  // Another colour, another place, off and back again, by keyboard.
  await mark(page, 'pen').focus();
  const before = (await mark(page, 'pen').locator('path').first().getAttribute('d'))!;
  await page.keyboard.press('ArrowDown');
  await expect(mark(page, 'pen').locator('path').first()).not.toHaveAttribute('d', before);
  await page.getByRole('button', { name: 'teal' }).click();
  await expect(mark(page, 'pen')).toHaveClass(/teal/);
  await mark(page, 'pen').focus();
  await page.keyboard.press('Delete');
  await expect(mark(page, 'pen')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(mark(page, 'pen')).toHaveClass(/teal/);
  // Larger, turned and loaded anew all lie where they lay.
  const share = async (kind: string): Promise<[number, number]> => {
    const [p, m] = [await page.locator('lt-surface-marks').first().boundingBox(), await mark(page, kind).boundingBox()];
    return [(m!.x - p!.x) / p!.width, (m!.y - p!.y) / p!.height];
  };
  const was = await share('highlight');
  await page.getByRole('button', { name: 'larger' }).click();
  await expect.poll(async () => (await share('highlight'))[0]).toBeCloseTo(was[0], 2);
  expect((await share('highlight'))[1]).toBeCloseTo(was[1], 2);
  await page.getByRole('button', { name: 'turn' }).click();
  // A quarter to the right: what lay across now lies down.
  await expect.poll(async () => (await share('highlight'))[1]).toBeCloseTo(was[0], 2);
  await expect.poll(() => kept(tally)).toBe(5);
  await page.reload();
  await goTo(page, 'Ibekwe');
  for (const kind of ['highlight', 'strike', 'note', 'pen']) await expect(mark(page, kind)).toHaveCount(1);
  await expect(margin(page)).toContainText('Say how you know.');
  await expect(page.getByRole('button', { name: 'turn' })).toBeVisible();
  // And never with another student’s work.
  await goTo(page, 'Achterberg');
  await expect(page.locator('lt-picture-page [data-drawn]')).toBeVisible();
  await expect(page.locator('[data-mark]')).toHaveCount(0);
});

test('marks lie on typed text and on photographs too, and stay with the words when the page is narrow @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await goTo(page, 'Quill');
  const text = page.locator('lt-text-page code');
  await expect(text).toBeVisible();
  await expect(page.getByRole('toolbar', { name: 'Mark on the work' })).toBeVisible();
  const box = (await text.boundingBox())!;
  await page.mouse.dblclick(box.x + 60, box.y + 10);
  await page.getByRole('button', { name: 'comment' }).click();
  await page.keyboard.type('Where?');
  await page.keyboard.press('Enter');
  await page.keyboard.press('p');
  await drawLines(page, [[0.2, 0.2], [0.5, 0.25]]); // prettier-ignore
  await page.keyboard.press('Escape');
  await expect.poll(() => kept(tally)).toBe(2);
  const over = async () => {
    const [m, words] = [await mark(page, 'highlight').boundingBox(), await text.boundingBox()];
    return [Math.round(m!.y - words!.y), m!.width > 5];
  };
  expect(await over()).toEqual([expect.any(Number), true]);
  await goTo(page, 'Achterberg');
  await expect(page.locator('lt-picture-page [data-drawn]')).toBeVisible();
  await expect(page.locator('[data-mark]')).toHaveCount(0);
  // It can be marked once what is on it already is known.
  await expect(page.getByRole('toolbar', { name: 'Mark on the work' })).toBeVisible();
  await page.keyboard.press('h');
  await drawLines(page, [[0.2, 0.2], [0.5, 0.4]]); // prettier-ignore
  await expect(words(page)).toBeFocused();
  await page.keyboard.type('Which horizon?');
  await page.keyboard.press('Enter');
  await expect.poll(() => kept(tally)).toBe(3);
  await page.setViewportSize({ width: 390, height: 844 });
  await goTo(page, 'Quill');
  await expect(mark(page, 'highlight')).toHaveCount(1);
  expect((await over())[1]).toBe(true);
});

test('two on one work see each other’s marks at once, and where both change the same one both stand @long', async ({
  page,
  tally,
  another,
}) => {
  await atPdf(page, tally);
  const other = await second(another, tally, page.url());
  await chooseWords(page, 2, 0.2, 0.6);
  await page.keyboard.press('c');
  await page.keyboard.type('Say how.');
  await page.keyboard.press('Enter');
  await expect(margin(other)).toContainText('Say how.');
  // Both write in it: one has no line for a moment, so neither has seen the other’s words.
  await other.context().setOffline(true);
  await other.getByRole('button', { name: /^Highlight over/ }).last().click(); // prettier-ignore
  await words(other).fill('Say how you know.');
  await page.getByRole('button', { name: /^Highlight over/ }).last().click(); // prettier-ignore
  await words(page).fill('Say what you saw.');
  await page.keyboard.press('Enter');
  await expect(page.getByText('not kept yet')).toBeHidden();
  await other.context().setOffline(false);
  for (const p of [page, other])
    for (const said of ['Say how you know.', 'Say what you saw.']) {
      const label = new RegExp(`^Highlight over .*${said}`);
      await expect(mark(p, 'highlight').and(p.getByRole('button', { name: label }))).toHaveCount(1, {
        timeout: 20_000,
      });
    }
  // Whoever was writing writes on in their own.
  await expect(words(other)).toHaveValue('Say how you know.');
  await expect(words(other)).toBeFocused();
  expect(await kept(tally)).toBe(2);
});

/** As a browser does with a window that another lies over, or that is looked at again. */
const setHidden = (page: Page, hidden: boolean): Promise<void> =>
  page.evaluate((is) => {
    Object.defineProperty(document, 'hidden', { configurable: true, get: () => is });
    document.dispatchEvent(new Event('visibilitychange'));
  }, hidden);

test('what a colleague marks and writes while nobody looks at the page is there once somebody does @long', async ({
  page,
  tally,
  another,
}) => {
  await atPdf(page, tally);
  const other = await second(another, tally, page.url());
  const note = (p: Page) => p.getByRole('textbox', { name: 'End note' });
  const notes = () => tally.rows<{ n: number }>('select count(*)::int as n from end_note').then((r) => r[0]!.n);
  const before = await notes();
  await setHidden(other, true);
  await chooseWords(page, 2, 0.2, 0.6);
  await page.keyboard.press('c');
  await page.keyboard.type('Say how.');
  await page.keyboard.press('Enter');
  await note(page).click();
  await page.keyboard.type('Clear drawing.');
  await expect(page.getByText('not kept yet')).toHaveCount(0);
  await expect.poll(notes).toBe(before + 1);
  await expect(margin(other)).not.toContainText('Say how.');
  await setHidden(other, false);
  await expect(margin(other)).toContainText('Say how.');
  await expect(note(other)).toHaveText('Clear drawing.');
});

test('a pen on a tablet draws by itself while a finger scrolls @long', async ({ another, tally }) => {
  const page = await another({ viewport: { width: 1024, height: 768 }, hasTouch: true });
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  const students = ['Ibekwe', 'Achterberg', 'Balogun', 'Dacosta', 'Quill'];
  for (const [i, student] of students.entries()) {
    await goTo(page, student);
    await expect(page.locator('lt-work-view [data-drawn]').first()).toBeVisible({ timeout: 20_000 });
    await expect(page.getByRole('toolbar', { name: 'Mark on the work' })).toBeVisible();
    await expect(page.locator('lt-surface-marks').first()).toBeAttached();
    const [x, y] = await at(page, 0.3, 0.2);
    const pen = await page.context().newCDPSession(page);
    const press = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', dx: number, force: number) =>
      pen.send('Input.dispatchMouseEvent', { type, x: x + dx, y: y + dx / 3, button: 'left', buttons: 1, clickCount: 1, pointerType: 'pen', force }); // prettier-ignore
    await press('mousePressed', 0, 0.2);
    for (let dx = 5; dx <= 80; dx += 5) await press('mouseMoved', dx, 0.2 + dx / 110);
    await press('mouseReleased', 80, 0);
    await expect(mark(page, 'pen')).toHaveCount(1);
    await expect.poll(() => kept(tally)).toBe(i + 1);
    // The harder it is pressed the wider it is.
    const widths = () =>
      mark(page, 'pen').locator('path').evaluateAll((all) => all.map((p) => Number(p.getAttribute('stroke-width')))); // prettier-ignore
    await expect.poll(async () => (await widths()).length).toBeGreaterThan(1);
    const [first, ...others] = await widths();
    expect(others.at(-1)).toBeGreaterThan(first!);
  }
});

test('what is drawn and typed over a dead line is kept when it is back, a reload included @line-cut @long', async ({
  page,
  tally,
}) => {
  await atPdf(page, tally);
  await page.context().setOffline(true);
  await page.keyboard.press('p');
  await drawLines(page, [[0.3, 0.3], [0.5, 0.3]]); // prettier-ignore
  await page.keyboard.press('Escape');
  await chooseWords(page, 2, 0.2, 0.6);
  await page.keyboard.press('c');
  await page.keyboard.type('Over a dead line.');
  await page.keyboard.press('Enter');
  await expect(margin(page)).toContainText('not kept yet');
  expect(await kept(tally)).toBe(0);
  await page.context().setOffline(false);
  await page.reload();
  await goTo(page, 'Ibekwe');
  await expect(margin(page)).toContainText('Over a dead line.');
  await expect(mark(page, 'pen')).toHaveCount(1);
  await expect.poll(() => kept(tally)).toBe(2);
});

test('marks leave as a marked PDF and as annotations, and come in again whole @long', async ({ page, tally }) => {
  await atPdf(page, tally);
  await chooseWords(page, 2, 0.2, 0.6);
  await page.keyboard.press('c');
  await page.keyboard.type('Say how you know.');
  await page.keyboard.press('Enter');
  await page.keyboard.press('p');
  await drawLines(page, [[0.3, 0.5], [0.5, 0.45]]); // prettier-ignore
  await page.keyboard.press('Escape');
  await expect.poll(() => kept(tally)).toBe(2);
  const save = async (what: string): Promise<Buffer> => {
    await page.getByRole('button', { name: 'copies' }).click();
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('menuitem', { name: what }).click()]); // prettier-ignore
    return readFile(await download.path());
  };
  // The viewer itself reads the marks of the copy.
  const { getDocument } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const copy = await getDocument({ data: new Uint8Array(await save('marked copy')) }).promise;
  const found = (await (await copy.getPage(1)).getAnnotations()) as { subtype: string; contentsObj: { str: string }; hasAppearance: boolean }[]; // prettier-ignore
  expect(found.map((a) => a.subtype).sort()).toEqual(['FreeText', 'Highlight', 'Ink', 'Line']);
  expect(found.every((a) => a.hasAppearance)).toBe(true);
  expect(found.find((a) => a.subtype === 'Highlight')!.contentsObj.str).toBe('Say how you know.');
  const annotations = await save('as annotations');
  const all = JSON.parse(annotations.toString()) as { items: object[] };
  expect(all.items).toHaveLength(2);
  for (const kind of ['highlight', 'pen']) {
    await mark(page, kind).focus();
    await page.keyboard.press('Delete');
  }
  await expect.poll(() => kept(tally)).toBe(0);
  await page.getByLabel('Annotations').setInputFiles({ name: 'marks.jsonld', mimeType: 'application/json', buffer: annotations }); // prettier-ignore
  await expect(page.locator('footer')).toContainText('2 marks brought in.');
  await expect(mark(page, 'highlight')).toHaveCount(1);
  await page.getByLabel('Annotations').setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{') }); // prettier-ignore
  await expect(page.locator('footer')).toContainText('This is no JSON. Nothing was brought in.');
});
