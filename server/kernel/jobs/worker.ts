import { Refusal } from '../refusal';
import type { JobContext, JobKind } from './job-kind';
import { completeJob, failJob, postponeJob, putJob, takeJob, type TakenJob } from './queue';
import { lostJobs, openKeys, releaseLock, takeLock } from './sql';

/** Milliseconds until a job whose key somebody else is at is looked at again. */
const HELD_FOR = 1_000;

/** Does the jobs of one kind, one after the other, for as long as it is wanted; it rests until it is woken. */
export class JobWorker {
  private readonly ending = new AbortController();
  private readonly context: JobContext;
  private woken = false;
  private goOn = (): void => undefined;
  private done: Promise<void> = Promise.resolve();

  constructor(
    private readonly kind: JobKind,
    context: Omit<JobContext, 'signal'>,
  ) {
    this.context = { ...context, signal: this.ending.signal };
  }

  start(): void {
    this.done = this.work();
  }

  /** There may be something to do. */
  wake(): void {
    this.woken = true;
    this.goOn();
  }

  /** Resolves when the job under way has ended. */
  async stop(): Promise<void> {
    this.ending.abort();
    this.wake();
    await this.done;
  }

  /** Puts in what is due, but for what is under way. Gives how many. */
  async sweep(): Promise<number> {
    const { pool } = this.context;
    const due = (await this.kind.sweep?.due(pool)) ?? [];
    if (due.length === 0) return 0;
    const open = await openKeys(pool, this.kind.name);
    const fresh = due.filter((data) => !open.has(this.kind.keyOf(data)));
    for (const data of fresh) await putJob(pool, this.kind, data);
    return fresh.length;
  }

  /** Does one job that is due; false where none is. */
  async step(): Promise<boolean> {
    const job = await takeJob(this.context.pool, this.kind.name);
    if (!job) return false;
    await this.underLock(job, async () => {
      const { pool, failed } = this.context;
      try {
        await this.kind.run(this.context, job.data);
        await completeJob(pool, this.kind, job);
      } catch (error) {
        failed(error);
        await failJob(pool, this.kind.name, job.id, messageOf(error));
      }
    });
    return true;
  }

  private async underLock(job: TakenJob, work: () => Promise<void>): Promise<void> {
    const { pool } = this.context;
    const { name } = this.kind;
    const key = this.kind.keyOf(job.data);
    const holder = await pool.connect();
    let broken: Error | undefined;
    try {
      if (!(await takeLock(holder, name, key))) {
        return await postponeJob(pool, this.kind, job, new Date(Date.now() + HELD_FOR));
      }
      await work();
      await releaseLock(holder, name, key);
    } catch (error) {
      // The lock goes with the connection.
      broken = error as Error;
      throw error;
    } finally {
      holder.release(broken);
    }
  }

  /** Has the jobs of servers that are gone tried again. */
  async takeUpLost(): Promise<void> {
    const { pool } = this.context;
    for (const id of await lostJobs(pool, this.kind.name))
      await failJob(pool, this.kind.name, id, 'The server that did it ended.');
  }

  private async work(): Promise<void> {
    while (!this.ending.signal.aborted) {
      if (!this.woken) await new Promise<void>((done) => (this.goOn = done));
      this.woken = false;
      while (!this.ending.signal.aborted && (await this.tryStep()));
    }
  }

  private async tryStep(): Promise<boolean> {
    try {
      return await this.step();
    } catch (error) {
      // It is looked for again with all that is due.
      this.context.failed(error);
      return false;
    }
  }
}

/** What the office reads: nothing of what an error may name of people. */
const messageOf = (error: unknown): string =>
  error instanceof Refusal ? error.detail : 'It could not be done. The fault is in the server’s log.';

/** Does what is due and what waits, here and now, and what that puts in, until nothing is left. */
export async function doWaitingJobs(kinds: readonly JobKind[], context: Omit<JobContext, 'signal'>): Promise<void> {
  const workers = kinds.map((kind) => new JobWorker(kind, context));
  for (const worker of workers) await worker.sweep();
  for (let did = true; did;) {
    did = false;
    for (const worker of workers) while (await worker.step()) did = true;
  }
}
