import type { JobKind } from './kernel/jobs';
import { restingJob } from './modules/feedback';
import { forgettingJob } from './modules/books';
import { summaryJob } from './modules/overview';
import { rolloutJob, type RollOut } from './modules/policy-rollout';
import { calculationJob } from './modules/history';
import { exceptionEndsJob } from './modules/scores';
import { mailJob, type MailSender } from './modules/mail';
import { gatheredMailJob } from './modules/notices';
import { plannedReleaseJob } from './modules/statements';
import { filesJob } from './modules/submissions';
import { marksRestJob } from './modules/work-marks';
import { sealJob } from './kernel/journal/seal-job';

/** All kinds of jobs. `rollOut`: works out every rollout that waits; `openMail`: how to reach the mail server. */
export const allJobKinds = (rollOut: RollOut, openMail: (() => MailSender) | null): JobKind[] => [
  rolloutJob(rollOut),
  sealJob,
  exceptionEndsJob,
  summaryJob,
  forgettingJob,
  filesJob,
  restingJob,
  marksRestJob,
  mailJob(openMail),
  gatheredMailJob,
  plannedReleaseJob,
  calculationJob,
];
