import { randomUUID } from 'node:crypto';
import { test as base, expect, type ConsoleMessage, type Locator, type Page, type Response } from '@playwright/test';
import pg from 'pg';
import { startMailStandIn } from '../scripts/lib/mail-stand-in.mjs';
import { createDatabase, dropDatabase } from '../scripts/lib/database/sql.mjs';
import { followLink } from './follow-link';
import { ownCluster } from './setup';
import { KeptPages, type PageOptions } from './kept-pages';
import { KeptServer } from './kept-server';
import { DEMO_CLOCK, OFFICE_PASSWORD, STAFF_PASSWORD, STUDENT_PASSWORD } from '../demo/accounts.mjs';

export const WETLAND = 'wetland-survey-methods';

/** A mail as the stand-in keeps it. */
export interface SentMail {
  messageId: string;
  times: number;
  to: string;
  subject: string;
  text: string;
}

/** A server with a demo school of its own, and its database to look into. */
export interface Tally {
  address: string;
  /** Rows of a query on the database behind the server. */
  rows<T extends pg.QueryResultRow>(sql: string, values?: unknown[]): Promise<T[]>;
  /** Where the school's clock stands still from now on, as that of a demo. */
  setClock(moment: string): Promise<void>;
  /** What was sent by mail with these words in it; with the option `mail`. */
  mails(words: string): Promise<SentMail[]>;
  mailFaults(faults: { down?: boolean; silent?: boolean; refuses?: string }): Promise<void>;
  kill(): Promise<void>;
  restart(): Promise<void>;
  /** Asks the API as somebody, without a page; each wish has an operation of its own. An answer that is no success fails. */
  as(login: string): Promise<<T>(method: string, path: string, body: object) => Promise<T>>;
  /** Signs in without opening a page: the next one does. */
  letIn(page: Page, login: string): Promise<void>;
  /** Signs in and opens the person’s first page. */
  signIn(page: Page, login: string): Promise<void>;
  /**
   * Goes on to another address of the application as its own links do, without loading it anew; where nobody is in it yet,
   * somebody else was let in, or one is at it already, it is loaded. What a test wants loaded it asks for by `goto` or `reload`.
   */
  navigate(page: Page, path: string): Promise<void>;
  openLedger(page: Page): Promise<void>;
  enrolment(family: string): Promise<string>;
}

export const passwordOf = (login: string): string =>
  login === 'halloran'
    ? OFFICE_PASSWORD
    : ['aldous', 'brandvold', 'penhale', 'quigg'].includes(login)
      ? STAFF_PASSWORD
      : STUDENT_PASSWORD;

interface Fixtures {
  tally: Tally;
  /** Somebody else’s page, with a session of its own; made otherwise where that is said. */
  another: (changes?: PageOptions) => Promise<Page>;
  quiet: void;
  empty: boolean;
  alone: boolean;
  mail: boolean;
}

/** Half of the files see the pages as somebody who asked for less motion. */
const LESS_MOTION = /\/[3-9]\d-[^/]*$/;

