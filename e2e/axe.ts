import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

/** Waits until nothing on a page fades or moves any more: a colour half way to another has a contrast of its own. */
export async function comeToRest(page: Page): Promise<void> {
  await page.evaluate(() =>
    Promise.all(
      document
        .getAnimations()
        .filter((a) => Number.isFinite(Number(a.effect?.getComputedTiming().endTime ?? 0)))
        // One that is called off has come to rest too.
        .map((a) => a.finished.catch(() => undefined)),
    ).then(() => undefined),
  );
}

/** What axe finds on a page: rule and places. */
export async function accessibilityFaults(page: Page): Promise<string[]> {
  await comeToRest(page);
  // Looked at in the page itself, which holds no frame of another origin, with nothing told of what is in order.
  const axe = new AxeBuilder({ page }).setLegacyMode().options({ resultTypes: ['violations'] });
  const { violations } = await axe.analyze();
  return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`);
}
