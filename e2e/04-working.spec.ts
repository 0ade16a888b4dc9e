import { cellOf, expect, standingOf, test } from './tally';

test('any number opens its working, in sentences that lead to it', async ({ page, tally }) => {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await (await cellOf(page, 'Farrelly', 'Soil pit')).click();
  await page.keyboard.type('17');
  await page.keyboard.press('Enter');
  await (await cellOf(page, 'Farrelly', 'Soil pit')).click();
  await page.keyboard.type('/late 2');
  await page.keyboard.press('Enter');
  const slip = page.locator('lt-cell-inspector');
  await expect(slip).toContainText('Marked17');
  await expect(slip).toContainText('Late 2 days, said by hand');
  await expect(slip).toContainText('2 days × 10 % of 20');
  await expect(slip).toContainText('Counts as13');
  await expect(slip).toContainText('dropped; keeping it would cost');
  await expect(slip).toContainText('nothing yet: its 30 is shared out among the rest');
  await expect(slip).toContainText('Final must reach 40 %; it is not all marked yet, so it waits');
  await expect(slip.getByRole('heading', { name: /^Standing/ })).toContainText(
    (await standingOf(page, 'Farrelly').textContent())!,
  );

  // The sum of the lines is the figure: ratio × weight over the weights that count.
  const figures = await slip.locator('lt-working-lines').last().locator('.figure').allTextContents();
  const parts = figures.flatMap((f) => (/×/.test(f) ? [f.split('×').map(Number)] : []));
  const sum =
    parts.reduce((n, [ratio, weight]) => n + ratio! * weight!, 0) / parts.reduce((n, [, weight]) => n + weight!, 0);
  expect(Math.abs(sum - Number(await standingOf(page, 'Farrelly').textContent()))).toBeLessThan(0.06);

  // The standing itself, by keyboard.
  await page.keyboard.press('End');
  await expect(slip).toContainText('the whole book');
  await expect(slip).not.toContainText('Counts as');
});
