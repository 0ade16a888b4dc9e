import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { LiveEvent } from '@contract/presence';
import type { EntryState } from '@contract/scores';
import { makeApp, type App } from '../../app';
import { openPool } from '../../kernel/database';
import { listen, operation, Person } from '../../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../../testing/school';
import type { BookAnnotations } from '@contract/annotations';
import { USUAL_ROOM } from '../../kernel/config';

let school: TestSchool;
/** A second server on the same database. */
let second: { app: App; pool: ReturnType<typeof openPool>; address: string };
beforeAll(async () => {
  school = await testSchool();
  const pool = openPool(school.databaseUrl, 4);
  const config = {
    databaseUrl: school.databaseUrl,
    port: 0,
    host: '127.0.0.1',
    sessionSecret: 'test-secret',
    setupCode: '',
    demoClock: null,
    webFolder: '',
    secureCookies: false,
    checkAnswers: true,
    poolSize: 4,
    room: USUAL_ROOM,
    mail: null,
  };
  const app = makeApp(pool, config, pino({ level: 'silent' }));
  await new Promise<void>((done) => app.server.listen(0, '127.0.0.1', done));
  second = { app, pool, address: `http://127.0.0.1:${(app.server.address() as AddressInfo).port}` };
});
afterAll(async () => {
  await second.app.stop();
  second.app.server.closeAllConnections();
  await new Promise((done) => second.app.server.close(done));
  await second.pool.end();
  await school.close();
});

type Event<K extends LiveEvent['kind']> = Extract<LiveEvent, { kind: K }>;
const is =
  <K extends LiveEvent['kind']>(kind: K, so: (e: Event<K>) => boolean = () => true) =>
  (e: LiveEvent): boolean =>
    e.kind === kind && so(e as Event<K>);
const events = (who: Person, after = '') => listen<LiveEvent>(who, `/events?book=fens${after}`);
const onSecond = (login: string): Promise<Person> => Person.signedIn(second.address, login, PASSWORD);

describe('two people on two servers', () => {
  it('see each other’s changes, with what is kept and by whom', async () => {
    const marker = await onSecond('marker');
    const seen = await events(marker);
    await seen.until(is('hello'));
    await school.put('moss', school.adaId, 0, { kind: 'score', points: 11 });
    const event = (await seen.until(is('cells'))) as Event<'cells'>;
    expect([event.cells, event.by]).toMatchObject([
      [
        {
          assessment: 'moss',
          enrolment: school.adaId,
          version: 1,
          entry: { attempts: [{ score: 11 }] },
          releaseState: 0,
        },
      ],
      ['S. teacher'],
    ]);
    // Who made it hears of it too, on any page of theirs, as of nobody’s.
    const own = await events(school.teacher);
    await own.until(is('hello'));
    await school.release('moss', [school.adaId]);
    expect(((await own.until(is('cells'))) as Event<'cells'>).by).toEqual(['']);
    own.close();
    await seen.until(is('cells', (e) => e.cells[0]?.releaseState === 1));
    await school.teacher.must('PUT', `/books/fens/staff-notes/${school.adaId}/moss`, {
      operation: operation(),
      version: 0,
      note: 'Look again.',
    });
    await seen.until(is('remarks', (e) => e.remarks[0]?.note?.text === 'Look again.'));
    await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true });
    await seen.until(is('book', (e) => e.what.includes('settings')));
    seen.close();
  });

  it('lose nothing between two connections', async () => {
    const marker = await onSecond('marker');
    const { seq } = await marker.must<{ seq: number }>('GET', '/books/fens');
    await school.put('reed', school.adaId, 0, { kind: 'score', points: 1 });
    await school.put('reed', school.adaId, 1, { kind: 'score', points: 2 });
    const seen = await events(marker, `:${seq}`);
    const event = (await seen.until(is('cells'))) as Event<'cells'>;
    expect(event.by).toEqual(['S. teacher']);
    // Both changes at once: what is told is what is kept now.
    expect(event.cells).toMatchObject([{ version: 2, entry: { attempts: [{ score: 2 }] }, seq: seq + 2 }]);
    seen.close();
  });

  it('see who is here and where, until they leave', async () => {
    const marker = await onSecond('marker');
    const a = await events(school.teacher);
    const hello = (await a.until(is('hello'))) as Event<'hello'>;
    const b = await events(marker);
    await b.until(is('people', (e) => e.people.some((p) => p.name === 'S. teacher')));
    await school.teacher.must('PUT', '/books/fens/place', {
      connection: hello.connection,
      enrolment: school.benId,
      assessment: 'reed',
    });
    await b.until(is('people', (e) => e.people.some((p) => p.enrolment === school.benId && p.assessment === 'reed')));
    // Nobody moves somebody else.
    const other = await marker.send('PUT', '/books/fens/place', {
      connection: hello.connection,
      enrolment: null,
      assessment: null,
    });
    expect(other.status).toBe(404);
    b.events.length = 0;
    a.close();
    await b.until(is('people', (e) => e.people.length === 0));
    b.close();
  });

  it('tells students and strangers nothing', async () => {
    for (const who of [school.ada, school.stranger]) {
      const seen = await events(who);
      await seen.until(is('gone'));
      await school.put('moss', school.cleoId, 0, { kind: 'score', points: 3 }).catch(() => undefined);
      expect(seen.events).toEqual([{ kind: 'gone', book: 'fens' }]);
      seen.close();
    }
    await expect(events(new Person(school.address))).rejects.toThrow(/401/);
    await expect(listen(school.teacher, '/events?book=not%20an%20id')).rejects.toThrow(/400/);
    await expect(listen(school.teacher, `/events?book=fens${[...Array(20).keys()].map((i) => `&book=b${i}`).join('')}`)).rejects.toThrow(/400/); // prettier-ignore
  });

  it('follows several books on one stream, and parts with one of them alone', async () => {
    const marker = await onSecond('marker');
    const seen = await listen<LiveEvent>(marker, '/events?book=fens&book=not-there');
    await seen.until(is('gone', (e) => e.book === 'not-there'));
    await seen.until(is('hello', (e) => e.book === 'fens'));
    await school.put('reed', school.cleoId, 0, { kind: 'score', points: 4 });
    expect(((await seen.until(is('cells'))) as Event<'cells'>).book).toBe('fens');
    seen.close();
  });

  it('greets a page once its place stands, so that what it says of itself from then on is kept', async () => {
    const marker = await onSecond('marker');
    const seen = await events(marker);
    const hello = (await seen.until(is('hello'))) as Event<'hello'>;
    const { rowCount } = await school.pool.query('select from presence where connection = $1', [hello.connection]);
    expect(rowCount).toBe(1);
    seen.close();
  });

  it('goes on after the connection that listens was broken', async () => {
    const marker = await onSecond('marker');
    const seen = await events(marker);
    await seen.until(is('hello'));
    await school.pool.query(
      `select pg_terminate_backend(pid) from pg_stat_activity where query like 'listen%' and datname = current_database()`,
    );
    await school.put('reed', school.benId, 0, { kind: 'score', points: 5 });
    await seen.until(is('cells', (e) => e.cells.some((c) => c.enrolment === school.benId)));
    // What stands in no journal was not heard: the page is greeted anew, and asks for what it lacks.
    await expect.poll(() => seen.events.filter(is('hello')).length).toBe(2);
    seen.close();
  });

  it('lose nothing where a server could not read what came: their pages come back and are told', async () => {
    const marker = await onSecond('marker');
    const seen = await events(marker);
    const { seq } = (await seen.until(is('hello'))) as Event<'hello'>;
    await seen.until(is('people'));
    const query = second.pool.query.bind(second.pool) as (...args: unknown[]) => Promise<unknown>;
    let failed = 0;
    const broken = vi.spyOn(second.pool, 'query').mockImplementation(((...args: unknown[]) => {
      const { text } = typeof args[0] === 'string' ? { text: args[0] } : (args[0] as { text: string });
      if (!text.includes('from journal') || failed > 0) return query(...args);
      failed++;
      return Promise.reject(new Error('the connection broke'));
    }) as never);
    try {
      const { version } = await school.teacher.must<EntryState>('PUT', `/books/fens/entries/moss/${school.benId}`, {
        ...{ operation: operation(), version: 0, change: { kind: 'score', points: 7 } },
      });
      await seen.ended;
      expect([failed, seen.events.some(is('cells'))]).toEqual([1, false]);
      const again = await events(marker, `:${seq}`);
      const told = (await again.until(is('cells'))) as Event<'cells'>;
      expect(told.cells.map((c) => [c.assessment, c.version])).toEqual([['moss', version]]);
      again.close();
    } finally {
      broken.mockRestore();
    }
  });
});

