export {
  type AssembledBook,
  assemble,
  assembleDocument,
  momentOf,
  requireMarksFit,
  requireSoundRules,
  requireVariantsFit,
  unaskedEntries,
} from './assemble';
export {
  type Author,
  type Commit,
  commitBook,
  commitBooks,
  commitNewBook,
  operationUsed,
  systemAuthor,
} from './commit-book';
export { marksOf } from './marks';
export { type BookNow, bookNow, frameWay } from './book-now';
export {
  type JournalKindDefinition,
  JournalKinds,
  CANNOT,
  MADE_NEW,
  NOT_PUT_BACK,
  type OpenPutBack,
  type PutBackWay,
} from './journal-kind';
export { forgettingJob } from './forgetting-job';
export { assessmentText, readAssessmentText, requireItemKeys } from './assessment-text';
export {
  type AssessmentRow,
  assessmentsNamed,
  assessmentsOf,
  assessmentsWithRubric,
  toPlacedItem,
} from './sql/assessments';
export {
  type BookRole,
  type BookRow,
  booksOfSchool,
  booksOfStaff,
  findBook,
  insertBook,
  insertRules,
  insertTerm,
  putSection,
  putStaff,
  reasonsSince,
  roleInBook,
  rulesAt,
  sectionsOf,
  staffOf,
  termExists,
  updateBook,
} from './sql/books';
export {
  ACCOUNT,
  type Account,
  type EnrolmentWrite,
  type StudentRow,
  accountsOf,
  enrol,
  enrolledAmong,
  enrolmentsOf,
  staysOf,
  studentsOf,
  toDocumentStudent,
  writeEnrolments,
} from './sql/enrolments';
export { type OverrideRow, overridesOf, toDocumentOverrides, writeOverride } from './sql/overrides';
