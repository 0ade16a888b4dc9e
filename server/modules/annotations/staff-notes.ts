import { canonical } from '@core/book/canonical';
import type pg from 'pg';
import { type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { type Author, assessmentsNamed, commitBook, enrolledAmong } from '../books';
import { type LineContent } from '../../kernel/journal/sql/lines';
import { staffNotesOf, type StaffNoteContent, staffNoteContent, insertNoteText, upsertStaffNote } from './sql';
import type { StaffNote, StaffNoteWrite } from '@contract/annotations';

export const WHOLE_STUDENT = '*';

export async function currentNote(
  db: Db,
  school: string,
  book: string,
  enrolment: string,
  place: string,
): Promise<StaffNote> {
  const [found] = await staffNotesOf(db, school, book, { enrolment, place });
  return found ?? { enrolment, place, version: 0, note: null, secondLookBy: null };
}

/** The line of a remark: its note by id, so that the text can be blanked and the line stands. */
export function noteLine(enrolment: string, place: string, was: StaffNoteContent, is: StaffNoteContent): LineContent {
  const text = ({ note, flag }: StaffNoteContent): string =>
    canonical({ ...(note === null ? {} : { note }), ...(flag === null ? {} : { flag }) });
  return {
    kind: 'note',
    assessment: place === WHOLE_STUDENT ? null : place,
    enrolment,
    was: text(was),
    becomes: text(is),
  };
}

/** Writes a staff note or a flag beside a cell or a student. */
export function writeStaffNote(
  pool: pg.Pool,
  who: Author,
  enrolment: string,
  place: string,
  write: StaffNoteWrite,
): Promise<StaffNote> {
  return commitBook(pool, who, write.operation, async (db) => {
    if (!(await enrolledAmong(db, who.school, who.book, [enrolment])).has(enrolment))
      throw new Refusal('not-found', 'There is no such student in this book.');
    if (place !== WHOLE_STUDENT && (await assessmentsNamed(db, who.school, who.book, [place])).length === 0)
      throw new Refusal('not-found', 'There is no such assessment in this book.');
    const was = await staffNoteContent(db, who.school, who.book, enrolment, place);
    if (was.version !== write.version)
      throw new Refusal('stale', 'Somebody else wrote here after you saw it. Nothing of theirs was overwritten.', {
        now: await currentNote(db, who.school, who.book, enrolment, place),
      });
    const text = write.note?.trim();
    const note =
      text === undefined
        ? was.note
        : text === ''
          ? null
          : await insertNoteText(db, who.school, who.book, who.person, text);
    const flag = write.secondLook === undefined ? was.flag : write.secondLook ? (was.flag ?? who.person) : null;
    const is = { note, flag };
    await upsertStaffNote(db, who.school, who.book, { ...is, enrolment, place, version: was.version + 1 });
    return {
      lines: [noteLine(enrolment, place, was, is)],
      answer: () => currentNote(db, who.school, who.book, enrolment, place),
    };
  });
}
