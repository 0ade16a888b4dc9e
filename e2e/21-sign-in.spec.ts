import type { Page } from '@playwright/test';
import { signOut } from './sign-out';
import { passwordOf, expect, test, WETLAND, type Tally } from './tally';

/** Every role, with its first page and a page that belongs to another. */
const ROLES = [
  { login: 'aldous', home: '/desk', elsewhere: '/office' },
  { login: 'penhale', home: '/desk', elsewhere: '/my' },
  { login: 'quigg', home: '/desk', elsewhere: '/office/rules' },
  { login: 'halloran', home: '/office', elsewhere: '/desk' },
  { login: 'farrelly', home: '/my', elsewhere: `/book/${WETLAND}/ledger` },
] as const;

async function enter(page: Page, login: string): Promise<void> {
  await page.getByLabel('Sign-in name').fill(login);
  await page.getByLabel('Password').fill(passwordOf(login));
  await page.getByRole('button', { name: 'Sign in' }).click();
}

/** One is on that page, it holds something, and nothing goes on asking who is signed in. */
async function settlesOn(page: Page, tally: Tally, path: string): Promise<void> {
  await expect(page).toHaveURL(new RegExp(`^${tally.address}${path}(/[^/]+)?$`));
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  let looks = 0;
  const count = (request: { url(): string }): void => void (request.url().endsWith('/api/v1/session') && looks++);
  page.on('request', count);
  await page.waitForTimeout(500);
  page.off('request', count);
  expect(looks).toBe(0);
}

test('every role signs in from the plain address and from a page of another role', async ({ page, tally }) => {
  for (const { login, home, elsewhere } of ROLES)
    for (const path of ['/', elsewhere]) {
      await page.goto(`${tally.address}${path}`);
      await expect(page).toHaveURL(/\/sign-in/);
      await enter(page, login);
      await settlesOn(page, tally, home);
      await signOut(page);
    }
});

test('every role signs in from a page that is not there', { tag: '@long' }, async ({ page, tally }) => {
  for (const { login, home } of ROLES) {
    await page.goto(`${tally.address}/not/there`);
    await page.getByRole('link', { name: 'To the first page' }).click();
    await enter(page, login);
    await settlesOn(page, tally, home);
    await signOut(page);
    // The address asked for after signing in may be one that is not there either.
    await page.goto(`${tally.address}/sign-in?then=%2Fnot%2Fthere`);
    await enter(page, login);
    await expect(page.getByRole('heading', { name: 'There is no such page' })).toBeVisible();
    await page.getByRole('link', { name: 'To the first page' }).click();
    await settlesOn(page, tally, home);
    await signOut(page);
  }
});

test('every role signs in again after the session ended @long', async ({ page, tally }) => {
  for (const { login, home } of ROLES) {
    await tally.signIn(page, login);
    await settlesOn(page, tally, home);
    await tally.rows('delete from session');
    await page.goto(tally.address);
    await enter(page, login);
    await settlesOn(page, tally, home);
    // And by somebody else, who is then asked for in the same window.
    await tally.rows('delete from session');
    await page.reload();
    await enter(page, login === 'halloran' ? 'aldous' : 'halloran');
    await settlesOn(page, tally, login === 'halloran' ? '/desk' : '/office');
    await signOut(page);
  }
});
