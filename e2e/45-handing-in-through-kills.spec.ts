import type { Browser, Page } from '@playwright/test';
import { expect, test, WETLAND, type Tally } from './tally';
import { OURS, photograph, setAssessment, sha } from './transect-report';

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
