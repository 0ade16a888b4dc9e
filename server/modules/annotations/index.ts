export { type RemarkContent, flaggedBy, noteTexts, putRemark, remarkContent } from './sql';
export { WHOLE_STUDENT, remarkLine, remarkNow } from './staff-notes';
