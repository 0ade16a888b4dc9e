import { createHash, randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import pg from 'pg';
import type { HandedIn, StudentAssessment, Submission } from '@contract/work/submissions';
import { Client, operation } from '../demo/client';
import { benchBrowser } from './browser';
import { p95, type Figure } from './figure';
import { startBenchServer, type BenchServer } from './server';

const MEGABYTE = 1_048_576;
/** What is uploaded against the same inserted straight, in pieces of one megabyte. */
const RATIO_MB = 200;
const LARGE_MB = 1_000;
/** Students who hand in within a minute, and what each hands in. */
const RUSH = { students: 200, seconds: 60, bytes: 3_000_000 };

/** Students of the bench have no passwords: they are given the teacher's. */
export async function letStudentsIn(pool: pg.Pool): Promise<void> {
  await pool.query(
    `update person set password_hash = (select password_hash from person where login = 'teacher') where role = 'student'`,
  );
}

async function makeAssessment(teacher: Client, pool: pg.Pool, id: string): Promise<void> {
  const { rows } = await pool.query<{ category: string }>('select category from assessment limit 1');
  await teacher.send('POST', '/books/bench/assessments', {
    ...{ operation: operation(), id, title: id, category: rows[0]!.category, points: 20 },
    ...{ due: null, closes: null, takesWork: true, work: { attempts: null }, more: {} },
  });
}

const placeOf = (assessment: string): string => `/my/books/bench/assessments/${assessment}`;

/** Sends bytes of an upload as a browser does: one request for all of it. */
async function send(
  server: BenchServer,
  who: Client,
  upload: string,
  body: Uint8Array | ReadableStream,
): Promise<void> {
  const answer = await fetch(`${server.address}/api/v1/uploads/${upload}`, {
    method: 'PATCH',
    headers: {
      ...{ cookie: who.sender.cookie, 'x-last-tally-token': who.sender.token, 'tus-resumable': '1.0.0' },
      ...{ 'upload-offset': '0', 'content-type': 'application/offset+octet-stream' },
    },
    body: body as BodyInit,
    duplex: 'half',
  } as RequestInit);
  if (answer.status !== 204) throw new Error(`an upload was answered with ${answer.status}: ${await answer.text()}`);
}

async function newUpload(who: Client, assessment: string, bytes: number): Promise<{ file: string; upload: string }> {
  const id = operation();
  const s = await who.send<Submission>('POST', `${placeOf(assessment)}/files`, { id, name: 'work.bin', bytes });
  return { file: id, upload: s.files.find((f) => f.id === id)!.upload };
}

/** So many megabytes, each another, made as they are asked for. */
function megabytes(count: number): ReadableStream<Uint8Array> {
  let made = 0;
  const base = randomBytes(MEGABYTE);
  return new ReadableStream({
    pull(controller) {
      if (made === count) return controller.close();
      const piece = Buffer.from(base);
      piece.writeUInt32BE(made++);
      controller.enqueue(new Uint8Array(piece));
    },
  });
}

async function plainInsert(databaseUrl: string): Promise<number> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  await client.query('create table plain_chunk (at bigint primary key, data bytea)');
  await client.query('alter table plain_chunk alter column data set storage external');
  const base = randomBytes(MEGABYTE);
  const from = performance.now();
  for (let n = 0; n < RATIO_MB; n++) {
    const piece = Buffer.from(base);
    piece.writeUInt32BE(n);
    await client.query('insert into plain_chunk values ($1, $2)', [n, piece]);
  }
  const took = performance.now() - from;
  await client.query('drop table plain_chunk');
  await client.end();
  return took;
}

const residentMb = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'latin1'))![1]) / 1024;

/** The most memory that the server has above what it had before, while something is done. */
async function memoryWhile(pid: number, work: () => Promise<void>): Promise<number> {
  const before = residentMb(pid);
  let most = before;
  const timer = setInterval(() => (most = Math.max(most, residentMb(pid))), 25);
  try {
    await work();
  } finally {
    clearInterval(timer);
  }
  return most - before;
}

async function download(server: BenchServer, who: Client, submission: string, file: string): Promise<string> {
  const answer = await fetch(`${server.address}/api/v1/my/books/bench/submissions/${submission}/files/${file}`, {
    headers: { cookie: who.sender.cookie },
  });
  const hash = createHash('sha256');
  for await (const piece of answer.body as unknown as AsyncIterable<Uint8Array>) hash.update(piece);
  return hash.digest('hex');
}

