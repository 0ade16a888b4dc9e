import { chromium, type Browser } from '@playwright/test';

/** The browser that figures are measured in: Debian's Chromium. */
export const benchBrowser = (): Promise<Browser> =>
  chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
