export { restingJob } from './end-notes';
export { feedbackKinds } from './journal-kinds';
