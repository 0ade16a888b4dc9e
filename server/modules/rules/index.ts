export { type ChangedAssessment, writeRules } from './rules';
export { ruleKinds } from './journal-kinds';
