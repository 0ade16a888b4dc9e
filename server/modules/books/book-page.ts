import { areNamesHidden } from '@core/work/hidden-names';
import { type Person, personName, findSchool } from '../accounts';
import {
  type BookRole,
  findBook,
  sectionsOf,
  staffOf,
  rulesAt,
  booksOfSchool,
  booksOfStaff,
  roleInBook,
  termsOf,
} from './sql/books';
import { type BookPage, type BookList } from '@contract/books';
import { momentOf } from './assemble';
import { releasedTogether } from '../statements';
import { assessmentsOf, assessmentsWithRubric } from './sql/assessments';
import { studentsOf, type StudentRow } from './sql/enrolments';
import type { Names, Veil } from '../hidden-names';
import type { Db } from '../../kernel/database';

/** Everything of a book that is not a score, for somebody with this role in it. */
export async function bookPage(
  db: Db,
  school: string,
  id: string,
  role: BookRole | 'administrator',
  names: Names,
): Promise<BookPage> {
  const row = (await findBook(db, school, id))!;
  const sections = await sectionsOf(db, school, id);
  const staff = await staffOf(db, school, id);
  const students = await studentsOf(db, school, id);
  const assessments = await assessmentsOf(db, school, id);
  const withRubric = await assessmentsWithRubric(db, school, id);
  const rules = await rulesAt(db, school, id, row.rulesVersion);
  const asOf = await momentOf(db, school);
  const readers = row.showsStanding ? await releasedTogether(db, school, id) : [];
  return {
    id,
    title: row.title,
    term: row.term,
    timeZone: row.timeZone,
    asOf,
    seq: row.seq,
    role,
    showsStanding: row.showsStanding,
    archived: row.archived,
    wantsReasons: row.wantsReasons,
    statement: row.statement,
    schoolStatement: row.schoolStatement,
    hidesNames: row.hidesNames,
    schoolHidesNames: row.schoolHidesNames,
    sections: names.veil ? [] : sections,
    variants: Object.keys(rules.variants ?? {}).filter((name) => name !== 'info'),
    staff: staff.map((s) => ({ name: personName(s), role: s.role })),
    students: names.veil
      ? veiledPeople(students, names.veil)
      : students.map(({ person: _p, variant: _v, ownVariant: _o, ...s }) => s),
    assessments: assessments.map((a) => ({
      id: a.id,
      title: a.title,
      category: a.category,
      points: a.points,
      due: a.due,
      closes: a.closes,
      marks: a.more.marks ? (rules.rules?.marks?.[a.more.marks] ?? []).map((m) => m.label) : [],
      extraCredit: a.more.extraCredit === true,
      takesWork: a.takesWork,
      counts: a.more.counts !== false,
      rubric: withRubric.has(a.id),
      namesHidden: areNamesHidden(a.work),
      version: a.version,
    })),
    rulesVersion: row.rulesVersion,
    readers: names.veil ? [] : readers,
  };
}

/** Students as one reads of them without names: a reed each, in nobody's order. */
const veiledPeople = (students: readonly StudentRow[], veil: Veil): BookPage['students'] =>
  students
    .map(({ id, left }) => ({
      id,
      left,
      family: veil.nameOf(id),
      given: '',
      number: '',
      mail: '',
      section: null,
      extraTimeHours: 0,
    })) // prettier-ignore
    .sort((a, b) => (a.family < b.family ? -1 : 1));

/** The books of one of the staff, or all of them for the office; those put away too. */
export async function bookList(db: Db, school: string, person: Person): Promise<BookList> {
  const office = person.role === 'administrator';
  const rows = office ? await booksOfSchool(db, school, true) : await booksOfStaff(db, school, person.id, true);
  const list = [];
  for (const b of rows)
    list.push({
      id: b.id,
      title: b.title,
      term: b.term,
      role: office ? ('administrator' as const) : (await roleInBook(db, school, b.id, person.id))!,
      archived: b.archived,
    });
  const found = (await findSchool(db, school))!;
  return {
    books: list,
    terms: await termsOf(db, school),
    timeZone: found.timeZone,
    wantsReasons: found.wantsReasons,
    statement: found.statement,
    hidesNames: found.hidesNames,
  };
}
