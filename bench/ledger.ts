import { chromium, type Page } from '@playwright/test';
import { startBenchServer } from './server';
import { median, p95, type Figure } from './figure';

const KEYS = 200;

/** Runs in the page: for every keydown, the time until the frame after it was painted. */
function watchKeys(): void {
  const times: number[] = [];
  Object.assign(globalThis, { keyTimes: times });
  addEventListener(
    'keydown',
    (e) => {
      if (!/^\d$/.test(e.key)) return;
      requestAnimationFrame(() => {
        const channel = new MessageChannel();
        channel.port1.onmessage = () => times.push(performance.now() - e.timeStamp);
        channel.port2.postMessage(0);
      });
    },
    true,
  );
}

const keyTimes = (page: Page): Promise<number[]> =>
  page.evaluate(() => (globalThis as unknown as { keyTimes: number[] }).keyTimes);

/** Types scores down a column as a person would: a digit, a point, a digit, Enter. */
async function typeDown(page: Page, keys: number): Promise<void> {
  for (let i = 0; i < keys; i += 2)
    for (const key of [String(1 + (i % 8)), '.', i % 4 === 0 ? '5' : '2', 'Enter']) {
      await page.keyboard.press(key);
      await page.waitForTimeout(key === 'Enter' ? 40 : 25);
    }
}

/** Figures of the ledger of 400 students × 120 assessments in Debian's Chromium. */
export async function ledgerFigures(): Promise<Figure[]> {
  const server = await startBenchServer();
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${server.address}/sign-in`);
    await page.getByLabel('Sign-in name').fill(server.login);
    await page.getByLabel('Password').fill(server.password);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.waitForURL(/desk/);
    const ledger = `${server.address}/book/bench/ledger`;
    const firstPaint: number[] = [];
    for (let run = 0; run < 6; run++) {
      await page.goto(ledger);
      await page.waitForSelector('.cell.score');
      const shown = await page.evaluate(
        () => new Promise<number>((done) => requestAnimationFrame(() => setTimeout(() => done(performance.now())))),
      );
      if (run > 0) firstPaint.push(shown);
      await page.waitForSelector('.standing b:not(:empty)');
    }

    await page.evaluate(watchKeys);
    await page.locator('.grid').focus();
    await typeDown(page, KEYS);
    const inLedger = p95(await keyTimes(page));
    const standing = await standingTimes(page);
    const longTasks = await scrollTasks(page);

    const bare = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await bare.setContent('<input autofocus>');
    await bare.locator('input').focus();
    await bare.evaluate(watchKeys);
    await typeDown(bare, KEYS);
    const inBare = p95(await keyTimes(bare));
    return [
      { name: 'ledger.first-paint.ms', value: median(firstPaint), unit: 'ms', against: '' },
      {
        name: 'ledger.key-to-paint.ratio-to-bare-input',
        value: inLedger / inBare,
        unit: 'ratio',
        against: 'a page with one input',
      },
      { name: 'ledger.standing-after-key.p95-ms', value: p95(standing), unit: 'ms', against: '' },
      { name: 'ledger.scroll.long-tasks', value: longTasks, unit: 'tasks', against: '' },
    ];
  } finally {
    await browser.close();
    await server.stop();
  }
}

/** Enter to the new standing painted, for forty entries that each change it. */
async function standingTimes(page: Page): Promise<number[]> {
  const times: number[] = [];
  for (let i = 0; i < 40; i++) {
    await page.keyboard.press(i % 2 === 0 ? '1' : '9');
    await page.evaluate(() => {
      const row = document.querySelector('.row.here .standing b')!;
      Object.assign(globalThis, {
        shown: new Promise<number>((done) => {
          let from = 0;
          addEventListener('keydown', (e) => (from = e.timeStamp), { once: true, capture: true });
          new MutationObserver((_, o) => {
            o.disconnect();
            requestAnimationFrame(() => setTimeout(() => done(performance.now() - from)));
          }).observe(row, { characterData: true, subtree: true, childList: true });
          setTimeout(() => done(NaN), 800);
        }),
      });
    });
    await page.keyboard.press('Enter');
    const ms = await page.evaluate(() => (globalThis as unknown as { shown: Promise<number> }).shown);
    // An entry that leaves the rounded standing as it was changes no text; it is no measurement.
    if (!Number.isNaN(ms)) times.push(ms);
  }
  if (times.length < 10) throw new Error('too few entries changed a standing to measure it');
  return times;
}

async function scrollTasks(page: Page): Promise<number> {
  await page.evaluate(() => {
    const tasks: number[] = [];
    Object.assign(globalThis, { longTasks: tasks });
    new PerformanceObserver((list) => list.getEntries().forEach((e) => tasks.push(e.duration))).observe({
      type: 'longtask',
    });
  });
  for (const [x, y, steps] of [
    [0, 260, 40],
    [0, -260, 40],
    [400, 0, 20],
    [-400, 0, 20],
  ] as const)
    for (let i = 0; i < steps; i++) {
      await page.locator('.grid').evaluate((g, by) => g.scrollBy(by.x, by.y), { x, y });
      await page.waitForTimeout(30);
    }
  const tasks = await page.evaluate(() => (globalThis as unknown as { longTasks: number[] }).longTasks);
  if (tasks.length > 0)
    process.stderr.write(`long tasks while scrolling: ${tasks.map((t) => Math.round(t)).join(', ')} ms\n`);
  return tasks.length;
}
