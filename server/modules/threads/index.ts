export { threadKinds } from './journal-kinds';
export { studentThread, unanswered } from './threads';
export { threadsBy } from './sql';
