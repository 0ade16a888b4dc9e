import type pg from 'pg';
import type { JobName } from '@contract/jobs';
import type { Db } from '../database';

/** What a job is about: ids alone, so that nothing of a person is kept in the queue. `school` empty: of all schools. */
export interface JobData {
  school: string;
  [id: string]: string;
}

/** What a job works with. */
export interface JobContext {
  pool: pg.Pool;
  /** Aborted when the server ends: work that takes long stops where it can go on later. */
  signal: AbortSignal;
  /** Hears of what went wrong without ending the job. */
  failed: (error: unknown) => void;
}

/** What is needed to put a job in. */
export interface JobQueue<T extends JobData = JobData> {
  name: JobName;
  /** Jobs of one key wait as one, and are never done at the same time, by any server. */
  keyOf(data: T): string;
}

/** Something that is done beside the requests: safe to run again, since a server may end in the middle of it. */
export interface JobKind<T extends JobData = JobData> extends JobQueue<T> {
  /** Tries in all before the office is shown it. */
  attempts: number;
  /** The pause before the second try; each next one is about twice as long. */
  firstPauseSeconds: number;
  /** After this long with no end a job whose server is gone is begun again at the latest. */
  timeLimitSeconds: number;
  /** Looks for what is due, every so often: nothing is forgotten that somebody failed to put in. */
  sweep?: { everySeconds: number; due(db: Db): Promise<T[]> };
  run(context: JobContext, data: T): Promise<void>;
}
