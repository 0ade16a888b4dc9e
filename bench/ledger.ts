import type { Page } from '@playwright/test';
import pg from 'pg';
import { benchBrowser } from './browser';
import { startBenchServer } from './server';
import { trialTimes } from './trial';
import { median, p95, type Figure } from './figure';
import { keyTimes, watchKeys } from './key-times';

const KEYS = 200;
const ROUNDS = 3;
/** Milliseconds between two keys: eleven in a second, a quick hand (decision 014). */
const BETWEEN = 90;

/** The ledger and a page with nothing but one input, one after the other, since the machine is not always as fast. */
async function keyRatio(ledger: Page, bare: Page): Promise<number> {
  await ledger.evaluate(watchKeys);
  await ledger.locator('.grid').focus();
  await bare.setContent('<input autofocus>');
  await bare.locator('input').focus();
  await bare.evaluate(watchKeys);
  const ratios: number[] = [];
  for (const page of [ledger, bare]) await keyTimes(page, () => typeDown(page, KEYS / 2));
  for (let round = 0; round < ROUNDS; round++) {
    const [ours, theirs] = [
      await keyTimes(ledger, () => typeDown(ledger, KEYS)),
      await keyTimes(bare, () => typeDown(bare, KEYS)),
    ];
    ratios.push(ours / theirs);
    process.stderr.write(`a key to its frame: ${ours.toFixed(1)} ms; one input: ${theirs.toFixed(1)} ms\n`);
  }
  await bare.close();
  await ledger.bringToFront();
  await ledger.locator('.grid').focus();
  return median(ratios);
}

/** Types scores down a column as a person would: a digit, a point, a digit, Enter. */
async function typeDown(page: Page, keys: number): Promise<void> {
  for (let i = 0; i < keys; i += 2)
    for (const key of [String(1 + (i % 8)), '.', i % 4 === 0 ? '5' : '2', 'Enter']) {
      await page.keyboard.press(key);
      await page.waitForTimeout(BETWEEN);
    }
}

/** Runs in the page before all else: when the first frame with scores was painted, in milliseconds from the navigation. */
function watchScores(): void {
  if (!location.pathname.endsWith('/ledger')) return;
  const look = (): void => {
    if (!document.querySelector('.cell.score')) requestAnimationFrame(look);
    else setTimeout(() => Object.assign(globalThis, { scoresShown: performance.now() }));
  };
  requestAnimationFrame(look);
}

