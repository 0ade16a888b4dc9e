import { cellOf, expect, standingOf, test, WETLAND } from './tally';

test('a note, a flag, and everything of one student on a page', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Farrelly', 'Soil pit');
  await cell.click();
  await page.keyboard.type('/note');
  await page.keyboard.press('Enter');
  await page.getByLabel(/Students never see it/).fill('Ask about the second pit.');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('lt-cell-inspector .note')).toContainText('Ask about the second pit.');
  await expect(cell).toHaveAttribute('aria-label', /has a note/);
  await expect(page.getByRole('grid')).toBeFocused();
  await page.keyboard.type('/second');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveAttribute('aria-label', /second look/);
  // Undo goes over notes and flags too.
  await page.keyboard.press('Control+z');
  await expect(cell).toHaveAttribute('aria-label', /has a note/);
  await page.keyboard.press('Control+y');
  await expect(cell).toHaveAttribute('aria-label', /second look/);

  const standing = await standingOf(page, 'Farrelly').textContent();
  await page.keyboard.type('/student');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Farrelly, Con');
  await expect(page.locator('.now b')).toHaveText(standing!);
  await expect(page.locator('lt-term-line svg')).toHaveAttribute(
    'aria-label',
    new RegExp(`${standing!.replace('.', '\\.')}$`),
  );
  await expect(page.getByRole('main')).toContainText('Ask about the second pit.');
  // Of each assessment one link to its cell, and one to its attempts.
  await expect(page.locator('table.plain a:not(.attempts)')).toHaveCount(10);
  await expect(page.locator('table.plain a.attempts')).toHaveCount(10);
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Grzybek, Ola');
  await tally.navigate(page, `/book/${WETLAND}/student/${await tally.enrolment('Marchetti')}`);
  await expect(page.getByRole('main')).toContainText(/Soil pit\s*due 27 Nov/);
  // On paper: the page alone.
  await page.emulateMedia({ media: 'print' });
  await expect(page.locator('lt-head')).toBeHidden();
  await expect(page.locator('lt-foot-bar')).toBeHidden();
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await page.emulateMedia({ media: 'screen' });

  await tally.navigate(page, '/desk');
  const flag = page.locator('a.line', { hasText: 'Farrelly, Con · Soil pit' });
  await expect(flag).toContainText('Ask about the second pit.');
  await flag.click();
  await expect(page.locator('footer output')).toContainText('Farrelly, Con, Soil pit');
});

test('two people see each other’s place and changes, and what changed since the last visit', async ({
  page,
  tally,
  another,
}) => {
  const book = `${tally.address}/book/orchard-practice/ledger`;
  await tally.letIn(page, 'aldous');
  await page.goto(book);
  await expect(page.locator('.standing b').first()).not.toBeEmpty();
  const other = await another();
  await tally.letIn(other, 'penhale');
  await other.goto(book);
  await (await cellOf(other, 'Quill', 'Rootstock ID')).click();
  await expect(page.locator('.strip')).toContainText('J. Penhale is here too');
  await expect(page.locator('.other')).toContainText('J. Penhale');
  await other.keyboard.type('19');
  await other.keyboard.press('Enter');
  const cell = await cellOf(page, 'Quill', 'Rootstock ID');
  await expect(cell).toHaveText('19.0');
  await expect(cell).toHaveAttribute('aria-label', /changed since you were here/);
  await expect(page.locator('footer output')).toContainText('J. Penhale changed Quill, Rootstock ID.');
  // What is told is taken over, so the next change is no clash.
  await cell.click();
  await page.keyboard.type('18');
  await page.keyboard.press('Enter');
  await expect(await cellOf(other, 'Quill', 'Rootstock ID')).toHaveText('18.0');
  await other.context().close();
  await expect(page.locator('.other')).toHaveCount(0);
});

test('two windows of one person are told by one stream, and the second goes on when the first is closed @long', async ({
  page,
  tally,
  another,
}) => {
  const ledger = (book: string): string => `${tally.address}/book/${book}/ledger`;
  await tally.letIn(page, 'aldous');
  await page.goto(ledger('orchard-practice'));
  await expect(page.locator('.standing b').first()).not.toBeEmpty();
  const second = await page.context().newPage();
  const own: string[] = [];
  second.on('request', (request) => request.url().includes('/api/v1/events') && own.push(request.url()));
  await second.goto(ledger('orchard-practice'));
  await expect(second.locator('.standing b').first()).not.toBeEmpty();
  const other = await another();
  await tally.letIn(other, 'penhale');
  await other.goto(ledger('orchard-practice'));
  for (const score of ['17', '16']) {
    await (await cellOf(other, 'Quill', 'Rootstock ID')).click();
    await other.keyboard.type(score);
    await other.keyboard.press('Enter');
    await expect(await cellOf(second, 'Quill', 'Rootstock ID')).toHaveText(`${score}.0`);
    await expect(second.locator('.strip')).toContainText('J. Penhale is here too');
    if (page.isClosed()) continue;
    await expect(await cellOf(page, 'Quill', 'Rootstock ID')).toHaveText(`${score}.0`);
    expect(own).toEqual([]);
    await page.close();
    await expect.poll(() => own.length).toBeGreaterThan(0);
  }
});

test('news of a book stands on the desk until it was looked at @long', async ({ page, tally, another }) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, '/book/orchard-practice/ledger');
  await expect(page.locator('.standing b').first()).not.toBeEmpty();
  await tally.navigate(page, '/desk');
  await tally.rows(`update last_visit set at = at - interval '1 day' where book = 'orchard-practice'`);
  const other = await another();
  await tally.letIn(other, 'penhale');
  await tally.navigate(other, '/book/orchard-practice/ledger');
  await (await cellOf(other, 'Quill', 'Rootstock ID')).click();
  await other.keyboard.type('15');
  await other.keyboard.press('Enter');
  await expect(other.locator('footer output')).toContainText('Kept');
  await other.context().close();
  await page.reload();
  const news = page.locator('a.line', { hasText: 'changed by others' });
  await expect(news).toContainText('Orchard Practice');
  await news.click();
  await expect(page.locator('.strip')).toContainText('without a change since you were here');
  await expect(page.locator('.row .name b')).toHaveText([/^Quill,/]);
});
