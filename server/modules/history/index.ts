export { linesAfter } from './sql/journal-pages';
export { calculationJob, takeCalculation } from './calculation-job';
export { historyKinds } from './journal-kinds';
