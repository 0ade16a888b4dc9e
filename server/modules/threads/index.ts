export { threadKinds } from './journal-kinds';
export { unanswered } from './threads';
