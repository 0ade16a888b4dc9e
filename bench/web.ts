import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BrowserContext, Page } from '@playwright/test';
import { benchBrowser } from './browser';
import type { Figure } from './figure';
import { startBenchServer, type BenchServer } from './server';

/** As the largest table of scores that people bring: a year of a whole school's exports in one file. */
const ROWS = 200_000;

async function signedIn(server: BenchServer, context: BrowserContext): Promise<void> {
  const data = { login: server.login, password: server.password };
  const answer = await context.request.post(`${server.address}/api/v1/session`, { data });
  if (answer.status() !== 200) throw new Error(`signing in was answered with ${answer.status()}`);
}

/** With a browser of its own that has been nowhere yet, on a book of the size of the demo's. */
async function inBrowser<T>(work: (page: Page, server: BenchServer) => Promise<T>): Promise<T> {
  const server = await startBenchServer(21, 11);
  const browser = await benchBrowser();
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await signedIn(server, context);
    const page = await context.newPage();
    await page.addInitScript('globalThis.__name = (f) => f');
    return await work(page, server);
  } finally {
    await browser.close();
    await server.stop();
  }
}

/** All that is sent, as it crosses the line, from a cold browser to the ledger with its scores. */
export function webFigures(): Promise<Figure[]> {
  return inBrowser(async (page, server) => {
    const line = await page.context().newCDPSession(page);
    await line.send('Network.enable');
    let bytes = 0;
    const parts = new Map<string, number>();
    const urls = new Map<string, string>();
    line.on('Network.responseReceived', (e) => urls.set(e.requestId, e.response.url));
    line.on('Network.loadingFinished', (e) => {
      bytes += e.encodedDataLength;
      const name = new URL(urls.get(e.requestId) ?? server.address).pathname;
      parts.set(name, (parts.get(name) ?? 0) + e.encodedDataLength);
    });
    // What the worker fetches is the page's too.
    await line.send('Target.setAutoAttach', { autoAttach: true, waitForDebuggerOnStart: false, flatten: true });
    await page.goto(`${server.address}/book/bench/ledger`);
    await page.waitForSelector('.cell.score');
    await page.waitForSelector('.standing b:not(:empty)');
    // What is on its way by then is the ledger's too; what comes later is not.
    await page.waitForTimeout(100);
    for (const [name, size] of [...parts].sort((a, b) => b[1] - a[1]).slice(0, Number(process.env['PARTS'] ?? 8)))
      process.stderr.write(`${(size / 1024).toFixed(0).padStart(6)} kB ${name}\n`);
    return [{ name: 'web.first-load.kb', value: bytes / 1024, unit: 'kB', against: '' }];
  });
}

/** Tasks over 50 ms on the page while a file of so many rows is read and its preview shown. */
export function intakeFigures(): Promise<Figure[]> {
  return inBrowser(async (page, server) => {
    await page.goto(`${server.address}/book/bench/intake`);
    await page.waitForSelector('.drop input');
    await page.waitForTimeout(1_500);
    await page.evaluate(() => {
      const seen: number[] = [];
      Object.assign(globalThis, { longTasks: seen });
      new PerformanceObserver((list) => seen.push(...list.getEntries().map((e) => e.duration))).observe({
        type: 'longtask',
      });
    });
    const text = ['Student number,i0', ...Array.from({ length: ROWS }, (_, n) => `${n < 21 ? `s${n}` : `X${n}`},7`)];
    // From the disk, as a person's: what a buffer takes to cross into the page is not the page's work.
    const folder = await mkdtemp(join(tmpdir(), 'last-tally-bench-'));
    await writeFile(join(folder, 'scores.csv'), text.join('\n'));
    await page.locator('.drop input').setInputFiles(join(folder, 'scores.csv'));
    await page.waitForSelector('.sum', { timeout: 120_000 });
    await page.waitForTimeout(1_500);
    await rm(folder, { recursive: true });
    const tasks = await page.evaluate(() => (globalThis as unknown as { longTasks: number[] }).longTasks);
    if (tasks.length > 0) process.stderr.write(`tasks over 50 ms: ${tasks.map((t) => t.toFixed(0)).join(', ')}\n`);
    return [{ name: 'intake.200k.long-tasks', value: tasks.length, unit: 'tasks', against: '' }];
  });
}
