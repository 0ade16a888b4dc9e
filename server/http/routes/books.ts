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
import { snapshot } from '../../store/database';
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
    does: ({ pool, school, person }) => snapshot(pool, (db) => deskOf(db, school, person.id)),
  }),
  route({
    method: 'get',
    path: '/books/{book}',
    permission: 'book-read',
    says: 'Everything of a book that is not a score.',
    answer: BookPage,
    async does({ pool, school, params, role }) {
      const id = params['book']!;
      return snapshot(pool, async (db) => {
        const row = (await books.findBook(db, school, id))!;
        const sections = await books.sectionsOf(db, school, id);
        const staff = await books.staffOf(db, school, id);
        const students = await studentsOf(db, school, id);
        const assessments = await assessmentsOf(db, school, id);
        const rules = await books.rulesAt(db, school, id, row.rulesVersion);
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
      });
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/sheet',
    permission: 'book-read',
    says: 'The book document with the version of each entry and whether students see it.',
    answer: Sheet,
    async does({ pool, school, params }) {
      const { row, document, cells } = await snapshot(pool, (db) => assemble(db, school, params['book']!));
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
    does: ({ pool, school, params }) => snapshot(pool, (db) => finalGrades(db, school, params['book']!)),
  }),
];
