import { annotationKinds } from './modules/annotations';
import { assessmentKinds } from './modules/assessments';
import { lifecycleKinds } from './modules/book-lifecycle';
import { JournalKinds } from './modules/books';
import { feedbackKinds } from './modules/feedback';
import { groupKinds } from './modules/groups';
import { peopleKinds } from './modules/people';
import { historyKinds } from './modules/history';
import { ruleKinds } from './modules/rules';
import { scoreKinds } from './modules/scores';
import { releaseKinds } from './modules/statements';
import { instructionKinds } from './modules/instructions';
import { markingKinds } from './modules/marking';
import { letterKinds } from './modules/letters';
import { threadKinds } from './modules/threads';
import { submissionKinds } from './modules/submissions';
import { workMarkKinds } from './modules/work-marks';

/** Every kind of line that a journal holds, from the capabilities that write them. */
export const journalKinds = new JournalKinds([
  ...scoreKinds,
  ...annotationKinds,
  ...releaseKinds,
  ...ruleKinds,
  ...assessmentKinds,
  ...peopleKinds,
  ...groupKinds,
  ...lifecycleKinds,
  ...submissionKinds,
  ...letterKinds,
  ...threadKinds,
  ...instructionKinds,
  ...markingKinds,
  ...feedbackKinds,
  ...workMarkKinds,
  ...historyKinds,
]);
