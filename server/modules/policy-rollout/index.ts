export { cancelRollout, rolloutMovers, rolloutStatus } from './policy-rollout';
export { type RolloutWork, RolloutRunner, rollOutInThreads } from './rollout-runner';
