import { BookPage, BookSettings, Sheet } from '@contract/books';
import { Desk } from '@contract/pages';
import { Done } from '@contract/people';
import { assemble, momentOf } from '../../domain/books';
import { finalGrades } from '../../domain/grades';
import { setBook } from '../../domain/own-books';
import { deskOf } from '../../domain/summary';
import * as books from '../../store/books';
import { personName } from '../../store/people';
import { releasedTogether } from '../../store/releases';
import { route, whoOf, type Route } from '../route';
import { assessmentsOf } from '../../store/assessments';
import { studentsOf } from '../../store/enrolments';

export const bookRoutes: Route[] = [
  route({
    method: 'get',
    path: '/desk',
    permission: 'staff',
    says: 'What waits, over all books of the person.',
    answer: Desk,
    does: ({ pool, school, person }) => deskOf(pool, school, person.id),
  }),
  route({
    method: 'get',
    path: '/books/{book}',
    permission: 'book-read',
    says: 'Everything of a book that is not a score.',
    answer: BookPage,
    async does({ pool, school, params, role }) {
      const id = params['book']!;
      const row = (await books.findBook(pool, school, id))!;
      const [sections, staff, students, assessments, rules, asOf, readers] = await Promise.all([
        books.sectionsOf(pool, school, id),
        books.staffOf(pool, school, id),
        studentsOf(pool, school, id),
        assessmentsOf(pool, school, id),
        books.rulesAt(pool, school, id, row.rulesVersion),
        momentOf(pool, school),
        row.showsStanding ? releasedTogether(pool, school, id) : [],
      ]);
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
        sections,
        staff: staff.map((s) => ({ name: personName(s), role: s.role })),
        students: students.map(({ person: _p, ...s }) => s),
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
          version: a.version,
        })),
        rulesVersion: row.rulesVersion,
        readers,
      };
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/sheet',
    permission: 'book-read',
    says: 'The book document with the version of each entry and whether students see it.',
    answer: Sheet,
    async does({ pool, school, params }) {
      const { row, document, cells } = await assemble(pool, school, params['book']!);
      return { seq: row.seq, document, versions: cells.map((c) => c.version), out: cells.map((c) => c.out) };
    },
  }),
  route({
    method: 'patch',
    path: '/books/{book}',
    permission: 'book-own',
    says: 'Show students their standing, or not; give the book another title; put it away, or take it out again.',
    body: BookSettings,
    answer: Done,
    does: (c) => setBook(c.pool, whoOf(c), c.role, c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/final-grades.csv',
    permission: 'book-read',
    says: 'The final grades of the book as a CSV file.',
    answer: 'text/csv',
    does: ({ pool, school, params }) => finalGrades(pool, school, params['book']!),
  }),
];
