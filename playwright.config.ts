import { defineConfig } from '@playwright/test';
import { testChromium } from './scripts/lib/chromium.mjs';

/** Tests that take long are tagged @long and run by `npm run test:long` alone. */
const LONG = Boolean(process.env['LONG']);

export default defineConfig({
  ...(LONG ? { grep: /@long/ } : { grepInvert: /@long/ }),
  testDir: 'e2e',
  globalSetup: './e2e/setup.ts',
  outputDir: 'test-results',
  // Each test has a database of its own, and its worker’s server to itself, so they share nothing but the machine’s two cores; a third uses what two wait for.
  workers: 3,
  fullyParallel: true,
  timeout: 180_000,
  expect: { timeout: 20_000 },
  reporter: [['list'], ['./scripts/lib/playwright-counts.mjs']],
  use: {
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    timezoneId: 'Europe/Dublin',
    locale: 'en-GB',
    trace: 'off',
    // An action that finds nothing says so, long before its test's own limit.
    actionTimeout: 30_000,
    launchOptions: {
      executablePath: testChromium(),
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
        // Pictures are decoded by WebAssembly, which is compiled as it comes: to optimise it costs more than one picture.
        '--js-flags=--liftoff-only',
        // The shell ends a page that asks whether speech can be read on the device.
        '--disable-blink-features=OnDeviceWebSpeechAvailable',
        // A microphone that beeps and a camera with a picture, allowed without asking.
        '--use-fake-ui-for-media-stream',
        '--use-fake-device-for-media-stream',
      ],
    },
  },
});
