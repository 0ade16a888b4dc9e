import { chromium, type Browser } from '@playwright/test';

/**
 * The browser that figures are measured in. It guesses at no links: on a page that has some, Chromium looks at them a tenth of a
 * second after every layout, in a frame of its own, and a key that comes in the ticks after that waits for the next one.
 */
export const benchBrowser = (): Promise<Browser> =>
  chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--disable-features=NavigationPredictor',
    ],
  });
