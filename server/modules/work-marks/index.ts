export { workMarkKinds } from './journal-kinds';
export { marksRestJob } from './marks-rest';
