import { connect, type Socket } from 'node:net';
import pg from 'pg';
import { Client, operation } from '../demo/client';
import { median, p95, type Figure } from './figure';
import { startBenchServer, type BenchServer } from './server';

const CONNECTIONS = 16;
/** Milliseconds of each measured stretch, and how many of each kind there are. */
const STRETCH = 4_000;
const ROUNDS = 5;
/** Stretches before: until both have reached their speed. */
const WARM_UP = 3;

/** One signed-in person over plain HTTP, as light as it gets, so that the server is what is measured. */
interface Sender {
  cookie: string;
  token: string;
}

interface Answer {
  status: number;
  ms: number;
}

/** One kept-alive connection that sends one request after another and reads no more of an answer than its status. */
class Line {
  private readonly socket: Socket;
  private readonly host: string;
  private rest = '';
  private from = 0;
  private done: ((a: Answer) => void) | null = null;
  private failed: ((e: unknown) => void) | null = null;

  constructor(address: string) {
    const { hostname, port, host } = new URL(address);
    this.host = host;
    this.socket = connect(Number(port), hostname).setNoDelay(true);
    this.socket.setEncoding('latin1').on('data', (text: unknown) => this.read(String(text)));
    this.socket.on('error', (e) => this.failed?.(e));
    this.socket.on('close', () => this.failed?.(new Error('the connection was closed')));
  }

  put(who: Sender, path: string, body: object): Promise<Answer> {
    this.from = performance.now();
    const text = JSON.stringify(body);
    this.socket.write(
      `PUT /api/v1${path} HTTP/1.1\r\nhost: ${this.host}\r\ncontent-type: application/json\r\ncontent-length: ${text.length}\r\n` +
        `x-last-tally-token: ${who.token}\r\ncookie: ${who.cookie}\r\n\r\n${text}`,
    );
    return new Promise((done, failed) => Object.assign(this, { done, failed }));
  }

  private read(text: string): void {
    this.rest += text;
    const head = this.rest.indexOf('\r\n\r\n');
    if (head < 0) return;
    const length = Number(/\r\ncontent-length: (\d+)/i.exec(this.rest)?.[1] ?? 0);
    if (this.rest.length < head + 4 + length) return;
    const status = Number(this.rest.slice(9, 12));
    this.rest = '';
    this.done?.({ status, ms: performance.now() - this.from });
  }

  end(): void {
    this.failed = null;
    this.socket.destroy();
  }
}

/** The cells that are written: each loop has its own, so that versions are known without asking. */
interface Cell {
  path: string;
  version: number;
}

async function cellsOf(pool: pg.Pool): Promise<Cell[]> {
  const { rows } = await pool.query<{ assessment: string; enrolment: string; version: number }>(
    `select assessment, enrolment, version from entry where book = 'bench' and state is null and set_points is null
     order by md5(assessment || enrolment) limit 6400`,
  );
  return rows.map((r) => ({ path: `/books/bench/entries/${r.assessment}/${r.enrolment}`, version: r.version }));
}

/** Runs `loops` side by side until the time is up; gives how many of their steps were done a second. */
async function perSecond(loops: ((i: number) => Promise<void>)[]): Promise<number> {
  const from = performance.now();
  const counts = await Promise.all(
    loops.map(async (step) => {
      let n = 0;
      while (performance.now() - from < STRETCH) await step(n++);
      return n;
    }),
  );
  return counts.reduce((a, b) => a + b, 0) / ((performance.now() - from) / 1000);
}

