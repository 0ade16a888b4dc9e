export { isPartReleased } from './sql/released-parts';
export { releasedTogether } from './sql/releases';
export { titleOf } from './student-statement';
export { releaseBesides, releaseHere, type ReleaseRunner, type ReleaseTask } from './release-runner';
export { plannedReleaseJob } from './planned-releases';
export { releaseKinds } from './journal-kinds';
export { slipOf } from './slip';
export { studentBook } from './student-book';
