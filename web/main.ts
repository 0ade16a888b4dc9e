import { bootstrapApplication } from '@angular/platform-browser';
import { appConfig } from './app/app.config';
import { App } from './app/app';
import { startAppearance } from './ui/layout/appearance';
import { openEarly } from './worker/sheet-client';

startAppearance();

// The book's sheet is the slowest thing on the way to the ledger: it sets out before anything else.
openEarly(location.pathname);

bootstrapApplication(App, appConfig).catch((error: unknown) => {
  // The one place without a page to say it on.
  document.body.textContent = `Last Tally could not start: ${error instanceof Error ? error.message : String(error)}`;
});
