import type { Page } from '@playwright/test';
import { p95 } from './figure';

/** Runs in the page: for every keydown, the time until the frame after it was painted. */
export function watchKeys(): void {
  const times: number[] = [];
  Object.assign(globalThis, { keyTimes: times });
  addEventListener(
    'keydown',
    (e) => {
      if (!/^[\da-z]$/.test(e.key)) return;
      requestAnimationFrame(() => {
        const channel = new MessageChannel();
        channel.port1.onmessage = () => times.push(performance.now() - e.timeStamp);
        channel.port2.postMessage(0);
      });
    },
    true,
  );
}

/**
 * Milliseconds after which a page that comes to the front has come to rest. What was behind another is swept by the browser
 * when it comes back, in steps between the first keys: the bench changes pages, a hand that types does not.
 */
const AT_FRONT = 1_500;

/** Types into a page by `type` and gives what its keys took, the 95th percentile in milliseconds. */
export async function keyTimes(page: Page, type: () => Promise<void>): Promise<number> {
  await page.bringToFront();
  await page.waitForTimeout(AT_FRONT);
  await page.evaluate(() => ((globalThis as unknown as { keyTimes: number[] }).keyTimes.length = 0));
  await type();
  return p95(await page.evaluate(() => (globalThis as unknown as { keyTimes: number[] }).keyTimes));
}
