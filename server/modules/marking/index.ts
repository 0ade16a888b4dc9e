export { markingKinds } from './journal-kinds';
export { markedInPart } from './marked-in-part';
export { type AssessmentPlace, copyRubric, deleteRubric } from './sql/rubrics';
