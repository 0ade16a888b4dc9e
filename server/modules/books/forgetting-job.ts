import type { JobData, JobKind } from '../../kernel/jobs';
import { deleteOldGuesses } from '../accounts';
import { deleteOldOperations } from './sql/operations';

/** For how many days it is known what an operation was answered. */
const OPERATIONS_KEPT = 30;

/** Forgets what nobody asks for any more. */
export const forgettingJob: JobKind<JobData> = {
  name: 'forgetting',
  attempts: 3,
  firstPauseSeconds: 60,
  timeLimitSeconds: 600,
  keyOf: () => 'all',
  sweep: { everySeconds: 3_600, due: () => Promise.resolve([{ school: '' }]) },
  run: async ({ pool }) => {
    await deleteOldOperations(pool, OPERATIONS_KEPT);
    await deleteOldGuesses(pool);
  },
};
