export { governedOf, requireWithinPolicy, rulesAtVersion, schoolRulesNow } from './policy';
export { holdSchool, rulesOfVersion } from './sql/policy';
export {
  type RolloutRow,
  hasPendingRollout,
  booksOfRollout,
  deleteTrials,
  findRollout,
  moversOf,
  claimNextBook,
  writeRolloutResult,
} from './sql/rollout';
