import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { testServer, type TestServer } from '../../testing/server';
import { allJobKinds } from '../../jobs';
import { transaction } from '../database';
import { Refusal } from '../refusal';
import type { JobData, JobKind } from './job-kind';
import { dropFailedJob, putJob, retryFailedJob, takeJob } from './queue';
import { failedJobsOf } from './sql';
import { JobWorker } from './worker';
import { JobWorkers } from './workers';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.close());

let done: string[];
let failures: unknown[];
let run: (data: JobData) => Promise<void>;
beforeEach(() => {
  done = [];
  failures = [];
  run = async () => undefined;
});
afterEach(async () => {
  await server.pool.query('delete from jobs.job');
});

/** Takes the queue of a kind that is there, and does what the test says. */
const kind = (more: Partial<JobKind> = {}): JobKind => ({
  ...{ name: 'forgetting', attempts: 3, firstPauseSeconds: 60, timeLimitSeconds: 600 },
  keyOf: (data) => data['what'] ?? '',
  run: async (_, data) => {
    await run(data);
    done.push(data['what']!);
  },
  ...more,
});
const context = () => ({ pool: server.pool, failed: (error: unknown) => failures.push(error) });
const worker = (more: Partial<JobKind> = {}): JobWorker => new JobWorker(kind(more), context());
const put = (what: string): Promise<void> => putJob(server.pool, kind(), { school: 'tarn', what });
/** The pause before the next try is over. */
const wait = () => server.pool.query(`update jobs.job set start_after = now() - interval '1 second'`);
const failedFor = (school: string) => failedJobsOf(server.pool, school);

