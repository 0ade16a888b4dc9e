import pLimit from 'p-limit';
import type PgBoss from 'pg-boss';
import { Listener } from '../listener';
import { every } from '../timers';
import type { JobContext, JobKind } from './job-kind';
import { startUpkeep } from './queue';
import { JOB_CHANNEL, kindsWithDueJobs } from './sql';
import { JobWorker } from './worker';

/** Milliseconds between two looks where nobody was woken: for the next try of what failed, and what has its moment. */
const LOOKS_EVERY = 2_000;
/** Milliseconds between two looks for jobs of servers that are gone. */
const LOST_EVERY = 10_000;

/** A worker for each kind of job, woken where the database says that there is something to do. */
export class JobWorkers {
  private readonly workers: Map<string, JobWorker>;
  private timers: (() => void)[] = [];
  /** What looks for something to do takes turns: one connection is enough for it. */
  private readonly turn = pLimit(1);
  private readonly listener: Listener;
  private readonly upkeep: PgBoss;

  constructor(
    databaseUrl: string,
    private readonly kinds: readonly JobKind[],
    private readonly context: Omit<JobContext, 'signal'>,
    private readonly looksEvery = LOOKS_EVERY,
  ) {
    this.workers = new Map(kinds.map((kind) => [kind.name, new JobWorker(kind, context)]));
    const wakeAll = (): void => this.workers.forEach((w) => w.wake());
    this.listener = new Listener(databaseUrl, [JOB_CHANNEL], (_, name) => this.workers.get(name)?.wake(), wakeAll);
    this.upkeep = startUpkeep(context.pool, context.failed);
  }

  async start(): Promise<void> {
    await this.upkeep.start();
    await this.listener.start();
    this.workers.forEach((w) => w.start());
    for (const { name, sweep } of this.kinds)
      if (sweep) this.often(sweep.everySeconds * 1_000, () => this.workers.get(name)!.sweep());
    this.often(LOST_EVERY, async () => {
      for (const worker of this.workers.values()) await worker.takeUpLost();
    });
    this.often(this.looksEvery, () => this.wakeThoseWithJobs());
    await this.turn(() => this.wakeThoseWithJobs()).catch(this.context.failed);
  }

  private async wakeThoseWithJobs(): Promise<void> {
    for (const name of await kindsWithDueJobs(this.context.pool, [...this.workers.keys()]))
      this.workers.get(name)?.wake();
  }

  private often(milliseconds: number, task: () => Promise<unknown>): void {
    let busy = false;
    this.timers.push(
      every(milliseconds, () => {
        if (busy) return;
        busy = true;
        this.turn(task)
          .catch(this.context.failed)
          .finally(() => (busy = false));
      }),
    );
  }

  /** Resolves when nothing is under way any more. */
  async stop(): Promise<void> {
    this.timers.forEach((end) => end());
    // A look under way ends before the pool that it asks does.
    await this.turn(() => Promise.resolve());
    await Promise.all([...this.workers.values()].map((w) => w.stop()));
    await this.listener.stop();
    await this.upkeep.stop({ graceful: false, close: false }).catch(this.context.failed);
  }
}
