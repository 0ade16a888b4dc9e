import { accessibilityFaults } from './axe';
import { createHash, randomBytes } from 'node:crypto';
import { expect, test, WETLAND, type Tally } from './tally';
import type { Browser, Page } from '@playwright/test';

const PHONE = { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true };
/** A JPEG’s beginning, and bytes of its own: photographs from a phone. */
const photograph = (bytes: number): Buffer =>
  Buffer.concat([Buffer.from('ffd8ffe000104a46494600010100000100010000', 'hex'), randomBytes(bytes)]);
/** Of all that is handed in at the demo school, what belongs to the assessment of these tests. */
const OURS = `s.assessment = (select id from assessment where title = 'Transect report')`;
const OUR_FILES = `submission_file f join submission s on s.school = f.school and s.book = f.book and s.id = f.submission
  join upload u on u.school = f.school and u.id = f.upload where ${OURS}`;
const sha = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** Makes an assessment in one line in the ledger, as a teacher does, and says more of it on its page. */
async function setAssessment(page: Page, tally: Tally): Promise<void> {
  await tally.letIn(page, 'aldous');
  await tally.openLedger(page);
  await page.keyboard.type('/new');
  await page.keyboard.press('Enter');
  const line = page.getByLabel(/^A new assessment/);
  await line.fill('Presentation, 10, in the room, 4 Dec');
  await expect(page.getByRole('dialog')).toContainText('on paper or in the room');
  await line.fill('Transect report, 20, 27 Nov 17:00');
  await expect(page.getByRole('dialog')).toContainText('handed in here');
  await line.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
  const [made] = await tally.rows<{ id: string }>(`select id from assessment where title = 'Transect report'`);
  await page.goto(`${tally.address}/book/${WETLAND}/assessments/${made!.id}`);
  await page.getByRole('combobox', { name: 'How often it can be handed in' }).click();
  await page.getByRole('option', { name: '2 times' }).click();
  await page.getByRole('combobox', { name: 'What the student ticks' }).click();
  await page.getByRole('option', { name: 'these words:' }).click();
  await page.getByLabel('What the student ticks, in words').fill('All of it comes from me or names its source.');
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('footer output')).toContainText('Transect report');
  expect(await tally.rows(`select takes_work, work::json from assessment where title = 'Transect report'`)).toEqual([
    { takes_work: true, work: { attempts: 2, statement: 'All of it comes from me or names its source.' } },
  ]);
}

