import { expect, test, WETLAND } from './tally';

const book = `/book/${WETLAND}`;

test('the guide opens beside any page at what belongs to it, and goes along', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await page.keyboard.press('F1');
  const guide = page.getByRole('complementary', { name: 'Guide' });
  await expect(guide.getByRole('heading', { level: 1 })).toHaveText('The ledger');
  // What is beside it can be worked on.
  await page.locator('.row [role=gridcell]').nth(3).click();
  await page.keyboard.press('ArrowDown');
  await expect(page.locator('footer output')).toContainText('Achterberg');

  await page.getByRole('link', { name: 'Rules', exact: true }).click();
  await page.getByRole('navigation', { name: 'Kinds of rules' }).getByRole('button', { name: 'Hurdles' }).click();
  await expect(guide.getByRole('heading', { level: 1 })).toHaveText('Hurdles');
  await page.goto(`${tally.address}${book}/assessments/report`);
  await expect(page.getByRole('heading', { name: 'Report' })).toBeVisible();
  await page.getByRole('button', { name: 'Guide' }).click();
  await expect(guide.locator('section.here')).toContainText('Change one on its page');
  await guide.getByRole('button', { name: 'leave it' }).click();
  await expect(guide).toHaveCount(0);
});

test('Ctrl+K finds what the guide says, in its titles and in its words', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await page.keyboard.press('Control+k');
  await page.keyboard.type('to and from a spreadsheet');
  await expect(page.getByRole('option').first()).toContainText('To and from a spreadsheet');
  await page.keyboard.press('Enter');
  await expect(page.locator('section.here')).toContainText('Ctrl+V pastes at the selection');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('doubled by number');
  await page.keyboard.press('Enter');
  await expect(page.locator('section.here')).toContainText('Nobody is doubled');
});

test(
  'every link of the guide leads to a page of it, and each prints alone',
  { tag: '@long' },
  async ({ page, tally }) => {
    // Nobody has to be signed in to read it.
    const open = ['/guide'];
    const read = new Set<string>();
    while (open.length > 0) {
      const address = open.pop()!;
      if (read.has(address)) continue;
      read.add(address);
      await page.goto(tally.address + address);
      const title = page.getByRole('heading', { level: 1 });
      await expect(title).not.toBeEmpty();
      expect([address, await title.textContent()]).not.toEqual([address, 'No such page']);
      const part = address.split('#')[1];
      if (part) await expect(page.locator('section.here')).toHaveAttribute('id', `guide-${part}`);
      const hrefs = await page
        .locator('lt-guide-reader a')
        .evaluateAll((all) => all.map((a) => a.getAttribute('href')!));
      for (const href of hrefs) {
        expect([address, href]).toEqual([address, expect.stringMatching(/^\/guide/)]);
        open.push(href);
      }
    }
    expect(read.size).toBeGreaterThan(25);

    // Followed by hand it goes on without a new page.
    await page.goto(`${tally.address}/guide/rules`);
    await page.getByRole('link', { name: 'lateness', exact: true }).click();
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('Lateness');
    await expect(page).toHaveURL(/guide\/rules\/lateness$/);
    await page.emulateMedia({ media: 'print' });
    await expect(page.locator('header')).toBeHidden();
    await expect(page.getByText('Print this page')).toBeHidden();
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await page.goto(`${tally.address}/guide/no-such-thing`);
    await expect(page.getByRole('heading', { level: 1 })).toHaveText('No such page');
  },
);
