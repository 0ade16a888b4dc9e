import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type pg from 'pg';
import { anythingWaits } from '../policy';

/** Milliseconds between two looks for turns that another server began, or left. */
const LOOKS_EVERY = 5_000;

/** Something that works out all turns that wait, and can be ended in the middle. */
export interface TurnWork {
  done: Promise<void>;
  stop(): Promise<unknown>;
}

/** Threads at most; each reads and works out one book at a time. */
const THREADS = Math.min(4, availableParallelism());

/** Threads of their own for the turns that wait, so that the server goes on answering. They end when none does. */
export function inThreads(databaseUrl: string): TurnWork {
  const threads = Array.from(
    { length: THREADS },
    () =>
      new Worker(new URL('./rollout-thread.mjs', import.meta.url), {
        workerData: { databaseUrl },
        resourceLimits: { maxYoungGenerationSizeMb: 64 },
      }),
  );
  const ends = threads.map(
    (thread) =>
      new Promise<void>((ended, failed) => {
        thread.on('error', failed);
        thread.on('exit', () => ended());
      }),
  );
  return {
    // Only when none works any more: another set of them is begun then at the earliest.
    done: Promise.allSettled(ends).then((all) => {
      for (const end of all) if (end.status === 'rejected') throw end.reason;
    }),
    stop: () => Promise.all(threads.map((thread) => thread.terminate())),
  };
}

/** Sees to it that the rules of schools get through their books: those begun here at once, others a little later. */
export class Turns {
  private working: TurnWork | null = null;
  private again = false;
  private ended = false;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly pool: pg.Pool,
    private readonly begin: () => TurnWork,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** Looks now and then from here on. */
  watch(): void {
    this.timer = setInterval(() => {
      if (this.working) return;
      anythingWaits(this.pool).then((any) => any && this.wake(), this.failed);
    }, LOOKS_EVERY);
  }

  /** There is something to work out. */
  readonly wake = (): void => {
    if (this.ended) return;
    if (this.working) {
      this.again = true;
      return;
    }
    this.again = false;
    const work = (this.working = this.begin());
    work.done.catch(this.failed).finally(() => {
      this.working = null;
      if (this.again) this.wake();
    });
  };

  /** Resolves when nothing is being worked out. */
  async idle(): Promise<void> {
    while (this.working) await this.working.done.catch(() => undefined);
  }

  async stop(): Promise<void> {
    this.ended = true;
    clearInterval(this.timer);
    await this.working?.stop();
  }
}