describe('a job', () => {
  it('is there when the write that it follows is, and only then', async () => {
    await expect(
      transaction(server.pool, async (db) => {
        await putJob(db, kind(), { school: 'tarn', what: 'lost' });
        throw new Error('not kept');
      }),
    ).rejects.toThrow('not kept');
    expect(await worker().step()).toBe(false);
    await transaction(server.pool, (db) => putJob(db, kind(), { school: 'tarn', what: 'kept' }));
    expect(await worker().step()).toBe(true);
    expect(done).toEqual(['kept']);
  });

  it('waits once for each key, and is put in again while one is done', async () => {
    await put('a');
    await put('a');
    await put('b');
    run = async (data) => {
      if (done.length === 0 && data['what'] === 'a') await put('a');
    };
    while (await worker().step());
    expect(done.sort()).toEqual(['a', 'a', 'b']);
  });

  it('is never done by two at the same time, whoever asks, and the second comes after the first', async () => {
    let under = 0;
    let most = 0;
    let began = (): void => undefined;
    const begun = new Promise<void>((r) => (began = r));
    run = async () => {
      most = Math.max(most, ++under);
      began();
      await new Promise((r) => setTimeout(r, 30));
      under--;
    };
    await put('a');
    const first = worker().step();
    await begun;
    await put('a');
    await worker().step();
    await first;
    expect(most).toBe(1);
    await wait();
    while (await worker().step());
    expect(done).toEqual(['a', 'a']);
  });

  it('that fails is tried again after a pause that grows, stops no other, and comes before the office in the end', async () => {
    run = async (data) => {
      if (data['what'] === 'bad') throw new Error('the name Ada is in here');
    };
    await put('bad');
    await put('good');
    const pauses: number[] = [];
    for (let tries = 0; tries < 3; tries++) {
      while (await worker().step());
      const { rows } = await server.pool.query<{ s: number }>(
        `select extract(epoch from start_after - now())::float8 as s from jobs.job where state = 'retry'`,
      );
      pauses.push(...rows.map((r) => r.s));
      await wait();
    }
    expect(done).toEqual(['good']);
    expect(failures).toHaveLength(3);
    expect(pauses).toHaveLength(2);
    expect(pauses[0]).toBeGreaterThan(50);
    expect(pauses[1]).toBeGreaterThan(pauses[0]!);
    const [failed] = await failedFor('tarn');
    expect(failed).toMatchObject({ stored: { kind: 'forgetting', key: 'bad', what: 'bad' }, tries: 3 });
    // What an error may say of people stays in the log.
    expect(failed!.message).not.toContain('Ada');
    expect(await failedFor('elsewhere')).toEqual([]);
    // Not put in again by itself within the hour; by the office at once.
    const sweeping = worker({
      sweep: { everySeconds: 1, due: () => Promise.resolve([{ school: 'tarn', what: 'bad' }]) },
    });
    expect(await sweeping.sweep()).toBe(0);
    run = async () => undefined;
    await retryFailedJob(server.pool, failed!.stored);
    while (await worker().step());
    expect(done).toEqual(['good', 'bad']);
    expect(await failedFor('tarn')).toEqual([]);
    expect(await sweeping.sweep()).toBe(1);
  });

  it('says to the office what was refused, and goes off its list', async () => {
    run = () => Promise.reject(new Refusal('bad-request', 'This book cannot take the rules.'));
    await put('refused');
    for (let tries = 0; tries < 3; tries++) {
      while (await worker().step());
      await wait();
    }
    const [failed] = await failedFor('tarn');
    expect(failed!.message).toBe('This book cannot take the rules.');
    await dropFailedJob(server.pool, failed!.stored);
    expect(await failedFor('tarn')).toEqual([]);
  });

  it('that fails for good again and again stands on the list once, and not once it is done', async () => {
    for (let hour = 0; hour < 3; hour++) {
      run = () => Promise.reject(new Error('no'));
      await put('bad');
      for (let tries = 0; tries < 3; tries++) {
        while (await worker().step());
        await wait();
      }
    }
    expect(await failedFor('tarn')).toHaveLength(1);
    run = async () => undefined;
    await put('bad');
    while (await worker().step());
    expect(await failedFor('tarn')).toEqual([]);
    const { rows } = await server.pool.query(`select 1 from jobs.job where name = 'failed'`);
    expect(rows).toEqual([]);
  });

  it('of a server that is gone is taken up by another, and not while that server is at it', async () => {
    await put('a');
    expect(await takeJob(server.pool, 'forgetting')).not.toBeNull();
    await server.pool.query(`update jobs.job set started_on = now() - interval '10 seconds'`);
    await worker({ firstPauseSeconds: 0 })['takeUpLost']();
    await wait();
    let ended = (): void => undefined;
    run = () => new Promise((r) => (ended = r));
    const doing = worker().step();
    await new Promise((r) => setTimeout(r, 50));
    await server.pool.query(`update jobs.job set started_on = now() - interval '10 seconds' where state = 'active'`);
    await worker()['takeUpLost']();
    const { rows } = await server.pool.query(`select 1 from jobs.job where state = 'retry'`);
    expect(rows).toHaveLength(0);
    ended();
    await doing;
    expect(done).toEqual(['a']);
  });

  it('is begun because it was put in, by whoever is awake, and ends with the server', async () => {
    // Nobody looks by itself.
    const workers = new JobWorkers(server.databaseUrl, [kind()], context(), 3_600_000);
    await workers.start();
    await new Promise((r) => setTimeout(r, 50));
    const doing = new Promise<void>((r) => (run = async () => r()));
    await put('a');
    await doing;
    await workers.stop();
    expect(done).toEqual(['a']);
    expect(failures).toEqual([]);
  });
});

it('what waits is begun at the start, and what has its moment once that comes, with nobody to wake a worker', async () => {
  await put('waits');
  const workers = new JobWorkers(server.databaseUrl, [kind()], context(), 20);
  const doing = (what: string): Promise<void> =>
    new Promise((r) => (run = async (data) => void (data['what'] === what && r())));
  const first = doing('waits');
  await workers.start();
  await first;
  const second = doing('later');
  await putJob(server.pool, kind(), { school: 'tarn', what: 'later' }, new Date(Date.now() + 200));
  await second;
  await workers.stop();
  expect(done).toEqual(['waits', 'later']);
  expect(failures).toEqual([]);
});

it('every kind sweeps without a fault, on a school with nothing in it', async () => {
  const kinds = allJobKinds(() => ({ done: Promise.resolve(), stop: async () => undefined }), null);
  for (const each of kinds) {
    const one = new JobWorker(each, context());
    await one.sweep();
    while (await one.step());
  }
  expect(failures).toEqual([]);
});
