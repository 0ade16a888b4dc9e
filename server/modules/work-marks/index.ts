export { workMarkKinds } from './journal-kinds';
export { commentsOn, marksToGive, moveMarks } from './work-marks';
export { marksRestJob } from './marks-rest';
