import type PgBoss from 'pg-boss';
import { Listener } from '../listener';
import type { JobContext, JobKind } from './job-kind';
import { startUpkeep } from './queue';
import { JOB_CHANNEL } from './sql';
import { JobWorker } from './worker';

/** A worker for each kind of job, woken where the database says that there is something to do. */
export class JobWorkers {
  private readonly workers: Map<string, JobWorker>;
  private readonly listener: Listener;
  private readonly upkeep: PgBoss;

  constructor(
    databaseUrl: string,
    kinds: readonly JobKind[],
    private readonly context: Omit<JobContext, 'signal'>,
    looksEvery?: number,
  ) {
    this.workers = new Map(kinds.map((kind) => [kind.name, new JobWorker(kind, context, looksEvery)]));
    const wakeAll = (): void => this.workers.forEach((w) => w.wake());
    this.listener = new Listener(databaseUrl, [JOB_CHANNEL], (_, name) => this.workers.get(name)?.wake(), wakeAll);
    this.upkeep = startUpkeep(context.pool, context.failed);
  }

  async start(): Promise<void> {
    await this.upkeep.start();
    await this.listener.start();
    this.workers.forEach((w) => w.start());
  }

  /** Resolves when nothing is under way any more. */
  async stop(): Promise<void> {
    await Promise.all([...this.workers.values()].map((w) => w.stop()));
    await this.listener.stop();
    await this.upkeep.stop({ graceful: false, close: false }).catch(this.context.failed);
  }
}
