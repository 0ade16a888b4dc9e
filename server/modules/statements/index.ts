export { isPartReleased } from './sql/released-parts';
export { releasedTogether } from './sql/releases';
export { titleOf } from './student-statement';
export { releaseBesides, releaseHere, type ReleaseRunner, type ReleaseTask } from './release/release-runner';
export { plannedReleaseJob } from './release/planned-releases';
export { releaseKinds } from './journal-kinds';
export { slipOf } from './slips/slip';
export { studentBook } from './student-book';
