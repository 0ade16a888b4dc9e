export { markingKinds } from './journal-kinds';
export { type AssessmentPlace, copyRubric, deleteRubric } from './sql/rubrics';
