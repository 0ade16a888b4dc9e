export { type StaffNoteContent, flaggedBy, noteTexts, upsertStaffNote, staffNoteContent } from './sql';
export { WHOLE_STUDENT, noteLine, currentNote } from './staff-notes';
