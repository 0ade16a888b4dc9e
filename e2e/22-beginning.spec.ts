import { accessibilityFaults } from './axe';
import { expect, test } from './tally';

test.use({ empty: true });

test('a server on which nothing was begun says what is missing, takes no other code, and loses nothing that was typed', async ({
  page,
  tally,
}) => {
  for (const path of ['/', '/sign-in', '/office', '/my']) {
    await page.goto(`${tally.address}${path}`);
    await expect(page).toHaveURL(/\/begin$/);
  }
  const make = page.getByRole('button', { name: 'Make the school' });
  await expect(page.locator('.says')).toHaveText('The code is missing.');
  await expect(make).toBeDisabled();
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme });
    expect(await accessibilityFaults(page)).toEqual([]);
  }
  await page.getByLabel('The code').fill('not-this-one');
  await page.getByLabel('What it is called').first().fill('Tarn School');
  await page.getByRole('combobox', { name: 'Its time zone' }).click();
  await page.getByRole('searchbox').fill('tokyo');
  await page.getByRole('option', { name: 'Asia/Tokyo' }).click();
  await page.getByLabel('Family name').fill('Office');
  await page.getByLabel('Sign-in name').fill('!');
  await expect(page.locator('.says')).toContainText('A sign-in name has at least two letters');
  await page.getByLabel('Sign-in name').fill('Una.Office');
  await page.getByLabel('Password, at least eight characters').fill('seven77');
  await expect(page.locator('.says')).toHaveText('The password: 1 more.');
  await page.getByLabel('Password, at least eight characters').fill('long-enough-1');
  await page.getByLabel('The same once more').fill('long-enough-1');
  await page.getByLabel('What it is called').last().fill('Autumn 2026');
  await page.getByLabel('From', { exact: true }).fill('20 Dec 2026');
  await page.getByLabel('To', { exact: true }).fill('1 Sep 2026');
  await expect(page.locator('.says')).toHaveText('The term ends before it starts.');
  await page.getByLabel('To', { exact: true }).fill('28 May 2027');
  await make.click();
  await expect(page.locator('.says')).toContainText('This is not the code that the start command printed.');
  expect(await tally.rows('select 1 as n from school')).toEqual([]);
  await page.getByLabel('The code').fill('e2e');
  await make.click();
  await expect(page.getByRole('heading', { name: 'Tarn School is made' })).toBeVisible();
  expect(await tally.rows('select title, time_zone, fixed_now, demo from school')).toEqual([
    { title: 'Tarn School', time_zone: 'Asia/Tokyo', fixed_now: null, demo: false },
  ]);
  expect(await tally.rows('select login, role from person')).toEqual([{ login: 'una.office', role: 'administrator' }]);
  await page.getByRole('link', { name: 'School rules' }).click();
  await expect(page).toHaveURL(/\/office\/rules$/);
});
