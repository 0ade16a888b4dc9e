export { dropTurn, turnMovers, turnNow } from './policy-rollout';
export { type TurnWork, Turns, inThreads } from './rollout-runner';
