export { workMarkKinds } from './journal-kinds';
export { moveMarks } from './work-marks';
export { marksRestJob } from './marks-rest';
