import { createServer } from 'node:net';
import type { Browser, BrowserContextOptions, Page } from '@playwright/test';

/** Below those that a machine gives out by itself, so that nothing else takes it between two tests. */
const PORTS = { from: 20_000, count: 10_000 };

/** What cannot be taken back: a page on which a test did one of these is not used again. */
const LASTING = ['addInitScript', 'exposeBinding', 'exposeFunction', 'setExtraHTTPHeaders'] as const;

/** What a page is made with; two of the same are exchangeable. */
export type PageOptions = Pick<
  BrowserContextOptions,
  'viewport' | 'colorScheme' | 'hasTouch' | 'isMobile' | 'reducedMotion'
>;

type Calls = Record<string, (...args: unknown[]) => unknown>;

interface Kept {
  page: Page;
  options: PageOptions;
  /** The test that runs has it. */
  used: boolean;
  /** A test did something to it that cannot be taken back. */
  lasting: boolean;
  /** What a test hears of it, as arguments of `off`. */
  heard: unknown[][];
  /** Other media were asked for. */
  media: boolean;
}

/**
 * The pages of a worker's tests, used by one after the other. What a browser has compiled of the application it keeps for
 * as long as one process shows the same address, so each test's server has the same port, and its pages are wiped and used
 * again: a new one costs the machine more than most tests do.
 */
export class KeptPages {
  private pages: Kept[] = [];
  private port: number | undefined;

  /** One more page of the test, made with these options, as empty as a new one. */
  async open(browser: Browser, options: PageOptions): Promise<Page> {
    this.pages = this.pages.filter((k) => !k.page.isClosed());
    const key = JSON.stringify(options);
    let kept = this.pages.find((k) => !k.used && JSON.stringify(k.options) === key);
    if (!kept) {
      const page = await (await browser.newContext(options)).newPage();
      kept = { page, options, used: true, lasting: false, heard: [], media: false };
      this.pages.push(kept);
    }
    kept.used = true;
    return this.watched(kept).page;
  }

  /** What is done to the pages from now on is noted, to be taken back; what was done before is the fixtures'. */
  watch(): void {
    for (const kept of this.pages) if (kept.used) this.watched(kept);
  }

  private watched(kept: Kept): Kept {
    Object.assign(kept, { lasting: false, heard: [], media: false });
    const calls = kept.page as unknown as Calls;
    const noted = (name: string, note: (args: unknown[]) => unknown): void => {
      delete calls[name];
      const plain = calls[name]!.bind(kept.page);
      calls[name] = (...args) => {
        note(args);
        return plain(...args);
      };
    };
    for (const name of LASTING) noted(name, () => (kept.lasting = true));
    for (const name of ['on', 'once']) noted(name, (args) => kept.heard.push(args));
    noted('emulateMedia', () => (kept.media = true));
    return kept;
  }

  /** Takes back all that a test left behind, while its server still answers; a page where that cannot be is closed. */
  async wipe(address: string): Promise<void> {
    for (const kept of this.pages.filter((k) => k.used)) {
      kept.used = false;
      const isWiped = !kept.lasting && !kept.page.isClosed() && (await wipePage(kept, address).then(() => true, () => false)); // prettier-ignore
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

async function wipePage({ page, options, heard, media }: Kept, address: string): Promise<void> {
  const context = page.context();
  for (const args of heard) (page as unknown as Calls)['off']!(...args);
  const { colorScheme = 'light', reducedMotion = 'no-preference', viewport } = options;
  if (media) await page.emulateMedia({ media: null, forcedColors: null, colorScheme, reducedMotion });
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
  if (viewport) await page.setViewportSize(viewport);
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