describe('what stands beside the scores', () => {
  const beside = (who: Person): Promise<BookAnnotations> => who.must('GET', '/books/fens/annotations');

  it('holds notes, groups, one’s own views, and what others changed since the last visit', async () => {
    const before = await beside(school.coTeacher);
    expect(before.changed).toEqual([]);
    // While the visit lasts it is told live; only what comes after its end is news at the next.
    await school.put('test', school.adaId, 0, { kind: 'score', points: 8 });
    await beside(school.coTeacher);
    await school.put('test', school.benId, 0, { kind: 'score', points: 9 });
    await school.coTeacher.must('PUT', `/books/fens/entries/test/${school.cleoId}`, {
      operation: operation(),
      version: 0,
      change: { kind: 'score', points: 1 },
    });
    await school.pool.query(
      `update last_visit set at = at - interval '1 hour' where person = (select id from person where login = 'coteacher')`,
    );
    const after = await beside(school.coTeacher);
    expect(after.changed).toEqual([{ assessment: 'test', enrolment: school.benId }]);
    expect((await beside(school.coTeacher)).changed).toEqual(after.changed);

    const made = await school.teacher.must<{ version: number }[]>('PUT', '/books/fens/groups/g-boats', {
      operation: operation(),
      version: 0,
      title: 'Boat crew',
      members: [school.adaId, school.benId, school.adaId],
    });
    expect(made).toMatchObject([{ id: 'g-boats', title: 'Boat crew', version: 1, members: { length: 2 } }]);
    const group = (id: string, more: object) =>
      school.teacher.send('PUT', `/books/fens/groups/${id}`, {
        operation: operation(),
        version: 0,
        title: 'Boat crew',
        members: [],
        ...more,
      });
    expect((await group('g-boats', {})).status).toBe(409);
    expect((await group('g-other', {})).body['code']).toBe('already-there');
    expect((await group('g-other', { title: 'X', members: ['s-nobody'] })).status).toBe(400);
    expect((await group('bad id', { title: 'X' })).status).toBe(400);
    await school.teacher.must('DELETE', '/books/fens/groups/g-boats', { operation: operation(), version: 1 });
    expect((await beside(school.teacher)).groups).toEqual([]);

    await school.teacher.must('PUT', '/books/fens/views/v1', { title: 'Late ones', query: 'only=missing' });
    expect((await beside(school.teacher)).views).toEqual([{ id: 'v1', title: 'Late ones', query: 'only=missing' }]);
    expect((await beside(school.coTeacher)).views).toEqual([]);
    await school.teacher.must('DELETE', '/books/fens/views/v1');
    expect((await beside(school.teacher)).views).toEqual([]);
  });
});
