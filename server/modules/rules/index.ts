export { type ChangedAssessment, writeRules } from './rules';
