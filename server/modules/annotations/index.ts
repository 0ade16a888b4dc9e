export {
  type StaffNoteContent,
  secondLooksOf,
  staffNotesOf,
  noteTexts,
  upsertStaffNote,
  staffNoteContent,
} from './sql';
export { WHOLE_STUDENT, noteLine, currentNote } from './staff-notes';
export { annotationKinds } from './journal-kinds';