export const test = base.extend<Fixtures & { options: PageOptions }, { kept: KeptPages; server: KeptServer }>({
  kept: [
    async ({}, use) => {
      const kept = new KeptPages();
      await use(kept);
      await kept.drop();
    },
    { scope: 'worker' },
  ],

  server: [
    async ({}, use) => {
      const server = new KeptServer();
      await use(server);
      await server.kill();
    },
    { scope: 'worker' },
  ],

  /** What a page is made with. */
  options: async ({ viewport, colorScheme, hasTouch, isMobile, contextOptions }, use, info) => {
    const { reducedMotion = LESS_MOTION.test(info.file) ? 'reduce' : 'no-preference' } = contextOptions;
    await use({ viewport, colorScheme, hasTouch, isMobile, reducedMotion });
  },

  page: async ({ browser, kept, options }, use) => {
    await use(await kept.open(browser, options));
  },

  another: async ({ browser, kept, options }, use) => {
    await use((changes = {}) => kept.open(browser, { ...options, ...changes }));
  },

  /** A server with nothing in it, not the demo school. */
  empty: [false, { option: true }],

  /** A PostgreSQL of its own: for a test that kills it, which would take the connections of every other test down. */
  alone: [false, { option: true }],

  /** The mail stand-in beside it, to which the server sends. */
  mail: [false, { option: true }],

  tally: async ({ page: _page, kept, server, empty, alone, mail }, use, info) => {
    const cluster = alone ? await ownCluster() : undefined;
    const demo = cluster?.url ?? process.env['E2E_DATABASE']!;
    const name = `e2e_${randomUUID().replaceAll('-', '')}`;
    const asAdmin = async (sql: string): Promise<void> => {
      const admin = new pg.Client({ connectionString: demo.replace(/\/demo$/, '/postgres') });
      await admin.connect();
      await admin.query(sql);
      await admin.end();
    };
    await asAdmin(createDatabase(name, empty ? 'empty' : 'demo'));
    const databaseUrl = demo.replace(/\/demo$/, `/${name}`);
    const standIn = mail ? await startMailStandIn() : null;
    const pool = new pg.Pool({ connectionString: databaseUrl, max: 2 });
    // What the making of the demo school told by mail is told.
    await pool.query(`update mail set state = 'sent', fault = ''`);
    await pool.query(`update notice set mail = 'told' where mail is null`);
    // The demo's day begins anew in each test, whenever the school was made.
    await pool.query('update school set clock_offset = $1::timestamptz - clock_timestamp() where demo', [DEMO_CLOCK]);
    // A test may kill the database under it.
    pool.on('error', () => undefined);
    pool.on('connect', (client) => client.on('error', () => undefined));
    const port = await kept.portOf(info.parallelIndex);
    const start = () =>
      server.serve({
        ...{ databaseUrl, port, sessionSecret: 'e2e', setupCode: empty ? 'e2e' : '', checkAnswers: true },
        extra: standIn ? { MAIL_SERVER: `smtp://127.0.0.1:${standIn.smtp}` } : {},
      });
    // What it holds of another cluster's books could pass for this one's.
    if (alone) await server.kill();
    await start();
    const address = `http://127.0.0.1:${port}`;
    /** Pages that show the application to whom was let in last. */
    const inside = new WeakSet<Page>();
    const tally: Tally = {
      address,
      rows: async <T extends pg.QueryResultRow>(sql: string, values?: unknown[]) =>
        (await pool.query<T>(sql, values)).rows,
      async setClock(moment) {
        await pool.query('update school set demo = true, fixed_now = $1', [moment]);
      },
      async mails(words) {
        const query = new URLSearchParams({ words }).toString();
        return (await (await fetch(`http://127.0.0.1:${standIn!.page}/mails?${query}`)).json()) as SentMail[];
      },
      async mailFaults(faults) {
        const headers = { 'content-type': 'application/json' };
        const init = { method: 'POST', headers, body: JSON.stringify(faults) };
        await fetch(`http://127.0.0.1:${standIn!.page}/faults`, init);
      },
      kill: () => server.kill(),
      restart: start,
      async as(login) {
        const signIn = await fetch(`${address}/api/v1/session`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ login, password: passwordOf(login) }),
        });
        const all = signIn.headers.getSetCookie();
        const cookie = all.find((c) => c.startsWith('last-tally='))!.split(';')[0]!;
        const { token } = (await signIn.json()) as { token: string };
        return async <T>(method: string, path: string, body: object) => {
          // Some wishes are done once by themselves and carry no operation.
          const operation = /\/(work|phrases\/[\w-]+)$/.test(path) ? {} : { operation: randomUUID() };
          const answer = await fetch(`${address}/api/v1${path}`, {
            method,
            headers: { 'content-type': 'application/json', cookie, 'x-last-tally-token': token },
            body: JSON.stringify({ ...operation, ...body }),
          });
          const text = await answer.text();
          expect(answer.ok, `${method} ${path}: ${text}`).toBe(true);
          return JSON.parse(text) as T;
        };
      },
      async letIn(page, login) {
        // The form itself is tried by e2e/01 and e2e/21; the cookie that it brings is the same.
        const data = { login, password: passwordOf(login) };
        // A line that was kept from before may be closed by the server as it is used again; a browser asks once more.
        const answer = await page.request.post(`${address}/api/v1/session`, { data, maxRetries: 1 });
        expect(answer.status()).toBe(200);
        inside.delete(page);
      },
      async navigate(page, path) {
        const to = `${address}${path}`;
        if (inside.has(page) && page.url() !== to && page.url().startsWith(`${address}/`)) await followLink(page, path);
        else await page.goto(to);
        inside.add(page);
      },
      async signIn(page, login) {
        await tally.letIn(page, login);
        await tally.navigate(page, '/');
        await expect(page).toHaveURL(/\/(desk|office|my)/);
      },
      async openLedger(page) {
        await tally.navigate(page, `/book/${WETLAND}/ledger`);
        await expect(page.locator('.standing b').first()).not.toBeEmpty();
      },
      async enrolment(family) {
        const sql =
          'select e.id from enrolment e join person p on p.school = e.school and p.id = e.person where e.book = $1 and p.family = $2';
        return (await pool.query<{ id: string }>(sql, [WETLAND, family])).rows[0]!.id;
      },
    };
    await use(tally);
    await kept.wipe(address);
    if (alone) await server.kill();
    // What the server logs is shown where its test fails; a test that kills the database under it passes quietly.
    const log = await server.rest();
    if (info.status !== info.expectedStatus) process.stderr.write(log);
    await pool.end();
    standIn?.child.kill();
    await asAdmin(dropDatabase(name));
    await cluster?.stop();
  },

  /** No page may say anything on its console: no error, no policy broken. Tests that cut the line switch it off. */
  quiet: [
    async ({ page, kept, tally: _before }, use, info) => {
      const said: string[] = [];
      const faults: Promise<unknown>[] = [];
      const heard = {
        console: (m: ConsoleMessage) => m.type() === 'error' && said.push(m.text()),
        pageerror: (e: Error) => said.push(e.message),
        response: (r: Response) => {
          if (r.status() < 500) return;
          // A page that has gone on meanwhile takes the words of an answer with it; that it failed is said all the same.
          const words = r.text().catch((e: Error) => `unread: ${e.message}`);
          faults.push(words.then((text) => said.push(`${r.url()} ${r.status()} ${text.slice(0, 300)}`)));
        },
      };
      page.on('console', heard.console).on('pageerror', heard.pageerror).on('response', heard.response);
      kept.watch();
      await use();
      page.off('console', heard.console).off('pageerror', heard.pageerror).off('response', heard.response);
      await Promise.all(faults);
      if (!info.tags.includes('@line-cut')) expect(said.filter((s) => !/status of 4\d\d/.test(s))).toEqual([]);
    },
    { auto: true },
  ],
});

