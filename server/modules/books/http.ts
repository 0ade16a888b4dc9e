import { BookPage, Sheet } from '@contract/books';
import { assemble, momentOf } from './assemble';
import { personName, findSchool } from '../accounts';
import { releasedTogether } from '../statements';
import { snapshot } from '../../kernel/database';
import { route, type Route } from '../../http/route';
import { assessmentsOf } from './sql/assessments';
import { studentsOf } from './sql/enrolments';
import { findBook, sectionsOf, staffOf, rulesAt, booksOfSchool, booksOfStaff, roleInBook, termsOf } from './sql/books';
import { BookList } from '@contract/roster';
export const booksRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}',
    permission: 'book-read',
    says: 'Everything of a book that is not a score.',
    answer: BookPage,
    async does({ pool, school, params, role }) {
      const id = params['book']!;
      return snapshot(pool, async (db) => {
        const row = (await findBook(db, school, id))!;
        const sections = await sectionsOf(db, school, id);
        const staff = await staffOf(db, school, id);
        const students = await studentsOf(db, school, id);
        const assessments = await assessmentsOf(db, school, id);
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
    method: 'get',
    path: '/books',
    permission: 'staff-or-office',
    says: 'The books of the person, those put away too, and the terms of the school.',
    answer: BookList,
    async does({ pool, school, person }) {
      const office = person.role === 'administrator';
      const rows = office ? await booksOfSchool(pool, school, true) : await booksOfStaff(pool, school, person.id, true);
      const list = [];
      for (const b of rows)
        list.push({
          id: b.id,
          title: b.title,
          term: b.term,
          role: office ? ('administrator' as const) : (await roleInBook(pool, school, b.id, person.id))!,
          archived: b.archived,
        });
      const found = (await findSchool(pool, school))!;
      return {
        books: list,
        terms: await termsOf(pool, school),
        timeZone: found.timeZone,
        wantsReasons: found.wantsReasons,
      };
    },
  }),
];
