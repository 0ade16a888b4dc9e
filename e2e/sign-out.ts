import { expect, type Page } from '@playwright/test';

/** Signs out by the head's button, and waits until the page to sign in stands there: what is gone to before races with it. */
export async function signOut(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByLabel('Sign-in name')).toBeVisible();
}
