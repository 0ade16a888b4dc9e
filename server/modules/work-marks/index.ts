export { workMarkKinds } from './journal-kinds';
export { commentsOn, moveMarks } from './work-marks';
export { marksRestJob } from './marks-rest';