test(
  'a student on a phone hands in two photographs and a text over a line that drops twice, and again',
  { tag: '@line-cut' },
  async ({ page, tally, browser }) => {
    await setAssessment(page, tally);
    await page.getByRole('link', { name: 'what came in' }).click();
    await expect(page.getByRole('heading', { name: 'Transect report' })).toBeVisible();
    await expect(page.getByText('21 of 21 students listed, by name')).toBeVisible();

    const phone = await (await browser.newContext(PHONE)).newPage();
    await tally.letIn(phone, 'farrelly');
    await phone.goto(`${tally.address}/my`);
    await phone.getByRole('link', { name: /Transect report/ }).click();
    await expect(phone.getByText(/Handed in now: in time/)).toBeVisible();
    const handIn = phone.getByRole('button', { name: /^Hand in/ });
    await expect(handIn).toBeDisabled();

    // The line drops in the middle of each: what came stays, and it goes on by itself.
    let drops = 0;
    await phone.route('**/api/v1/uploads/**', async (route) => {
      if (route.request().method() !== 'PATCH' || drops >= 2) return route.continue();
      drops++;
      // Some of it arrives, the rest and the answer do not.
      const body = route.request().postDataBuffer()!;
      await route.fetch({ postData: body.subarray(0, 700_000) }).catch(() => undefined);
      await route.abort('connectionreset');
    });
    const files = [photograph(1_500_000), photograph(900_000)];
    await phone
      .locator('input[type=file]')
      .last()
      .setInputFiles(files.map((buffer, n) => ({ name: `field-sheet-${n + 1}.jpg`, mimeType: 'image/jpeg', buffer })));
    await phone.getByLabel('Text', { exact: true }).fill('What I found along the transect.');
    await expect(phone.getByText('photograph, 1.5 MB')).toBeVisible({ timeout: 30_000 });
    await expect(phone.getByText('photograph, 901 kB')).toBeVisible();
    expect(drops).toBe(2);
    await expect(phone.getByText('Tick the statement first.')).toBeVisible();
    await phone.getByLabel(/All of it comes from me/).check();
    expect(await accessibilityFaults(phone)).toEqual([]);

    // The answer to "Hand in" is lost: it is sent again as the same, and there is one receipt.
    let lost = 0;
    await phone.route('**/hand-in', async (route) => {
      if (lost++ > 0) return route.continue();
      await route.fetch();
      await route.abort('connectionreset');
    });
    await handIn.click();
    await expect(phone.getByRole('heading', { name: 'Handed in' })).toBeVisible({ timeout: 20_000 });
    expect(lost).toBe(2);
    const [kept] = await tally.rows<{ receipt: string; typed: string }>(
      `select receipt, typed from submission s where state = 'handed-in' and ${OURS}`,
    );
    await expect(phone.getByText(kept!.receipt)).toBeVisible();
    expect(kept!.typed).toBe('What I found along the transect.');
    expect(await tally.rows(`select f.name, f.sha256 from ${OUR_FILES} order by name`)).toEqual([
      { name: 'field-sheet-1.jpg', sha256: sha(files[0]!) },
      { name: 'field-sheet-2.jpg', sha256: sha(files[1]!) },
    ]);

    // The list follows by itself, and the work is there to be opened.
    const row = page.locator('tr', { hasText: 'Farrelly, Con' });
    await expect(row).toContainText('to mark');
    await row.click();
    const link = page.getByRole('link', { name: 'field-sheet-1.jpg' });
    const [download] = await Promise.all([page.waitForEvent('download'), link.click()]);
    const stream = await download.createReadStream();
    const got: Buffer[] = [];
    for await (const piece of stream) got.push(piece as Buffer);
    expect(sha(Buffer.concat(got))).toBe(sha(files[0]!));

    // Once more, while it is open.
    await phone.getByRole('button', { name: 'hand in again' }).click();
    await phone.getByLabel('Text', { exact: true }).fill('With the second transect.');
    await phone.getByLabel(/All of it comes from me/).check();
    await phone.getByRole('button', { name: 'Hand in 1 part' }).click();
    await expect(phone.getByText('All 2 attempts are handed in.')).toBeVisible();
    await expect(row).toContainText('2 attempts');
    await phone.context().close();
  },
);

test('what lies there when nothing is taken in any more is shown as not handed in, and staff can take it in', async ({
  page,
  tally,
  another,
}) => {
  const [{ id }] = (await tally.rows<{ id: string }>(
    `update assessment set takes_work = true, due = '2026-11-27T17:00:00Z', closes = '2026-11-28T17:00:00Z'
     where book = $1 and title = 'Report' returning id`,
    [WETLAND],
  )) as [{ id: string }];
  const student = await another();
  await tally.letIn(student, 'farrelly');
  await student.goto(`${tally.address}/my/${WETLAND}/${id}`);
  await student.getByLabel('Text', { exact: true }).fill('Reeds on the east bank.');
  const file = { name: 'sheet.jpg', mimeType: 'image/jpeg', buffer: photograph(20_000) };
  await student.locator('input[type=file]').last().setInputFiles(file);
  await expect(student.getByText(/photograph, \d+ kB/)).toBeVisible();
  await expect(student.getByText(/Handed in now: in time/)).toBeVisible();
  await expect.poll(() => tally.rows(`select 1 from submission where assessment = $1 and typed <> ''`, [id])).toHaveLength(1); // prettier-ignore

  await student.getByRole('checkbox').check();
  await tally.setClock('2026-11-28T17:00:01Z');
  await student.getByRole('button', { name: /^Hand in/ }).click();
  await expect(student.getByRole('alert')).toContainText('Work was taken in until 28 Nov 17:00. What lies here stays.');
  await expect(student.getByText(/Handed in now/)).toHaveCount(0);
  await expect(student.getByRole('heading', { name: 'Not handed in' })).toBeVisible();
  await expect(student.getByRole('main')).toContainText('sheet.jpg');
  await expect(student.locator('blockquote')).toHaveText('Reeds on the east bank.');

  await tally.letIn(page, 'aldous');
  await page.goto(`${tally.address}/book/${WETLAND}/assessments/${id}/arrivals`);
  await page.getByText('Farrelly, Con').first().click();
  await expect(page.getByRole('button', { name: 'take in what lies here' })).toBeVisible();
});