async function rush(server: BenchServer, students: Client[]): Promise<Figure[]> {
  const waits: number[] = [];
  let errors = 0;
  const handIn = async (who: Client): Promise<void> => {
    await new Promise((done) => setTimeout(done, Math.random() * RUSH.seconds * 1_000));
    try {
      const { upload } = await newUpload(who, 'rush', RUSH.bytes);
      await send(server, who, upload, new Uint8Array(randomBytes(RUSH.bytes)));
      const { begun } = await who.send<StudentAssessment>('GET', placeOf('rush'));
      const from = performance.now();
      await who.send<HandedIn>('POST', `${placeOf('rush')}/hand-in`, {
        ...{ operation: operation(), submission: begun!.id, version: begun!.version, statement: null },
        pressedAt: new Date().toISOString(),
      });
      waits.push(performance.now() - from);
    } catch (error) {
      errors++;
      process.stderr.write(`${String(error)}\n`);
    }
  };
  await Promise.all(students.map(handIn));
  return [
    { name: 'work.rush.p95-ms', value: p95(waits), unit: 'ms', against: '' },
    { name: 'work.rush.errors', value: errors, unit: '', against: '' },
  ];
}

/** The list of an assessment with 400 students, from its address to all states drawn; the book is open already. */
async function list(server: BenchServer): Promise<Figure> {
  const browser = await benchBrowser();
  try {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
    await context.request.post(`${server.address}/api/v1/session`, {
      data: { login: server.login, password: server.password },
    });
    const page = await context.newPage();
    const times: number[] = [];
    await page.goto(`${server.address}/book/bench/assessments/rush`);
    for (let n = 0; n < 6; n++) {
      const link = page.getByRole('link', { name: 'what came in' });
      await link.waitFor();
      const took = await page.evaluate(async () => {
        const from = performance.now();
        Array.from(document.querySelectorAll('a'))
          .find((a) => a.textContent === 'what came in')!
          .click();
        for (;;) {
          await new Promise((done) => requestAnimationFrame(done));
          if (document.querySelectorAll('td.state').length === 400) break;
        }
        // Once it is on the screen.
        await new Promise((done) => requestAnimationFrame(() => setTimeout(done)));
        return performance.now() - from;
      });
      times.push(took);
      await page.getByRole('link', { name: 'its settings' }).click();
    }
    return { name: 'work.list.ms', value: times.slice(1).sort((a, b) => a - b)[2]!, unit: 'ms', against: '' };
  } finally {
    await browser.close();
  }
}

export async function workFigures(): Promise<Figure[]> {
  const server = await startBenchServer(400, 40, { FILE_MB: '1100', STUDENT_MB: '4000' });
  const pool = new pg.Pool({ connectionString: server.databaseUrl, max: 1 });
  try {
    await letStudentsIn(pool);
    const teacher = await Client.signedIn(server.address, server.login, server.password);
    for (const id of ['large', 'rush']) await makeAssessment(teacher, pool, id);
    const signedIn = (n: number): Promise<Client> => Client.signedIn(server.address, `student${n}`, server.password);
    const one = await signedIn(0);

    const { upload } = await newUpload(one, 'large', RATIO_MB * MEGABYTE);
    const from = performance.now();
    await send(server, one, upload, megabytes(RATIO_MB));
    const through = performance.now() - from;
    const ratio = through / (await plainInsert(server.databaseUrl));

    const memory = await memoryWhile(server.pid, async () => {
      const large = await newUpload(one, 'large', LARGE_MB * MEGABYTE);
      await send(server, one, large.upload, megabytes(LARGE_MB));
      const { begun } = await one.send<StudentAssessment>('GET', placeOf('large'));
      const kept = begun!.files.find((f) => f.id === large.file)!.sha256;
      if ((await download(server, one, begun!.id, large.file)) !== kept) throw new Error('other bytes came back');
    });

    // One after the other: two hundred at once from one address would be asked for a proof.
    const students: Client[] = [];
    for (let n = 1; n <= RUSH.students; n++) students.push(await signedIn(n));
    return [
      { name: 'work.upload.ratio-to-plain-insert', value: ratio, unit: '', against: 'plain inserts' },
      { name: 'work.upload.rss-mb', value: memory, unit: 'MB', against: '' },
      ...(await rush(server, students)),
      await list(server),
    ];
  } finally {
    await pool.end();
    await server.stop();
  }
}
