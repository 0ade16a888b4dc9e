import PDFDocument from 'pdfkit';
import type { Page } from '@playwright/test';
import { expect, test, WETLAND, type Tally } from './tally';

const ROOM = `/book/${WETLAND}/marking/soil-pit`;
const row = (page: Page, student: string) => page.getByRole('button', { name: new RegExp(`^${student}`) });

async function enter(page: Page, tally: Tally, student: string, login = 'aldous'): Promise<void> {
  await tally.letIn(page, login);
  await tally.navigate(page, ROOM);
  await row(page, student).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(student);
}

const highlighted = (page: Page, name: string): Promise<string[]> =>
  page.evaluate((of) => {
    const all = CSS.highlights as unknown as Map<string, Iterable<Range>>;
    return [...(all.get(of) ?? [])].map((r) => r.toString());
  }, name);

/** How many of the places that are shown as found stand on this page of the PDF. */
const foundOnPage = (page: Page, number: number): Promise<number> =>
  page.evaluate((n) => {
    const sheet = document.querySelector(`[data-page="${n}"]`);
    const all = CSS.highlights as unknown as Map<string, Iterable<Range>>;
    return [...(all.get('found') ?? [])].filter((r) => sheet?.contains(r.startContainer)).length;
  }, number);

test('words are found in a PDF, on pages that are not drawn yet too, one after the other by keyboard', async ({
  page,
  tally,
}) => {
  await enter(page, tally, 'Ibekwe');
  await expect(page.locator('.textLayer span').first()).toBeAttached();
  await page.keyboard.press('Escape');
  await row(page, 'Ibekwe').focus();
  await page.keyboard.press('w');
  const line = page.getByRole('textbox', { name: 'Words to find' });
  await expect(line).toBeFocused();
  // The heading of the work is on its first page alone, whatever its case and spaces.
  await page.keyboard.type('SOIL pit,  wetland');
  const count = page.getByRole('search').getByRole('status');
  await expect(count).toHaveText('1 of 1');
  await expect.poll(() => highlighted(page, 'found-now')).toEqual(['Soil pit, Wetland']);
  // A common word is on both pages: the last of them is brought into sight, and around it goes to the first.
  await line.fill('the');
  await expect(count).toHaveText(/^1 of \d\d/);
  // Pages that come in sight later show theirs too.
  await page.getByRole('region', { name: 'The work', exact: true }).evaluate((e) => e.scrollTo(0, e.scrollHeight));
  await expect.poll(() => foundOnPage(page, 2)).toBeGreaterThan(0);
  await line.focus();
  await page.keyboard.press('Shift+Enter');
  await expect(count).toHaveText(/^(\d+) of \1$/);
  const [all] = (await count.innerText()).split(' ');
  await expect(page.getByLabel('Page', { exact: true })).toHaveText('2 / 2');
  await expect.poll(() => highlighted(page, 'found-now')).toHaveLength(1);
  await page.keyboard.press('Enter');
  await expect(count).toHaveText(`1 of ${all}`);
  await line.fill('no such words');
  await expect(count).toHaveText('not found');
  expect(await highlighted(page, 'found')).toEqual([]);
  await page.keyboard.press('Escape');
  await expect(line).toBeHidden();
});

test('words are found in a document and in what was typed; another student’s work is searched anew @long', async ({
  page,
  tally,
}) => {
  await enter(page, tally, 'Quill');
  await page.getByRole('button', { name: 'find', exact: true }).click();
  const line = page.getByRole('textbox', { name: 'Words to find' });
  await line.fill('a');
  await expect(page.getByRole('search').getByRole('status')).toHaveText(/^1 of \d+/);
  await page.keyboard.press('Escape');
  // A document that was laid out by words.
  await row(page, 'Eklund').click();
  await page.getByRole('button', { name: 'attempt 1', exact: true }).click();
  await expect(page.locator('lt-document-page')).toBeVisible();
  await page.getByRole('button', { name: 'find', exact: true }).click();
  await line.fill('signe eklund');
  await expect(page.getByRole('search').getByRole('status')).toHaveText('1 of 1');
  await expect.poll(() => highlighted(page, 'found-now')).toEqual(['Signe Eklund']);
  await row(page, 'Grzybek').click();
  await expect(line).toBeHidden();
  expect(await highlighted(page, 'found')).toEqual([]);
});

