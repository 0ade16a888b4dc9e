import { availableParallelism } from 'node:os';
import type pg from 'pg';
import { startThreads, type Threads } from '../../kernel/threads';
import { every } from '../../kernel/timers';
import { hasPendingRollout } from '../policy';

/** Milliseconds between two looks for rollouts that another server began, or left. */
const LOOKS_EVERY = 5_000;

/** Something that works out all rollouts that wait, and can be ended in the middle. */
export type RolloutWork = Threads;

/** Threads at most; each reads and works out one book at a time. */
const THREADS = Math.min(4, availableParallelism());

/** Threads of their own for the rollouts that wait, so that the server goes on answering. They end when none does. */
export const rollOutInThreads = (databaseUrl: string): RolloutWork =>
  startThreads(new URL('./rollout-thread.mjs', import.meta.url), THREADS, { databaseUrl });

/** Sees to it that the rules of schools get through their books: those begun here at once, others a little later. */
export class RolloutRunner {
  private working: RolloutWork | null = null;
  private again = false;
  private ended = false;
  private unwatch = (): void => undefined;

  constructor(
    private readonly pool: pg.Pool,
    private readonly begin: () => RolloutWork,
    private readonly failed: (error: unknown) => void,
  ) {}

  /** Looks now and then from here on. */
  watch(): void {
    this.unwatch = every(LOOKS_EVERY, () => {
      if (this.working) return;
      hasPendingRollout(this.pool).then((any) => any && this.wake(), this.failed);
    });
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
    this.unwatch();
    await this.working?.stop();
  }
}