export { expect };

/** The cell of a student in an assessment of the open ledger. */
export async function cellOf(page: Page, family: string, title: string) {
  const row = page.locator('.row').filter({ has: page.locator('.name b', { hasText: new RegExp(`^${family},`) }) });
  const col = await page
    .locator('.title')
    .filter({ has: page.locator('b', { hasText: new RegExp(`^${title}$`) }) })
    .getAttribute('id');
  return row.locator(`[role=gridcell][aria-colindex="${Number(col!.replace('head-', '')) + 2}"]`);
}

/** Chooses in a field that is one of a few, in a page or in a part of it. */
export async function chooseOption(
  where: Page | Locator,
  label: string | RegExp,
  option: string | RegExp,
): Promise<void> {
  const field = where.getByRole('combobox', { name: label, exact: true });
  const page = 'page' in where ? where.page() : where;
  const wanted = page.getByRole('option', { name: option, exact: true });
  // A page that is just settling may close the list; a person opens it again.
  await expect(async () => {
    if (!(await wanted.isVisible())) await field.click();
    await wanted.click({ timeout: 3_000 });
  }).toPass();
  // A list that closes gives its field the keys back, a moment later: what is pressed next is meant for elsewhere.
  await expect(wanted).toBeHidden();
}

export const standingOf = (page: Page, family: string) =>
  page
    .locator('.row')
    .filter({ has: page.locator('.name b', { hasText: new RegExp(`^${family},`) }) })
    .locator('.standing b');
