import { bootstrapApplication } from '@angular/platform-browser';
import { appConfig } from './app/app.config';
import { App } from './app/app';
import { openEarly } from './worker/sheet-client';

const dark = matchMedia('(prefers-color-scheme: dark)');
const follow = (): void => void document.documentElement.classList.toggle('dark', dark.matches);
follow();
dark.addEventListener('change', follow);

// The book's sheet is the slowest thing on the way to the ledger: it sets out before anything else.
openEarly(location.pathname);

bootstrapApplication(App, appConfig).catch((error: unknown) => {
  // The one place without a page to say it on.
  document.body.textContent = `Last Tally could not start: ${error instanceof Error ? error.message : String(error)}`;
});
