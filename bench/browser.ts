import { chromium, type Browser } from '@playwright/test';
import { ensureChromium } from '../scripts/lib/chromium.mjs';

/** The browser that figures are measured in: Debian's Chromium. */
export const benchBrowser = async (): Promise<Browser> =>
  chromium.launch({
    executablePath: await ensureChromium(),
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