test('the attempt before stands beside the one that is marked, and cannot be marked on @long', async ({
  page,
  tally,
}) => {
  await enter(page, tally, 'Eklund');
  await page.getByRole('button', { name: 'beside attempt 1' }).click();
  const other = page.locator('lt-beside-work');
  await expect(other).toContainText('attempt 1,');
  await expect(other.locator('[data-drawn]').first()).toBeVisible();
  await expect(page.locator('.middle > lt-work-view [data-drawn]').first()).toBeVisible();
  await other.getByRole('button', { name: 'close' }).click();
  await expect(other).toBeHidden();
  await page.getByRole('button', { name: 'beside attempt 1' }).click();
  // It is this student's alone.
  await row(page, 'Farrelly').click();
  await expect(other).toBeHidden();
});

test('what was read to its end counts as looked through, and colleagues see so at once @long', async ({
  page,
  tally,
  another,
}) => {
  await enter(page, tally, 'Kilbride');
  const said = page.locator('.came .opened');
  await expect(said).toHaveText('opened by you');
  await expect(page.locator('.textLayer span').first()).toBeAttached();
  await tally.rows(
    `insert into book_staff (school, book, person, role) select school, $1, id, 'marker' from person where login = 'quigg'`,
    [WETLAND],
  );
  const other = await another();
  await enter(other, tally, 'Kilbride', 'quigg');
  await expect(other.locator('.came .opened')).toHaveText('opened by you, R. Aldous');
  await page.getByRole('region', { name: 'The work', exact: true }).evaluate((e) => e.scrollTo(0, e.scrollHeight));
  await expect(said).toHaveText(/looked through by you/);
  await expect(other.locator('.came .opened')).toHaveText('looked through by R. Aldous, opened by you');
  await page.reload();
  await expect(said).toHaveText(/looked through by you/);
});

test(
  'a server that is killed while one draws and writes loses nothing',
  { tag: ['@line-cut', '@long'] },
  async ({ page, tally }) => {
    await enter(page, tally, 'Ibekwe');
    await expect(page.locator('.textLayer span').first()).toBeAttached();
    const box = (await page.locator('lt-surface-marks').first().boundingBox())!;
    const stroke = async (y: number): Promise<void> => {
      await page.mouse.move(box.x + 0.3 * box.width, box.y + y * box.width);
      await page.mouse.down();
      await page.mouse.move(box.x + 0.6 * box.width, box.y + (y + 0.04) * box.width, { steps: 8 });
      await page.mouse.up();
    };
    await page.keyboard.press('p');
    await stroke(0.3);
    await tally.kill();
    for (const y of [0.36, 0.42]) await stroke(y);
    await page.keyboard.press('Escape');
    await page.getByRole('textbox', { name: 'End note' }).click();
    await page.keyboard.type('Well drawn.');
    await page.getByRole('button', { name: 'say it' }).click();
    await expect(page.getByRole('alert').filter({ hasText: 'does not answer' }).first()).toBeVisible();
    await page.reload().catch(() => undefined);
    await tally.restart();
    await tally.navigate(page, ROOM);
    await row(page, 'Ibekwe').click();
    await expect(page.getByRole('textbox', { name: 'End note' })).toHaveText('Well drawn.');
    const strokes = () => page.locator('lt-surface-marks .mark.pen path').count();
    await expect.poll(strokes).toBeGreaterThanOrEqual(3);
    await expect.poll(async () => (await tally.rows(`select annotation from work_mark where not removed`)).length).toBeGreaterThan(0); // prettier-ignore
  },
);

