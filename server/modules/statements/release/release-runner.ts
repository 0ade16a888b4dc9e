import type pg from 'pg';
import type { Released, ReleaseWrite, WithdrawWrite } from '@contract/statements';
import { type TaskThread } from '../../../kernel/task-thread';
import type { Author } from '../../books';
import { release } from './releases';
import { withdraw } from './withdrawals';
import { cellsOfBook } from '../sql/releases';

/** Cells of a book from which on a release is worked out in a thread: it takes tenths of a second. */
const LARGE = 3_000;

export type ReleaseTask =
  { kind: 'release'; who: Author; write: ReleaseWrite } | { kind: 'withdraw'; who: Author; write: WithdrawWrite };

/** Does releases and withdrawals, here or in a thread. */
export type ReleaseRunner = (pool: pg.Pool, task: ReleaseTask) => Promise<Released>;

export const releaseHere: ReleaseRunner = (pool, task) =>
  task.kind === 'release' ? release(pool, task.who, task.write) : withdraw(pool, task.who, task.write);

/** Small classes here, since that is done before a thread would begin; large ones in `thread`. */
export function releaseBesides(thread: TaskThread<ReleaseTask, Released>): ReleaseRunner {
  return async (pool, task) => {
    const { school, book } = task.who;
    if ((await cellsOfBook(pool, school, book)) < LARGE) return releaseHere(pool, task);
    // What is worked out of the request on demand does not cross into a thread.
    const who = { ...task.who, fingerprint: task.who.fingerprint };
    return thread.ask({ ...task, who } as ReleaseTask);
  };
}