/** Figures of the ledger of 400 students × 120 assessments in Debian's Chromium. */
export async function ledgerFigures(): Promise<Figure[]> {
  const server = await startBenchServer();
  const browser = await benchBrowser();
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    // The functions that run in the page come from a compiler that names them with a helper of its own.
    await page.addInitScript('globalThis.__name = (f) => f');
    await page.goto(`${server.address}/sign-in`);
    await page.getByLabel('Sign-in name').fill(server.login);
    await page.getByLabel('Password').fill(server.password);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.waitForURL(/desk/);
    const ledger = `${server.address}/book/bench/ledger`;
    const firstPaint: number[] = [];
    await page.addInitScript(watchScores);
    for (let run = 0; run < 6; run++) {
      await page.goto(ledger);
      const shown = await page.waitForFunction(() => (globalThis as { scoresShown?: number }).scoresShown);
      if (run > 0) firstPaint.push((await shown.jsonValue())!);
      await page.waitForSelector('.standing b:not(:empty)');
    }

    const keys = await keyRatio(page, await browser.newPage({ viewport: { width: 1280, height: 800 } }));
    const standing = await standingTimes(page);
    const longTasks = await scrollTasks(page);
    const paste = await pasteTimes(page);
    const trial = await trialTimes(page, `${server.address}/book/bench/rules`);
    await writeYear(server.databaseUrl);
    const journal = await journalTimes(page, ledger);

    return [
      { name: 'ledger.first-paint.ms', value: median(firstPaint), unit: 'ms', against: '' },
      {
        name: 'ledger.key-to-paint.ratio-to-bare-input',
        value: keys,
        unit: 'ratio',
        against: 'a page with one input',
      },
      { name: 'ledger.standing-after-key.p95-ms', value: p95(standing), unit: 'ms', against: '' },
      { name: 'ledger.scroll.long-tasks', value: longTasks, unit: 'tasks', against: '' },
      { name: 'ledger.trial.ms', value: median(trial), unit: 'ms', against: '' },
      { name: 'ledger.paste-2000.shown-ms', value: median(paste.shown), unit: 'ms', against: '' },
      { name: 'ledger.paste-2000.kept-ms', value: median(paste.kept), unit: 'ms', against: '' },
      { name: 'ledger.journal-200k.ms', value: median(journal), unit: 'ms', against: '' },
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

/**
 * 2,000 cells pasted, 400 rows of five. The book has scores there, so the paste is shown first: its showing counts, and
 * then from the press of its button to the cells shown, and to the server's answer.
 */
async function pasteTimes(page: Page): Promise<{ shown: number[]; kept: number[] }> {
  const shown: number[] = [];
  const kept: number[] = [];
  for (let round = 0; round < 4; round++) {
    await page.locator('.grid').evaluate((g) => g.scrollTo(0, 0));
    await page.locator('.grid').focus();
    await page.keyboard.press('Control+Home');
    await page.waitForTimeout(600);
    const value = 1 + round / 10;
    const preview = await page.evaluate((v) => {
      // The page keeps few of them, and typing has filled the list.
      performance.clearResourceTimings();
      const data = new DataTransfer();
      data.setData('text/plain', Array.from({ length: 400 }, () => Array<number>(5).fill(v).join('\t')).join('\n'));
      const from = performance.now();
      document
        .querySelector('.grid')!
        .dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
      return new Promise<number>((done) => {
        const look = (): void => {
          if (document.querySelector('.p-dialog')) setTimeout(() => done(performance.now() - from));
          else requestAnimationFrame(look);
        };
        look();
      });
    }, value);
    const answer = page.waitForResponse((r) => r.url().endsWith('/changes'));
    const button = page.locator('.p-dialog button', { hasText: /^All / });
    const marks = await button.evaluate((b, v) => {
      const from = performance.now();
      (b as HTMLElement).click();
      return new Promise<{ from: number; shown: number }>((done) => {
        const look = (): void => {
          const cell = document.querySelector('.row .cell[aria-colindex="2"]');
          if (Number(cell?.lastChild?.textContent) === v || cell?.textContent?.includes(v.toFixed(1)))
            setTimeout(() => done({ from, shown: performance.now() - from }));
          else requestAnimationFrame(look);
        };
        look();
      });
    }, value);
    const response = await answer;
    if (response.status() !== 200) throw new Error(`a paste was answered with ${response.status()}`);
    await response.finished();
    // The first is a warm-up.
    if (round === 0) continue;
    shown.push(preview + marks.shown);
    kept.push(preview + (await keptAt(page)) - marks.from);
  }
  return { shown, kept };
}

/** When the answer to the last paste was there, by the page's clock. */
const keptAt = async (page: Page): Promise<number> => {
  await page.waitForTimeout(300);
  return page.evaluate(() => {
    const all = performance.getEntriesByType('resource') as PerformanceResourceTiming[];
    return all.filter((e) => e.name.endsWith('/changes')).at(-1)!.responseEnd;
  });
};

const LINES = 200_000;

/** A year of lines in the book's journal, written straight into the table: what the bench measures is the reading. */
async function writeYear(databaseUrl: string): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  await client.query(
    `with b as (select school, id, seq from book where id = 'bench'),
       n as (select b.*, i, row_number() over () as k from b, generate_series(b.seq + 1, ${LINES}) i),
       s as (select array_agg(id) as ids from enrolment), a as (select array_agg(id) as ids from assessment),
       p as (select id from person where login = 'teacher')
     insert into journal (school, book, seq, batch, operation, at, person, kind, assessment, enrolment, was, becomes)
     select n.school, n.id, n.i, 'y-' || n.i, 'year-' || n.i, now() - interval '1 hour' + n.k * interval '1 millisecond', p.id, 'cell',
       a.ids[1 + n.i % array_length(a.ids, 1)], s.ids[1 + n.i % array_length(s.ids, 1)], '{}', '{"attempts":[{"score":5}]}'
     from n, s, a, p`,
  );
  await client.query(`update book set seq = ${LINES} where id = 'bench' and seq < ${LINES}`);
  await client.query('vacuum analyze');
  await client.end();
}

/** From the press on the book's Journal to its first rows painted. */
async function journalTimes(page: Page, ledger: string): Promise<number[]> {
  const times: number[] = [];
  await page.goto(ledger);
  await page.waitForSelector('.standing b:not(:empty)');
  for (let round = 0; round < 6; round++) {
    await page.waitForTimeout(500);
    const ms = await page.evaluate(() => {
      const link = Array.from(document.querySelectorAll<HTMLElement>('.tabs a')).find((a) =>
        a.textContent!.includes('Journal'),
      )!;
      const from = performance.now();
      link.click();
      return new Promise<number>((done) => {
        const look = (): void => {
          if (document.querySelector('lt-journal .line')) setTimeout(() => done(performance.now() - from));
          else requestAnimationFrame(look);
        };
        look();
      });
    });
    if (round > 0) times.push(ms);
    await page.locator('.tabs a', { hasText: 'Ledger' }).click();
    await page.waitForSelector('.standing b:not(:empty)');
  }
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
