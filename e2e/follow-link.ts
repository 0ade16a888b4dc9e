import type { Page } from '@playwright/test';

/** Goes to an address as one of the application's links does, and waits until its router is there. */
export async function followLink(page: Page, path: string): Promise<void> {
  await page.evaluate(
    (to) =>
      new Promise<void>((done, failed) => {
        const late = setTimeout(() => failed(new Error(`the router did not go to ${to}`)), 30_000);
        const replace = history.replaceState.bind(history);
        // The router numbers its navigation in the history when it changes the page.
        history.replaceState = (state: { navigationId?: number } | null, ...rest) => {
          replace(state, ...rest);
          if (state?.navigationId === undefined) return;
          history.replaceState = replace;
          clearTimeout(late);
          done();
        };
        history.pushState(null, '', to);
        dispatchEvent(new PopStateEvent('popstate', { state: null }));
      }),
    path,
  );
}
