import type { Page } from '@playwright/test';

const CHANGES = 15;

/** Runs in the page: for every arrow key, the time until the first frame after the trial's answer was painted. */
function watchTrials(): void {
  const times: number[] = [];
  Object.assign(globalThis, { trialTimes: times });
  let from: number | null = null;
  addEventListener('keydown', (e) => e.key.startsWith('Arrow') && (from = e.timeStamp), true);
  new MutationObserver(() => {
    if (from === null) return;
    const began = from;
    from = null;
    requestAnimationFrame(() => {
      const channel = new MessageChannel();
      channel.port1.onmessage = () => times.push(performance.now() - began);
      channel.port2.postMessage(0);
    });
  }).observe(document.querySelector('aside .trial')!, { subtree: true, childList: true, characterData: true });
}

/** A word of a rule changed by its arrow key to the trial's answer shown, in milliseconds. */
export async function trialTimes(page: Page, rules: string): Promise<number[]> {
  await page.goto(rules);
  await page
    .getByRole('navigation', { name: 'Kinds of rules' })
    .getByRole('button', { name: /^Lateness/ })
    .click();
  const word = page.getByRole('textbox', { name: /^Percent taken/ }).first();
  await word.focus();
  // The page works the book out once before a word is changed, and the first trial puts the picture up.
  await page.keyboard.press('ArrowUp');
  await page.locator('aside .counts').waitFor();
  await page.waitForTimeout(2_000);
  await page.evaluate(watchTrials);
  for (let n = 0; n < CHANGES; n++) {
    await word.press(n % 2 === 0 ? 'ArrowUp' : 'ArrowDown');
    await page.waitForTimeout(1_500);
  }
  return page.evaluate(() => (globalThis as unknown as { trialTimes: number[] }).trialTimes);
}
