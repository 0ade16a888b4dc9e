export { type StaffNoteContent, secondLooksOf, noteTexts, upsertStaffNote, staffNoteContent } from './sql';
export { WHOLE_STUDENT, noteLine, currentNote } from './staff-notes';
export { annotationKinds } from './journal-kinds';