test(
  'what was begun is there again after a reload, without a line too, and a file that broke off goes on',
  { tag: ['@line-cut', '@long'] },
  async ({ page, tally, browser }) => {
    await setAssessment(page, tally);
    const [{ id }] = (await tally.rows<{ id: string }>(
      `select id from assessment where title = 'Transect report'`,
    )) as [{ id: string }];
    const context = await browser.newContext(PHONE);
    const phone = await context.newPage();
    await tally.letIn(phone, 'okonjo');
    await phone.goto(`${tally.address}/my/${WETLAND}/${id}`);
    await phone.getByLabel('Text', { exact: true }).fill('First words.');
    await expect
      .poll(() => tally.rows(`select typed from submission s where ${OURS}`))
      .toEqual([{ typed: 'First words.' }]);
    // Half of a file arrives, then the page is gone.
    let pieces = 0;
    await phone.route('**/api/v1/uploads/**', async (route) => {
      if (route.request().method() !== 'PATCH') return route.continue();
      if (pieces++ > 0) return route.abort('connectionreset');
      await route.fetch({ postData: route.request().postDataBuffer()!.subarray(0, 1_000_000) }).catch(() => undefined);
      await route.abort('connectionreset');
    });
    const file = { name: 'pit.jpg', mimeType: 'image/jpeg', buffer: photograph(2_000_000) };
    await phone.locator('input[type=file]').last().setInputFiles(file);
    await expect.poll(() => tally.rows(`select u.received > 0 as some from ${OUR_FILES}`)).toEqual([{ some: true }]);
    await phone.route('**/api/v1/my/**', (route) =>
      route.request().method() === 'PUT' ? route.abort() : route.continue(),
    );
    await phone.getByLabel('Text', { exact: true }).fill('First words, and more without a line.');
    await expect(phone.getByText(/the line is down/)).toBeVisible({ timeout: 20_000 });
    // The page is gone before the line is back, else it goes on by itself.
    await phone.goto('about:blank');
    await phone.unrouteAll({ behavior: 'ignoreErrors' });
    await phone.goto(`${tally.address}/my/${WETLAND}/${id}`);
    await expect(phone.getByLabel('Text', { exact: true })).toHaveValue('First words, and more without a line.');
    await expect(phone.getByText(/broke off at \d+ % of 2.0 MB; choose it again to go on/)).toBeVisible();
    await expect(phone.getByRole('button', { name: /^Hand in/ })).toBeDisabled();
    const before = await tally.rows<{ n: string }>('select count(*) as n from upload');
    await phone.locator('input[type=file]').last().setInputFiles(file);
    await expect(phone.getByText('photograph, 2.0 MB')).toBeVisible({ timeout: 20_000 });
    // It went on in the place that it had.
    expect(await tally.rows('select count(*) as n from upload')).toEqual(before);
    expect(await tally.rows(`select f.sha256 from ${OUR_FILES}`)).toEqual([{ sha256: sha(file.buffer) }]);
    await context.close();
  },
);

