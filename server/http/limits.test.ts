import { request as rawRequest, type IncomingMessage } from 'node:http';
import { connect } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { LiveEvent } from '@contract/presence';
import { listen, operation, Person } from '../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

/** Sends the head of a request that says it is this long, and as much of it as the server takes. */
function sendLong(path: string, bytes: number, headers: Record<string, string> = {}) {
  return new Promise<{ status: number; taken: number }>((done, failed) => {
    const { hostname, port } = new URL(school.address);
    const request = rawRequest(
      {
        hostname,
        port,
        path: `/api/v1${path}`,
        method: 'POST',
        headers: { 'content-type': 'application/json', 'content-length': String(bytes), ...headers },
      },
      (answer: IncomingMessage) => {
        answer.resume();
        done({ status: answer.statusCode!, taken });
        request.destroy();
      },
    );
    let taken = 0;
    request.on('error', failed);
    const piece = Buffer.alloc(64_000, 32);
    const more = (): void => {
      if (request.destroyed || taken >= bytes) return;
      taken += piece.length;
      if (request.write(piece)) setImmediate(more);
      else request.once('drain', more);
    };
    more();
  });
}

describe('what is sent', () => {
  it('is not read before its sender is let in, nor beyond what its route takes', async () => {
    const stranger = await sendLong('/books/fens/intake', 30_000_000);
    expect(stranger.status).toBe(401);
    expect(stranger.taken).toBeLessThan(20_000_000);
    const own = { cookie: school.teacher.cookie, 'x-last-tally-token': school.teacher.token };
    expect((await sendLong('/books/fens/undo', 200_000, own)).status).toBe(413);
    expect((await sendLong('/session', 30_000_000)).status).toBe(413);
    // A whole book's cells are more than that.
    const cells = Array.from({ length: 2_000 }, (_, i) => ({
      assessment: 'moss',
      enrolment: `s-${i}`,
      version: 0,
      change: { kind: 'score', points: 1 },
    }));
    const whole = { operation: operation(), title: 'file', cells };
    expect(JSON.stringify(whole).length).toBeGreaterThan(100_000);
    expect((await school.teacher.send('POST', '/books/fens/intake', whole)).status).toBe(400);
  });

  it('to an address that nothing can have costs nobody else their answer', async () => {
    const paths = ['/books/%00', '/books/a%00b/sheet', `/books/${'x'.repeat(5_000)}`, '/books/%ED%A0%80'];
    const answers = await Promise.all(
      Array.from({ length: 40 }, (_, i) =>
        school.teacher.send('GET', i % 2 === 0 ? '/books/fens' : paths[i % paths.length]!),
      ),
    );
    expect(new Set(answers.filter((_, i) => i % 2 === 0).map((a) => a.status))).toEqual(new Set([200]));
    for (const [i, a] of answers.entries()) if (i % 2 === 1) expect([400, 404]).toContain(a.status);
  });

  it('is compressed where it is a whole sheet and the reader takes that', async () => {
    await school.pool.query(
      `insert into assessment (school, book, id, title, category, points, position)
       select school, id, 'bulk' || n, 'Bulk ' || n, 'work', 5, 100 + n from book, generate_series(1, 1000) n where id = 'fens'`,
    );
    const head = await fetch(`${school.address}/api/v1/books/fens/sheet`, {
      headers: { cookie: school.teacher.cookie },
    });
    expect(head.headers.get('content-encoding')).toBe('gzip');
    expect(((await head.json()) as { seq: number }).seq).toBeGreaterThan(0);
    await school.pool.query(`delete from assessment where id like 'bulk%'`);
  });
});

