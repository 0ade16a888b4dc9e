export { governedOf, requireWithinSchool, rulesAtVersion, schoolRulesNow } from './policy';
export { holdSchool, rulesOfVersion } from './sql/policy';
export {
  type TurnRow,
  anythingWaits,
  booksOfTurn,
  deleteTrials,
  findTurn,
  moversOf,
  takeNext,
  writeAnswer,
} from './sql/rollout';
