export {
  type AssembledBook,
  assemble,
  assembleDocument,
  momentOf,
  requireMarksFit,
  requireSoundRules,
} from './assemble';
export { assessmentText, readAssessmentText, requireItemKeys } from './assessment-text';
export { type AssessmentRow, assessmentsNamed, assessmentsOf, toPlacedItem } from './sql/assessments';
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