describe('a stream of changes', () => {
  const score = async (points: number) => {
    const { rows } = await school.pool.query<{ version: number }>(
      `select version from entry where assessment = 'moss' and enrolment = $1`,
      [school.benId],
    );
    await school.put('moss', school.benId, rows[0]?.version ?? 0, { kind: 'score', points });
  };

  it.each([
    ['has signed out', (who: Person) => who.must('DELETE', '/session')],
    [
      'is not of the school any more',
      () => school.pool.query(`update person set active = false where login = 'marker'`),
    ],
    [
      'was taken off the book',
      () => school.pool.query(`delete from book_staff where person = (select id from person where login = 'marker')`),
    ],
  ])('tells nothing to somebody who %s', async (_how, leave) => {
    const marker = await Person.signedIn(school.address, 'marker', PASSWORD);
    const stream = await listen<LiveEvent>(marker, '/events?book=fens');
    await stream.until((e) => e.kind === 'hello');
    await score(1);
    await stream.until((e) => e.kind === 'cells');
    await leave(marker);
    const told = stream.events.filter((e) => e.kind === 'cells').length;
    const other = await listen<LiveEvent>(school.coTeacher, '/events?book=fens');
    await other.until((e) => e.kind === 'hello');
    await score(2);
    await other.until((e) => e.kind === 'cells');
    expect(stream.events.filter((e) => e.kind === 'cells')).toHaveLength(told);
    other.close();
    stream.close();
    await school.pool.query('update person set active = true');
    await school.pool.query(
      `insert into book_staff (school, book, person, role) select school, 'fens', id, 'marker' from person where login = 'marker' on conflict do nothing`,
    );
  });

  it('is given six times to one person, and not once more until one is closed', async () => {
    const reviewer = await Person.signedIn(school.address, 'reviewer', PASSWORD);
    const open = async () => {
      const stream = await listen<LiveEvent>(reviewer, '/events?book=fens');
      await stream.until((e) => e.kind === 'hello');
      return stream;
    };
    const six = [];
    for (let i = 0; i < 6; i++) six.push(await open());
    await expect(open()).rejects.toThrow('429');
    six[0]!.close();
    await expect.poll(() => open().then((s) => !!six.push(s), () => false), { timeout: 30_000 }).toBe(true); // prettier-ignore
    for (const stream of six) stream.close();
  });

  it('takes the place of the one that the same window had, whose line may be dead; nobody else’s', async () => {
    const reviewer = await Person.signedIn(school.address, 'reviewer', PASSWORD);
    const marker = await Person.signedIn(school.address, 'marker', PASSWORD);
    const open = async (who: Person) => {
      const stream = await listen<LiveEvent>(who, '/events?book=fens&window=w-1');
      await stream.until((e) => e.kind === 'hello');
      return stream;
    };
    const theirs = await open(marker);
    let last = await open(reviewer);
    for (let i = 0; i < 8; i++) {
      const next = await open(reviewer);
      await last.ended;
      last = next;
    }
    const again = await Person.signedIn(school.address, 'reviewer', PASSWORD);
    const elsewhere = await open(again);
    expect((await school.put('reed', school.adaId, 0, { kind: 'score', points: 2 })).status).toBe(200);
    for (const stream of [theirs, last, elsewhere]) {
      await stream.until((e) => e.kind === 'cells');
      stream.close();
    }
  });

  it('that is not read, of somebody who is taken off the book, ends the stream alone', async () => {
    const marker = await Person.signedIn(school.address, 'marker', PASSWORD);
    const { hostname, port } = new URL(school.address);
    const socket = connect(Number(port), hostname);
    socket.write(
      `GET /api/v1/events?book=fens HTTP/1.1\r\nHost: ${hostname}:${port}\r\nCookie: ${marker.cookie}\r\n\r\n`,
    );
    await new Promise((done) => socket.once('data', done));
    socket.pause();
    const note = 'x'.repeat(4_000);
    const { rows } = await school.pool.query<{ version: number }>(
      `select version from staff_note where place = 'moss'`,
    );
    let version = rows[0]?.version ?? 0;
    // More than the lines between take in by themselves.
    for (let i = 0; i < 400; i++)
      await school.teacher.must('PUT', `/books/fens/staff-notes/${school.benId}/moss`, { operation: operation(), version: version++, note: `${note}${i}`.slice(0, 2_000) }); // prettier-ignore
    await school.pool.query(`delete from book_staff where person = (select id from person where login = 'marker')`);
    await score(3);
    // The server is there for everybody else.
    for (let i = 0; i < 5; i++) expect((await school.teacher.send('GET', '/books/fens')).status).toBe(200);
    socket.destroy();
    await school.pool.query(
      `insert into book_staff (school, book, person, role) select school, 'fens', id, 'marker' from person where login = 'marker'`,
    );
  });
});

describe('many writers of one book', () => {
  it('leave connections to those who read, sign in and write another', async () => {
    const holder = await school.pool.connect();
    await holder.query('begin');
    await holder.query(`select 1 from book where id = 'fens' for update`);
    const write = (i: number) =>
      school.teacher.send('PATCH', '/books/fens', { operation: operation(), title: `Fens ${i}` });
    const waiting = Array.from({ length: 40 }, (_, i) => write(i));
    await expect
      .poll(async () => (await holder.query(`select 1 from pg_locks where not granted`)).rowCount, { timeout: 30_000 })
      .toBeGreaterThan(0);
    const [read, signedIn, other] = await Promise.all([
      school.teacher.send('GET', '/books/fens/sheet'),
      Person.signedIn(school.address, 'ben', PASSWORD),
      school.stranger.send('PATCH', '/books/hills', { operation: operation(), title: 'Hills too' }),
    ]);
    expect([read.status, signedIn.token.length > 0, other.status]).toEqual([200, true, 200]);
    await holder.query('commit');
    holder.release();
    const statuses = (await Promise.all(waiting)).map((a) => a.status);
    expect(statuses.filter((s) => s === 200)).toHaveLength(40);
  });
});
