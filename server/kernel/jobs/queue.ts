import PgBoss from 'pg-boss';
import type { JobName } from '@contract/jobs';
import type { Db } from '../database';
import type { JobData, JobKind, JobQueue } from './job-kind';
import { deleteFailures, type FailedJobRow, notifyWorkers, queuesOf } from './sql';

/** Where pg-boss keeps its tables, beside those of the application. */
const SCHEMA = 'jobs';
/** Jobs that failed for good wait here for the office. */
const FAILED = 'failed';

/** pg-boss on whatever connection is given: a transaction's too. */
const on = (db: Db): PgBoss.Db => ({
  executeSql: async (text, values) => {
    const { rows, rowCount } = await db.query<object>(text, values as unknown[]);
    return { rows, rowCount: rowCount ?? 0 };
  },
});

const nowhere: PgBoss.Db = { executeSql: () => Promise.reject(new Error('a job is put in on a connection')) };
/** It only makes the statements: taking jobs, and listening for them, is the worker's. */
const boss = new PgBoss({ db: nowhere, schema: SCHEMA, migrate: false, supervise: false, schedule: false });

/** How a job stands in the queue: its kind and key beside its ids, since a job that failed for good keeps only these. */
type Stored = JobData & { kind: JobName; key: string };

export interface TakenJob {
  id: string;
  data: JobData;
}

/** Makes the tables of the queue, or brings them up to this version. */
export async function prepareJobTables(db: Db): Promise<void> {
  const maker = new PgBoss({ db: on(db), schema: SCHEMA, supervise: false, schedule: false });
  await maker.start();
  await maker.stop({ graceful: false });
}

/** Makes a queue for each kind, and gives those that are there the kind's tries and limits of today. */
export async function prepareQueues(db: Db, kinds: readonly JobKind[]): Promise<void> {
  const maker = new PgBoss({ db: on(db), schema: SCHEMA, migrate: false, supervise: false, schedule: false });
  const there = new Set(await queuesOf(db));
  if (!there.has(FAILED)) await maker.createQueue(FAILED);
  for (const kind of kinds) {
    const { name, attempts, firstPauseSeconds, timeLimitSeconds } = kind;
    const queue = {
      name,
      // Of one key no two wait.
      policy: 'short' as const,
      retryLimit: attempts - 1,
      retryDelay: firstPauseSeconds,
      retryBackoff: true,
      expireInSeconds: timeLimitSeconds,
      retentionMinutes: 30 * 24 * 60,
      deadLetter: FAILED,
    };
    await (there.has(name) ? maker.updateQueue(name, queue) : maker.createQueue(name, queue));
  }
}

/**
 * Puts a job in: on the connection of the write that it follows, it is there exactly when that write is. Where one of its
 * key waits already, that one will do. `at`: not before then, by the machine's clock.
 */
export async function putJob<T extends JobData>(db: Db, queue: JobQueue<T>, data: T, at?: Date): Promise<void> {
  await putStored(db, { ...data, kind: queue.name, key: queue.keyOf(data) }, at);
}

async function putStored(db: Db, stored: Stored, at?: Date): Promise<void> {
  await boss.send(stored.kind, stored, {
    db: on(db),
    singletonKey: stored.key,
    ...(at && { startAfter: at }),
  });
  if (!at) await notifyWorkers(db, stored.kind);
}

/** Takes the next job of a kind that is due; null where none is. */
export async function takeJob(db: Db, name: JobName): Promise<TakenJob | null> {
  let failure: unknown;
  const heard: PgBoss.Db = {
    // pg-boss takes a failure here for "nothing is due".
    executeSql: (text, values) =>
      on(db)
        .executeSql(text, values)
        .catch((error: unknown) => {
          failure = error;
          throw error;
        }),
  };
  const [job] = await boss.fetch<Stored>(name, { batchSize: 1, db: heard } as PgBoss.FetchOptions);
  if (failure !== undefined) throw failure;
  if (!job) return null;
  const { kind: _, key: __, ...data } = job.data;
  return { id: job.id, data: data as JobData };
}

/** It is done, and what failed of the same before is nobody's trouble any more. */
export async function completeJob(db: Db, queue: JobQueue, { id, data }: TakenJob): Promise<void> {
  await boss.complete(queue.name, id, {}, { db: on(db) });
  await deleteFailures(db, queue.name, queue.keyOf(data));
}

/** Puts a job off, with no try spent. */
export async function postponeJob(db: Db, queue: JobQueue, { id, data }: TakenJob, at: Date): Promise<void> {
  await putJob(db, queue, data, at);
  await boss.complete(queue.name, id, {}, { db: on(db) });
}

/** One try more is spent: it waits for the next, or was the last and the office is shown it with `message`. */
export async function failJob(db: Db, name: JobName, id: string, message: string): Promise<void> {
  await boss.fail(name, id, { message }, { db: on(db) });
}

/** Begins a job that failed for good anew, with all its tries. */
export async function retryFailedJob(db: Db, stored: FailedJobRow['stored']): Promise<void> {
  await deleteFailures(db, stored.kind, stored.key);
  await putStored(db, stored as Stored);
}

/** Takes a job that failed for good off the list. */
export const dropFailedJob = (db: Db, { kind, key }: FailedJobRow['stored']): Promise<void> =>
  deleteFailures(db, kind, key);

/** pg-boss that tidies up after the queues: what is done is deleted, what took too long is begun again. */
export function startUpkeep(db: Db, failed: (error: unknown) => void): PgBoss {
  const upkeep = new PgBoss({
    db: on(db),
    schema: SCHEMA,
    migrate: false,
    schedule: false,
    maintenanceIntervalSeconds: 60,
    archiveCompletedAfterSeconds: 3_600,
    deleteAfterDays: 1,
  });
  upkeep.on('error', failed);
  return upkeep;
}
