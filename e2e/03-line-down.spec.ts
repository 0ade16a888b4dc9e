import { cellOf, expect, test } from './tally';

const scoreIn = `select score::float as score from attempt where book = 'wetland-survey-methods' and assessment = 'report' and enrolment = $1`;

test('with the line down nothing typed is lost, a reload included', { tag: '@line-cut' }, async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const student = await tally.enrolment('Kilbride');
  await page.route('**/entries/**', (route) => route.abort());
  const cell = await cellOf(page, 'Kilbride', 'Report');
  await cell.click();
  await page.keyboard.type('77');
  await page.keyboard.press('Enter');
  await expect(cell).toHaveText('77.0');
  await expect(cell).toHaveAttribute('aria-label', /not kept yet/);
  await expect(page.locator('footer output')).toContainText('1 cell is not kept yet');
  expect(await tally.rows(scoreIn, [student])).toEqual([]);

  await page.reload();
  await expect(await cellOf(page, 'Kilbride', 'Report')).toHaveText('77.0');
  await expect(await cellOf(page, 'Kilbride', 'Report')).toHaveAttribute('aria-label', /not kept yet/);
  await page.unroute('**/entries/**');
  await expect.poll(() => tally.rows(scoreIn, [student]), { timeout: 60_000 }).toEqual([{ score: 77 }]);
  await expect(await cellOf(page, 'Kilbride', 'Report')).not.toHaveAttribute('aria-label', /not kept yet/);
});

test(
  'a server that is killed and comes back keeps what was typed meanwhile, once',
  { tag: '@line-cut' },
  async ({ page, tally }) => {
    await tally.letIn(page, 'aldous');
    await tally.openLedger(page);
    const student = await tally.enrolment('Silvano');
    await tally.kill();
    await (await cellOf(page, 'Silvano', 'Report')).click();
    await page.keyboard.type('50');
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.type('51');
    await page.keyboard.press('Enter');
    await expect(page.locator('footer output')).toContainText('not kept yet');
    // Signing out now would lose it, so it asks.
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page.getByRole('dialog')).toContainText('2 changes are still only on this machine');
    await page.getByRole('button', { name: 'Stay and keep trying' }).click();
    await tally.restart();
    await expect.poll(() => tally.rows(scoreIn, [student]), { timeout: 60_000 }).toEqual([{ score: 51 }]);
    const lines = await tally.rows(
      `select becomes from journal where assessment = 'report' and enrolment = $1 order by seq`,
      [student],
    );
    expect(lines.slice(-2)).toEqual([
      { becomes: '{"attempts":[{"score":50}]}' },
      { becomes: '{"attempts":[{"score":51}]}' },
    ]);
    await expect(page.locator('footer output')).toContainText('Kept');
  },
);

test.describe('with a database of its own', () => {
  test.use({ alone: true });

  test(
    'a database that is killed in the middle of typing loses nothing that was shown as kept',
    { tag: ['@line-cut', '@long'] },
    async ({ page, tally }) => {
      // The database of these tests answers before it has written; for this one it does as it does in use.
      const [here] = await tally.rows<{ name: string }>('select current_database() as name');
      await tally.rows(`alter database ${here!.name} set synchronous_commit = on`);
      await tally.kill();
      await tally.restart();
      await tally.letIn(page, 'aldous');
      await tally.openLedger(page);
      const cell = await cellOf(page, 'Abernethy', 'Report');
      await cell.click();
      for (let i = 0; i < 20; i++) {
        await page.keyboard.type(String(30 + i));
        await page.keyboard.press('Enter');
        if (i === 8) {
          // One process of the database killed takes all its connections down; it recovers from its log.
          const [victim] = await tally.rows<{ pid: number }>(
            `select pid from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() limit 1`,
          );
          process.kill(victim!.pid, 'SIGKILL');
        }
        // What is not marked as waiting is kept: the database must still hold it after it was killed.
        await page.waitForTimeout(60);
      }
      await expect(page.locator('.unkept')).toHaveCount(0, { timeout: 60_000 });
      await expect(page.locator('footer output')).toContainText('Kept', { timeout: 60_000 });
      const held = async (): Promise<number[]> => {
        try {
          const rows = await tally.rows<{ score: number }>(
            `select a.score::float as score from attempt a join enrolment e on e.id = a.enrolment
             join person p on p.school = e.school and p.id = e.person
           where a.book = 'wetland-survey-methods' and a.assessment = 'report' and a.score is not null
           order by p.family`,
          );
          return rows.map((r) => r.score);
        } catch {
          return [];
        }
      };
      await expect.poll(held, { timeout: 60_000 }).toEqual(Array.from({ length: 20 }, (_, i) => 30 + i));
      const lines = await tally.rows<{ n: number }>(
        `select count(*)::int as n from journal where book = 'wetland-survey-methods' and assessment = 'report' and becomes like '%score%'`,
      );
      // Each once, whatever was tried again.
      expect(lines[0]!.n).toBe(20);
    },
  );
});