test('examples are pinned, stand beside whoever is marked, and are there again after a reload @long', async ({
  page,
  tally,
}) => {
  await enter(page, tally, 'Ibekwe');
  await page.getByRole('button', { name: 'examples', exact: true }).click();
  await page.getByRole('menuitemcheckbox', { name: 'this work is one' }).click();
  await row(page, 'Jansky').click();
  await page.getByRole('button', { name: 'examples', exact: true }).click();
  await page.getByRole('menuitem', { name: /Ibekwe, Chidi/ }).click();
  const beside = page.locator('lt-beside-work');
  await expect(beside).toContainText('Ibekwe, Chidi');
  await expect(beside.locator('[data-drawn]').first()).toBeVisible();
  // It stays while one goes on, and is nobody else's.
  await row(page, 'Kilbride').click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Kilbride, Nora');
  await expect(beside).toContainText('Ibekwe, Chidi');
  await page.reload();
  await page.getByRole('button', { name: 'hide names' }).click();
  await page.getByRole('button', { name: 'examples', exact: true }).click();
  await expect(page.getByRole('menuitem')).toHaveText([/^Reed \d\d/]);
  await page.getByRole('menuitem').click();
  await expect(beside).toContainText(/Reed \d\d/);
  await expect(beside).not.toContainText('Ibekwe,');
});

/** Pages one below the other, each with its number. */
function longPdf(pages: number): Promise<Buffer> {
  const pdf = new PDFDocument();
  const pieces: Buffer[] = [];
  pdf.on('data', (piece: Buffer) => pieces.push(piece));
  for (let n = 1; n <= pages; n++) (n === 1 ? pdf : pdf.addPage()).text(`leaf ${n}.`);
  return new Promise((done) => {
    pdf.on('end', () => done(Buffer.concat(pieces)));
    pdf.end();
  });
}

test('a long document is drawn wherever one leaps to, and nowhere else @long', async ({ page, tally }) => {
  const body = await longPdf(40);
  await page.route('**/submissions/*/files/**', (route) => route.fulfill({ body, contentType: 'application/pdf' }));
  await enter(page, tally, 'Ibekwe');
  const work = page.getByRole('region', { name: 'The work', exact: true });
  const sheet = (n: number) => page.getByRole('group', { name: `Page ${n}`, exact: true });
  await expect(sheet(1)).toContainText('leaf 1.');
  for (const n of [40, 20, 26, 1, 33]) {
    await work.evaluate((e, at) => e.scrollTo(0, (at / 40) * e.scrollHeight), n - 1);
    await expect(sheet(n)).toContainText(`leaf ${n}.`);
    await expect.poll(() => page.locator('[data-page][data-drawn]').count()).toBeLessThan(5);
  }
});

/** A PDF whose second page lies across. */
function mixedPdf(): Promise<Buffer> {
  const pdf = new PDFDocument({ size: 'A4' });
  const pieces: Buffer[] = [];
  pdf.on('data', (piece: Buffer) => pieces.push(piece));
  pdf.text('The report');
  pdf.addPage({ size: 'A4', layout: 'landscape' }).text('The cross section');
  return new Promise((done) => {
    pdf.on('end', () => done(Buffer.concat(pieces)));
    pdf.end();
  });
}

test('a page of another size than the first is drawn in its own @long', async ({ page, tally }) => {
  const body = await mixedPdf();
  await page.route('**/submissions/*/files/**', (route) => route.fulfill({ body, contentType: 'application/pdf' }));
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, ROOM);
  await row(page, 'Ibekwe').click();
  const second = page.getByRole('group', { name: 'Page 2' });
  await expect(page.getByRole('group', { name: 'Page 1' })).toContainText('The report');
  await second.scrollIntoViewIfNeeded();
  await expect(second).toContainText('The cross section');
  await expect(second).toHaveAttribute('data-drawn', 'yes');
  const box = (await second.boundingBox())!;
  expect(box.width).toBeGreaterThan(box.height);
  // Turned by a quarter, and larger, both are drawn anew.
  await page.locator('body').press('r');
  await expect(second).toContainText('The cross section');
  await expect
    .poll(async () => (await second.boundingBox())!.height / (await second.boundingBox())!.width)
    .toBeGreaterThan(1.3);
});
