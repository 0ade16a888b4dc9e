import { availableParallelism } from 'node:os';
import type { JobData, JobKind } from '../../kernel/jobs';
import { startThreads, type Threads } from '../../kernel/threads';
import { rolloutQueue, schoolsWithPendingRollouts } from '../policy';

/** Works out every rollout that waits, and can be ended in the middle. */
export type RollOut = () => Threads;

/** Threads at most; each reads and works out one book at a time. */
const THREADS = Math.min(4, availableParallelism());

/** Threads of their own: a school has hundreds of books, and somebody waits for the answer. They end when none waits. */
export const rollOutInThreads = (databaseUrl: string): RollOut => {
  const script = new URL('./rollout-thread.mjs', import.meta.url);
  return () => startThreads(script, THREADS, { databaseUrl });
};

/** Brings the rules of a school through its books, or works out what that would do. */
export const rolloutJob = (rollOut: RollOut): JobKind<JobData> => ({
  ...rolloutQueue,
  attempts: 8,
  firstPauseSeconds: 2,
  timeLimitSeconds: 3_600,
  sweep: { everySeconds: 5, due: schoolsWithPendingRollouts },
  run: async ({ signal }) => {
    const work = rollOut();
    const end = (): void => void work.stop();
    signal.addEventListener('abort', end);
    try {
      await work.done;
    } finally {
      signal.removeEventListener('abort', end);
    }
  },
});