/** Eight students hand in at once, each until there is an answer, while `kill` happens again and again; all that was told is kept. */
async function handInThrough(page: Page, tally: Tally, browser: Browser, kill: () => Promise<void>): Promise<void> {
  await setAssessment(page, tally);
  const [made] = await tally.rows<{ id: string }>(`select id from assessment where title = 'Transect report'`);
  const work = `${tally.address}/api/v1/my/books/${WETLAND}/assessments/${made!.id}`;
  const students = await tally.rows<{ login: string }>(
    `select p.login from person p join enrolment e on e.school = p.school and e.person = p.id
     where e.book = $1 and e.left_at is null and p.password_hash is not null order by p.login limit 8`,
    [WETLAND],
  );
  expect(students).toHaveLength(8);
  let ended = false;

  /** Does it until there is an answer, as a page does. */
  const until = async <T>(ask: () => Promise<{ ok(): boolean; status(): number; json(): Promise<T> }>): Promise<T> => {
    for (;;) {
      const answer = await ask().catch(() => null);
      if (answer && (answer.ok() || (answer.status() >= 400 && answer.status() < 500))) return answer.json();
      await new Promise((done) => setTimeout(done, 60));
    }
  };
  const people = await Promise.all(
    students.map(async ({ login }) => {
      const own = await (await browser.newContext()).newPage();
      await tally.letIn(own, login);
      const session = await own.request.get(`${tally.address}/api/v1/session`);
      return { login, own, token: ((await session.json()) as { me: { token: string } }).me.token };
    }),
  );
  const handsIn = async ({
    login,
    own,
    token,
  }: (typeof people)[number]): Promise<{ receipt: string; hash: string }> => {
    const headers = { 'x-last-tally-token': token };
    const bytes = photograph(3_000_000);
    type Lying = { id: string; version: number; files: { upload: string; sha256: string | null }[] };
    const data = { id: `f-${login}`, name: 'pit.jpg', bytes: bytes.length };
    const { files } = await until<Lying>(() => own.request.post(`${work}/files`, { data, headers }));
    const address = `${tally.address}/api/v1/uploads/${files[0]!.upload}`;
    for (;;) {
      const tus = { ...headers, 'tus-resumable': '1.0.0' };
      const head = await own.request.head(address, { headers: tus }).catch(() => null);
      const offset = head?.ok() ? Number(head.headers()['upload-offset']) : null;
      if (offset === bytes.length) break;
      if (offset !== null)
        await own.request
          .fetch(address, {
            method: 'PATCH',
            headers: { ...tus, 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' },
            data: bytes.subarray(offset, offset + 700_000),
          })
          .catch(() => null);
      await new Promise((done) => setTimeout(done, 20));
    }
    const { begun } = await until<{ begun: Lying }>(() => own.request.get(work, { headers }));
    const write = {
      ...{ operation: `hand-in-${login}-1`, submission: begun.id, version: begun.version },
      ...{ statement: 'All of it comes from me or names its source.', pressedAt: '2026-11-24T09:00:00Z' },
    };
    const answer = await until<{ submission: { receipt: string } }>(() =>
      own.request.post(`${work}/hand-in`, { data: write, headers }),
    );
    await own.context().close();
    return { receipt: answer.submission.receipt, hash: sha(bytes) };
  };
  const all = Promise.all(people.map(handsIn)).finally(() => (ended = true));
  for (let kills = 0; !ended && kills < 4; kills++) {
    await new Promise((done) => setTimeout(done, 900));
    if (ended) break;
    await kill();
  }
  const receipts = await all;
  type Kept = { receipt: string; hash: string; real: string; attempts: number };
  const read = (): Promise<Kept[]> =>
    tally.rows<Kept>(
      `select s.receipt, f.sha256 as hash,
       (select encode(sha256(string_agg(c.data, ''::bytea order by c.at)), 'hex') from blob b
          join blob_chunk c on c.school = b.school and c.blob = b.id where b.school = f.school and b.sha256 = f.sha256) as real,
       (select count(*)::int from attempt a where a.school = s.school and a.book = s.book and a.assessment = s.assessment
          and a.enrolment = s.enrolment and a.handed_in) as attempts
     from submission s join submission_file f on f.school = s.school and f.book = s.book and f.submission = s.id
     where s.state = 'handed-in' and ${OURS} order by s.receipt`,
    );
  // The connections of the test itself were cut with the database.
  await expect(async () => void (await read())).toPass();
  const kept = await read();
  const told = receipts.map(({ receipt, hash }) => ({ receipt, hash, real: hash, attempts: 1 }));
  expect(kept).toEqual(told.sort((a, b) => (a.receipt < b.receipt ? -1 : 1)));
}

test(
  'a server that is killed in the middle of uploads and of handing in: every receipt that was shown has its bytes',
  { tag: ['@line-cut', '@long'] },
  ({ page, tally, browser }) =>
    handInThrough(page, tally, browser, async () => {
      await tally.kill();
      await tally.restart();
    }),
);

test.describe('with a database of its own', () => {
  test.use({ alone: true });

  test(
    'a database that is killed in the middle of uploads and of handing in: every receipt that was shown has its bytes',
    { tag: ['@line-cut', '@long'] },
    async ({ page, tally, browser }) => {
      // The database of these tests answers before it has written; for this one it does as it does in use.
      const [here] = await tally.rows<{ name: string }>('select current_database() as name');
      await tally.rows(`alter database ${here!.name} set synchronous_commit = on`);
      await tally.kill();
      await tally.restart();
      await handInThrough(page, tally, browser, async () => {
        // One process of the database killed takes all its connections down; it recovers from its log.
        const [victim] = await tally
          .rows<{ pid: number }>(
            `select pid from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() limit 1`,
          )
          .catch(() => []);
        if (victim) process.kill(victim.pid, 'SIGKILL');
      });
    },
  );
});
