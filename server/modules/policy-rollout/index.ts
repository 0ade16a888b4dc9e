export { cancelRollout, rolloutMovers, rolloutStatus } from './policy-rollout';
export { type RollOut, rolloutJob, rollOutInThreads } from './rollout-job';
