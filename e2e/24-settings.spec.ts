import { cellOf, chooseOption, expect, test, WETLAND } from './tally';

test('what one sets for oneself goes with the account, and to nobody else', async ({ page, tally, another }) => {
  await tally.signIn(page, 'aldous');
  await page.getByRole('link', { name: 'R. Aldous' }).click();
  await page.getByLabel('dark', { exact: true }).check();
  await expect(page.locator('html')).toHaveClass(/dark/);
  await page.getByLabel('roomy, with more air').check();
  await chooseOption(page, 'How dates and decimals are written', /^American English/);
  await expect(page.locator('footer output')).toContainText('Kept.');
  await expect
    .poll(() => tally.rows('select locale, colour_scheme, density from person_settings'))
    .toEqual([{ locale: 'en-US', colour_scheme: 'dark', density: 'roomy' }]);

  // Another machine of theirs.
  const elsewhere = await another();
  await tally.signIn(elsewhere, 'aldous');
  await expect(elsewhere.locator('html')).toHaveClass(/dark.*roomy|roomy.*dark/);
  await tally.openLedger(elsewhere);
  expect((await elsewhere.locator('.row').first().boundingBox())!.height).toBe(34);
  await expect(elsewhere.locator('aside')).toContainText('due Oct 2 17:00');
  // The month is read first now; it is said in full before it counts.
  await tally.navigate(elsewhere, `/book/${WETLAND}/assessments/report`);
  await elsewhere.getByLabel('Due', { exact: true }).fill('12/4 5pm');
  await expect(elsewhere.getByText('Friday, December 4, 2026, 17:00')).toBeVisible();

  const other = await another();
  await tally.signIn(other, 'brandvold');
  await expect(other.locator('html')).not.toHaveClass(/dark|roomy/);
});

test('days are read as people write them, said back in full, and picked in the zone of the book @long', async ({
  page,
  tally,
}) => {
  await tally.letIn(page, 'aldous');
  await tally.navigate(page, `/book/${WETLAND}/assessments/report`);
  const due = page.getByLabel('Due', { exact: true });
  const full = page.locator('lt-day-box', { has: due }).locator('output');
  for (const [typed, said] of [
    ['4 Dec', 'Friday 4 December 2026, 17:00'],
    ['4/12 9:30', 'Friday 4 December 2026, 09:30'],
    ['next Friday', 'Friday 4 December 2026, 17:00'],
    ['tomorrow 5pm', 'Wednesday 25 November 2026, 17:00'],
    ['2026-12-04 17:00', 'Friday 4 December 2026, 17:00'],
  ] as const) {
    await due.fill(typed);
    await expect(full).toHaveText(said);
  }
  await due.fill('some day');
  await expect(full).toContainText('That is no day');
  await expect(page.getByRole('button', { name: 'Keep the changes' })).toBeDisabled();
  await due.fill('tomorrow 5pm');
  await due.blur();
  await expect(due).toHaveValue('25 Nov 17:00');
  await page.getByRole('button', { name: 'Pick a day: Due', exact: true }).click();
  await page.getByRole('gridcell', { name: '30' }).last().click();
  await expect(due).toHaveValue('30 Nov 17:00');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Keep the changes' }).click();
  await expect(page.locator('footer')).toContainText('Report: kept.');
  expect(await tally.rows(`select due from assessment where book = $1 and id = 'report'`, [WETLAND])).toEqual([
    { due: new Date('2026-11-30T17:00:00Z') },
  ]);
});

test('decimals are read with a comma and with a point, wherever one types @long', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  const cell = await cellOf(page, 'Eklund', 'Report');
  for (const [typed, shown] of [
    ['71,5', '71.5'],
    ['72.5', '72.5'],
  ] as const) {
    await cell.click();
    await page.keyboard.type(typed);
    await page.keyboard.press('Enter');
    await expect(cell).toHaveText(shown);
  }
  await tally.navigate(page, `/book/${WETLAND}/assessments/report`);
  await page.getByLabel('Points', { exact: true }).fill('62,5');
  await expect(page.locator('aside')).toContainText('20 stay');
  await tally.navigate(page, `/book/${WETLAND}/rules`);
  await page.getByLabel('Weight of Final').fill('29,5');
  await expect(page.locator('aside .counts')).toContainText('go');
});
