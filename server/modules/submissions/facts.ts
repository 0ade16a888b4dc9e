import type { Entry } from '@core/book/document';
import type { Db } from '../../kernel/database';
import { readCells, type CellRow } from '../../kernel/cells/sql';
import { Refusal } from '../../kernel/refusal';
import {
  assessmentsOf,
  enrolmentsOf,
  findBook,
  momentOf,
  rulesAt,
  studentsOf,
  type AssessmentRow,
  type BookRow,
  type StudentRow,
} from '../books';
import { reopeningsOf } from '../scores';
import { arrivalEntry, type DatedBook, Deadlines } from './deadlines';
import { submissionsOf } from './sql/submissions';
import type { Handed } from './view';

/** A book as handing in needs it. */
export async function datedBook(db: Db, school: string, book: string): Promise<DatedBook> {
  const row = await findBook(db, school, book);
  if (!row) throw new Refusal('not-found', 'You have no such book.');
  return {
    row,
    rules: await rulesAt(db, school, book, row.rulesVersion),
    assessments: await assessmentsOf(db, school, book),
    asOf: await momentOf(db, school),
  };
}

/** Cells of one assessment, by enrolment; of one student where that is said. */
export async function cellsOf(
  db: Db,
  row: BookRow,
  assessment: string,
  students: readonly StudentRow[],
): Promise<Map<string, CellRow>> {
  const cells = await readCells(db, row.school, row.id, {
    assessments: students.map(() => assessment),
    enrolments: students.map((s) => s.id),
  });
  return new Map(cells.map((c) => [c.enrolment, c]));
}

/** When other work of these students came, where some late rule has a bank; else nothing. */
export async function arrivalsForBank(
  db: Db,
  { row, rules, assessments }: DatedBook,
  students: readonly StudentRow[],
  seen: boolean,
): Promise<Entry[]> {
  const late = Object.values(rules.rules?.late ?? {}) as { bank?: unknown }[];
  if (!late.some((rule) => rule?.bank !== undefined)) return [];
  const here = new Set(assessments.map((a) => a.id));
  const cells = await readCells(db, row.school, row.id, { enrolments: students.map((s) => s.id) });
  return cells.filter((c) => here.has(c.assessment)).map((c) => arrivalEntry(c, seen));
}

/** What an assessment is called, and when it is due for each of these students; refuses one that is not there. */
export async function datesOfStudents(
  db: Db,
  school: string,
  book: string,
  id: string,
  students: readonly StudentRow[],
): Promise<{ title: string; due: Map<string, string | null> }> {
  const dated = await datedBook(db, school, book);
  const assessment = dated.assessments.find((a) => a.id === id);
  if (!assessment) throw new Refusal('not-found', 'There is no such assessment in this book.');
  const deadlines = new Deadlines(dated, assessment, students, await cellsOf(db, dated.row, id, students));
  return { title: assessment.title, due: new Map(students.map((s) => [s.id, deadlines.of(s.id).due])) };
}

/** A student in one of their books, on one of its assessments that they see. */
export interface OwnPlace {
  book: DatedBook;
  student: StudentRow;
  assessment: AssessmentRow;
  cells: Map<string, CellRow>;
  /** Their own dates. */
  due: string | null;
  closes: string | null;
  deadlines: Deadlines;
}

/** What a student ticks before this is handed in; null: nothing. */
export function statementOf({ assessment, book: { row } }: Pick<OwnPlace, 'assessment' | 'book'>): string | null {
  const words = assessment.work.statement ?? row.statement ?? row.schoolStatement;
  return words.trim() === '' ? null : words;
}

/** What a student has handed in for an assessment so far, and how it was given back to them. */
export async function handedOf(db: Db, { book, student, assessment, cells }: OwnPlace): Promise<Handed> {
  const { school, id } = book.row;
  return {
    before: await submissionsOf(db, school, id, assessment.id, student.id),
    reopenings: await reopeningsOf(db, school, id, assessment.id, student.id),
    ownDue: cells.get(student.id)?.content.dueAt ?? null,
  };
}

/** Refuses what is not there for this student. `afterLeaving`: they may have left the book, and look. */
export async function ownPlace(
  db: Db,
  school: string,
  person: string,
  book: string,
  assessment: string,
  afterLeaving = false,
): Promise<OwnPlace> {
  const own = (await enrolmentsOf(db, school, person, afterLeaving)).find((e) => e.book === book);
  if (!own) throw new Refusal('not-found', 'You have no such book.');
  const found = await placeOf(db, school, book, own.enrolment, assessment, afterLeaving);
  // What students do not see yet is not there for them.
  if (!found?.assessment.shown) throw new Refusal('not-found', 'There is no such assessment in this book.');
  return found;
}

/** A student of a book on one of its assessments; null where one of them is not there. */
export async function placeOf(
  db: Db,
  school: string,
  book: string,
  enrolment: string,
  assessment: string,
  afterLeaving = false,
): Promise<OwnPlace | null> {
  const dated = await datedBook(db, school, book);
  const found = dated.assessments.find((a) => a.id === assessment);
  const student = (await studentsOf(db, school, book, afterLeaving)).find((s) => s.id === enrolment);
  if (!found || !student) return null;
  const cells = await cellsOf(db, dated.row, assessment, [student]);
  const deadlines = new Deadlines(dated, found, [student], cells, await arrivalsForBank(db, dated, [student], true));
  return { book: dated, student, assessment: found, cells, deadlines, ...deadlines.of(student.id) };
}
