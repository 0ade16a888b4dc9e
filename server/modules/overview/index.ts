export { summaryJob } from './summaries';
