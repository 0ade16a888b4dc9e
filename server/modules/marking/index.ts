export { markingKinds } from './journal-kinds';
export { markedInPart } from './marked-in-part';
export { levelsToGive, marksOf } from './levels';
export { type Works, workInHand, worksOf } from './works';
export { type AssessmentPlace, copyRubric, deleteRubric } from './sql/rubrics';
