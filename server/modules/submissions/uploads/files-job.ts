import type { JobData, JobKind } from '../../../kernel/jobs';
import { deleteUnusedBlobs } from '../../../kernel/files/sql';
import { deleteBrokenFeedbackAttachments } from '../../feedback';
import { deleteBrokenFiles, deleteUnusedUploads } from '../sql/files';

/** Days for which a file that broke off waits for the rest of it. */
const WAITS_DAYS = 7;

/** Lets go of files that broke off and never came whole, and of bytes that nothing names any more. */
export const filesJob: JobKind<JobData> = {
  name: 'files',
  attempts: 3,
  firstPauseSeconds: 60,
  timeLimitSeconds: 1_800,
  keyOf: () => 'all',
  sweep: { everySeconds: 3_600, due: () => Promise.resolve([{ school: '' }]) },
  async run({ pool }) {
    await deleteBrokenFiles(pool, WAITS_DAYS);
    await deleteBrokenFeedbackAttachments(pool, WAITS_DAYS);
    await deleteUnusedUploads(pool, WAITS_DAYS);
    await deleteUnusedBlobs(pool);
  },
};
