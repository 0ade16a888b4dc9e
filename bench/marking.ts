import { readdirSync, readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import pg from 'pg';
import type { StudentAssessment, Submission } from '@contract/work/submissions';
import { Client, operation } from '../demo/client';
import { docx } from '../demo/files/office';
import { reportPdf } from '../demo/files/pdf';
import { photograph } from '../demo/files/photograph';
import { paragraph, readings } from '../demo/files/words';
import { Random } from '../demo/random';
import { benchBrowser } from './browser';
import { median, p95, type Figure } from './figure';
import { markingKeyRatio, penRatio, seenElsewhere } from './marking-hands';
import { startBenchServer, type BenchServer } from './server';
import { letStudentsIn } from './work';

const STUDENTS = 120;
const PAGES = 60;
/** Documents of sixty pages that are opened, each once. */
const LONG = 6;
/** Steps to the next that are timed, one every so many milliseconds, from the third on. */
const STEPS = { count: 26, every: 2_000, from: 3 };
const KEPT = new URL('../demo/files/kept/', import.meta.url);

interface Work {
  name: string;
  bytes: Buffer;
}

/** What students hand in as the demo mixes it, as far as it has a first page: PDF, photographs, HEIC, DOCX. */
async function workOf(random: Random, n: number): Promise<Work> {
  const of = { title: 'Soil pit', author: `Student ${n}` };
  const heic = readdirSync(KEPT).filter((f) => f.toLowerCase().endsWith('.heic'));
  switch (n % 6) {
    case 1:
    case 3:
      return { name: `sheet ${n}.jpg`, bytes: photograph(random, 1, 1_600, 1_200) };
    case 4:
      return { name: `IMG_${n}.HEIC`, bytes: readFileSync(new URL(heic[n % heic.length]!, KEPT)) };
    case 5:
      return { name: `pit ${n}.docx`, bytes: docx(of.title, [paragraph(random), paragraph(random)], readings(random)) };
    default:
      return { name: `pit ${n}.pdf`, bytes: await reportPdf(random, { ...of, at: '2026-11-01', pages: 2 + (n % 5) }) };
  }
}

async function handIn(server: BenchServer, n: number, assessment: string, work: Work): Promise<void> {
  const who = await Client.signedIn(server.address, `student${n}`, server.password);
  const place = `/my/books/bench/assessments/${assessment}`;
  const { files } = await who.send<Submission>('POST', `${place}/files`, { id: 'f1', name: work.name, bytes: work.bytes.length }); // prettier-ignore
  await who.upload(files[0]!.upload, work.bytes);
  const { begun } = await who.send<StudentAssessment>('GET', place);
  await who.send('POST', `${place}/hand-in`, {
    ...{ operation: operation(), submission: begun!.id, version: begun!.version, statement: null },
    pressedAt: new Date().toISOString(),
  });
}

/** Milliseconds from a step in the room to somebody else's first page on the screen. */
const stepTook = (page: Page, how: { key: string } | { row: string }): Promise<number> =>
  page.evaluate(async (step) => {
    // Without a function of its own: what compiles this would name it by a helper that the page has not.
    const before = document.querySelector('h1')?.textContent;
    const from = performance.now();
    if ('key' in step) document.body.dispatchEvent(new KeyboardEvent('keydown', { key: step.key, bubbles: true }));
    else document.getElementById(step.row)!.click();
    for (;;) {
      await new Promise((done) => requestAnimationFrame(done));
      if (document.querySelector('h1')?.textContent !== before && document.querySelector('[data-drawn]')) break;
      if (performance.now() - from > 20_000) throw new Error(`nothing is shown after ${before}`);
    }
    await new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
    return performance.now() - from;
  }, how);

async function heapMb(page: Page): Promise<number> {
  const session = await page.context().newCDPSession(page);
  await session.send('HeapProfiler.collectGarbage');
  const { usedSize } = await session.send('Runtime.getHeapUsage');
  await session.detach();
  return usedSize / 1e6;
}

async function everybody(page: Page): Promise<void> {
  for (let n = 1; n < STUDENTS; n++) await stepTook(page, { key: 'ArrowDown' });
  await page.locator('aside li button').first().click();
}

export async function markingFigures(): Promise<Figure[]> {
  const server = await startBenchServer(STUDENTS, 10);
  const pool = new pg.Pool({ connectionString: server.databaseUrl, max: 1 });
  const browser = await benchBrowser();
  try {
    await letStudentsIn(pool);
    const teacher = await Client.signedIn(server.address, server.login, server.password);
    const { rows } = await pool.query<{ category: string }>('select category from assessment limit 1');
    for (const id of ['mixed', 'long'])
      await teacher.send('POST', '/books/bench/assessments', {
        ...{ operation: operation(), id, title: id, category: rows[0]!.category, points: 20 },
        ...{ due: null, closes: null, takesWork: true, work: { attempts: null }, more: {} },
      });
    const random = new Random(7);
    for (let n = 0; n < STUDENTS; n++) await handIn(server, n, 'mixed', await workOf(random, n));
    for (let n = 0; n < LONG * 3; n++) {
      const pages = n % 3 === 1 ? PAGES : 2;
      const bytes = await reportPdf(random, { title: 'Survey', author: `Student ${n}`, at: '2026-11-01', pages });
      await handIn(server, n, 'long', { name: 'survey.pdf', bytes });
    }

    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    const data = { login: server.login, password: server.password };
    await context.request.post(`${server.address}/api/v1/session`, { data });
    const page = await context.newPage();

    await page.goto(`${server.address}/book/bench/marking/mixed`);
    await page.locator('[data-drawn]').first().waitFor();
    const steps: number[] = [];
    for (let n = 1; n <= STEPS.count; n++) {
      await page.waitForTimeout(STEPS.every);
      const took = await stepTook(page, { key: 'n' });
      if (n >= STEPS.from) steps.push(took);
    }

    await page.locator('aside li button').first().click();
    await everybody(page);
    const once = await heapMb(page);
    await everybody(page);
    const twice = await heapMb(page);

    await page.goto(`${server.address}/book/bench/marking/long`);
    await page.locator('[data-drawn]').first().waitFor();
    const long = await page.evaluate(() => Array.from(document.querySelectorAll('aside li button'), (b) => b.id));
    const opens: number[] = [];
    for (let n = 0; n < LONG; n++) {
      // Nobody beside this one was looked at, so that their file is not fetched yet; the viewer is.
      await page.evaluate((row) => document.getElementById(row)!.click(), long[long.length - 1]!);
      await page.waitForTimeout(500);
      opens.push(await stepTook(page, { row: long[n * 3 + 1]! }));
    }
    // By a rubric of two criteria, on the first page of a PDF.
    const rubric = { by: 'points', scaled: true, criteria: ['c1', 'c2'].map((id) => ({ id, title: id, stands: 'counts', levels: [1, 2, 3].map((n) => ({ id: `${id}-${n}`, points: n, words: `level ${n}` })) })) }; // prettier-ignore
    await teacher.send('PUT', '/books/bench/assessments/long/rubric', { operation: operation(), version: 0, rubric });
    await page.reload();
    await page.locator('[data-drawn]').first().waitFor();
    await page.locator('lt-surface-marks').first().waitFor();
    await page.getByRole('textbox', { name: 'End note' }).waitFor();
    const other = await context.newPage();
    await other.goto(page.url());
    await other.getByRole('slider').first().waitFor();
    const seen = await seenElsewhere(page, other);
    await other.close();
    const bare = await context.newPage();
    const keys = await markingKeyRatio(page, bare);
    const pen = await penRatio(page, bare);
    return [
      { name: 'marking.key-to-paint.ratio-to-bare-input', value: keys, unit: '', against: 'one input' },
      { name: 'marking.pen.ratio-to-bare-canvas', value: pen, unit: '', against: 'a bare canvas' },
      { name: 'marking.seen-elsewhere.p95-ms', value: seen, unit: 'ms', against: '' },
      { name: 'marking.next-readable.p95-ms', value: p95(steps), unit: 'ms', against: '' },
      { name: 'marking.open-60-pages.ms', value: median(opens), unit: 'ms', against: '' },
      { name: 'marking.step-everybody.heap-mb', value: Math.max(0, twice - once), unit: 'MB', against: '' },
    ];
  } finally {
    await browser.close();
    await pool.end();
    await server.stop();
  }
}
