import { createServer } from 'node:net';
import type { Browser, Page } from '@playwright/test';

/** Below those that a machine gives out by itself, so that nothing else takes it between two tests. */
const PORTS = { from: 20_000, count: 10_000 };

/** What cannot be taken back: a page on which a test did one of these is not used again. */
const LASTING = ['addInitScript', 'emulateMedia', 'exposeBinding', 'exposeFunction', 'on', 'once', 'setExtraHTTPHeaders'] as const; // prettier-ignore

interface Kept {
  page: Page;
  options: string;
  /** A test did something to it that cannot be taken back. */
  lasting: boolean;
}

/**
 * The pages of a worker's tests, used by one after the other. What a browser has compiled of the application it keeps for
 * as long as one process shows the same address, so each test's server has the same port, and its pages are wiped and used
 * again: a new one costs the machine more than most tests do.
 */
export class KeptPages {
  private pages: Kept[] = [];
  /** How many of them the test has. */
  private used = 0;
  private port: number | undefined;

  /** A test begins. */
  begin(): void {
    this.used = 0;
  }

  /** One more page of the test, made with these options, as empty as a new one. */
  async open(browser: Browser, options: string): Promise<Page> {
    const at = this.used++;
    const there = this.pages[at];
    if (there && there.options === options && !there.page.isClosed()) return this.watched(there).page;
    await there?.page.context().close();
    const made: Kept = { page: await (await browser.newContext()).newPage(), options, lasting: false };
    this.pages[at] = made;
    return this.watched(made).page;
  }

  /** What is done to the pages from now on is noted where it cannot be taken back; what was done before is the fixtures'. */
  watch(): void {
    for (const kept of this.pages.slice(0, this.used)) this.watched(kept);
  }

  private watched(kept: Kept): Kept {
    kept.lasting = false;
    const calls = kept.page as unknown as Record<string, (...args: unknown[]) => unknown>;
    for (const name of LASTING) {
      delete calls[name];
      const plain = calls[name]!.bind(kept.page);
      calls[name] = (...args) => {
        kept.lasting = true;
        return plain(...args);
      };
    }
    return kept;
  }

  /** Takes back all that a test left behind, while its server still answers; a page where that cannot be is closed. */
  async wipe(address: string, size: { width: number; height: number } | null): Promise<void> {
    for (const [at, kept] of this.pages.entries()) {
      if (at >= this.used) continue;
      const isWiped = !kept.lasting && !kept.page.isClosed() && (await wipePage(kept.page, address, size).then(() => true, () => false)); // prettier-ignore
      if (!isWiped) await kept.page.context().close();
    }
  }

  async drop(): Promise<void> {
    for (const { page } of this.pages.splice(0)) await page.context().close();
  }

  /** The port of each of the worker's servers; `worker` counts from 0. */
  async portOf(worker: number): Promise<number> {
    for (let n = 0; this.port === undefined; n++) {
      const port = PORTS.from + ((process.pid * 7 + worker * 101 + n * 13) % PORTS.count);
      if (await isFree(port)) this.port = port;
    }
    return this.port;
  }
}

async function wipePage(page: Page, address: string, size: { width: number; height: number } | null): Promise<void> {
  const context = page.context();
  for (const other of context.pages()) if (other !== page) await other.close();
  await context.setOffline(false);
  await page.unrouteAll({ behavior: 'ignoreErrors' });
  await context.unrouteAll({ behavior: 'ignoreErrors' });
  await page.goto(`${address}/mark.svg`, { timeout: 5_000 });
  await page.evaluate(forget);
  await context.clearCookies();
  await context.clearPermissions();
  const devtools = await context.newCDPSession(page);
  await devtools.send('Storage.clearDataForOrigin', { origin: address, storageTypes: 'local_storage,cache_storage,service_workers' }); // prettier-ignore
  await devtools.send('Page.resetNavigationHistory');
  await devtools.detach();
  if (size) await page.setViewportSize(size);
  await page.mouse.move(0, 0);
}

/** In the page: takes away what tests keep in the browser, and waits until it is gone. */
async function forget(): Promise<void> {
  sessionStorage.clear();
  for (const { name } of await indexedDB.databases())
    await new Promise<void>((done, failed) => {
      const gone = indexedDB.deleteDatabase(name!);
      gone.onsuccess = () => done();
      gone.onblocked = gone.onerror = () => failed(new Error('it is in use'));
    });
}

const isFree = (port: number): Promise<boolean> =>
  new Promise((done) => {
    const probe = createServer();
    probe.on('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });
