export { insertAssessment, updateAssessment, updateOrder } from './sql/assessments';