async function scoresRatio(server: BenchServer, pool: pg.Pool): Promise<Figure> {
  const teacher = await Client.signedIn(server.address, server.login, server.password);
  const cells = await cellsOf(pool);
  const share = Math.floor(cells.length / CONNECTIONS);
  const lines = Array.from({ length: CONNECTIONS }, () => new Line(server.address));
  const http = lines.map((line, c) => async (i: number) => {
    const cell = cells[c * share + (i % share)]!;
    const { status } = await line.put(teacher.sender, cell.path, {
      operation: operation(),
      version: cell.version,
      change: { kind: 'score', points: 1 + (i % 9) },
    });
    if (status !== 200) throw new Error(`a score was answered with ${status}`);
    cell.version++;
  });
  const plain = new pg.Pool({ connectionString: server.databaseUrl, max: CONNECTIONS });
  const { rows } = await pool.query<{ assessment: string; enrolment: string }>(
    `select assessment, enrolment from attempt where book = 'bench' and number = 1 and score is not null limit 6400`,
  );
  const each = Math.floor(rows.length / CONNECTIONS);
  const updates = Array.from({ length: CONNECTIONS }, (_, c) => async (i: number) => {
    const at = rows[c * each + (i % each)]!;
    await plain.query(
      `update attempt set score = $1 where school = 'bench' and book = 'bench' and assessment = $2 and enrolment = $3 and number = 1`,
      [1 + (i % 9), at.assessment, at.enrolment],
    );
  });
  const kept: number[] = [];
  const bare: number[] = [];
  for (let round = 0; round < WARM_UP + ROUNDS; round++) {
    const a = await perSecond(http);
    const b = await perSecond(updates);
    if (round < WARM_UP) continue;
    kept.push(a);
    bare.push(b);
  }
  await plain.end();
  for (const line of lines) line.end();
  process.stderr.write(
    `scores kept per second: ${Math.round(median(kept))}; plain updates: ${Math.round(median(bare))}\n`,
  );
  return {
    name: 'server.scores.ratio-to-plain-updates',
    value: median(kept) / median(bare),
    unit: 'ratio',
    against: 'single-row updates through node-postgres, 16 connections',
  };
}

const MARKERS = 200;

/** 200 people, each keeping a score every two seconds for half a minute. */
async function markers(server: BenchServer, pool: pg.Pool): Promise<Figure[]> {
  const office = await Client.signedIn(server.address, 'office', server.password);
  const logins = Array.from({ length: MARKERS }, (_, i) => `marker${i}`);
  const person = (login: string) => ({
    login,
    family: login,
    given: '',
    number: '',
    mail: '',
    role: 'staff',
    password: server.password,
  });
  await office.send('POST', '/people', { people: logins.map(person) });
  await pool.query(
    `insert into book_staff (school, book, person, role) select school, 'bench', id, 'marker' from person where login like 'marker%'`,
  );
  const people: Sender[] = [];
  for (const login of logins) people.push((await Client.signedIn(server.address, login, server.password)).sender);
  const cells = (await cellsOf(pool)).slice(-MARKERS * 15);
  const times: number[] = [];
  let errors = 0;
  await Promise.all(
    people.map(async (who, m) => {
      const line = new Line(server.address);
      await new Promise((done) => setTimeout(done, (2_000 * m) / MARKERS));
      for (let i = 0; i < 15; i++) {
        const from = performance.now();
        const cell = cells[m * 15 + i]!;
        try {
          const { status, ms } = await line.put(who, cell.path, {
            operation: operation(),
            version: cell.version,
            change: { kind: 'score', points: 1 + (i % 9) },
          });
          if (status === 200) times.push(ms);
          else errors++;
        } catch {
          errors++;
        }
        await new Promise((done) => setTimeout(done, Math.max(0, 2_000 - (performance.now() - from))));
      }
      line.end();
    }),
  );
  return [
    { name: 'server.200-markers.p95-ms', value: p95(times), unit: 'ms', against: '' },
    { name: 'server.200-markers.errors', value: errors, unit: 'errors', against: '' },
  ];
}

/** Figures of the server on its own database, with the book of 400 students × 120 assessments. */
export async function serverFigures(): Promise<Figure[]> {
  const server = await startBenchServer();
  const pool = new pg.Pool({ connectionString: server.databaseUrl, max: 2 });
  try {
    return [...(await markers(server, pool)), await scoresRatio(server, pool)];
  } finally {
    await pool.end();
    await server.stop();
  }
}
