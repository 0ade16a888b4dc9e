export { insertAssessment, updateAssessment, updateOrder } from './sql/assessments';
export { assessmentKinds } from './journal-kinds';
