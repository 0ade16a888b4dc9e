export { rolloutQueue } from './rollout-queue';
export { governedOf, requireWithinPolicy, rulesAtVersion, schoolRulesNow } from './policy';
export { holdSchool, rulesOfVersion } from './sql/policy';
export {
  type RolloutRow,
  booksOfRollout,
  deleteTrials,
  findRollout,
  moversOf,
  claimNextBook,
  schoolsWithPendingRollouts,
  writeRolloutResult,
} from './sql/rollout';
