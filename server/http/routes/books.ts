import { canonical } from '@core/book/canonical';
import { BookPage, BookSettings, RulesState, RulesWrite, Sheet } from '@contract/books';
import { Desk } from '@contract/pages';
import { Done } from '@contract/people';
import { assemble, momentOf, requireMarksFit, requireSoundRules } from '../../domain/books';
import { finalGrades } from '../../domain/grades';
import { Refusal } from '../../domain/problems';
import { setBook } from '../../domain/own-books';
import { deskOf } from '../../domain/summary';
import * as books from '../../store/books';
import { transaction } from '../../store/database';
import { holdBook, lockBook, operationDone, writeLines } from '../../store/journal';
import { personName } from '../../store/people';
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
      const [sections, staff, students, assessments, rules, asOf] = await Promise.all([
        books.sectionsOf(pool, school, id),
        books.staffOf(pool, school, id),
        studentsOf(pool, school, id),
        assessmentsOf(pool, school, id),
        books.rulesAt(pool, school, id, row.rulesVersion),
        momentOf(pool, school),
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
    method: 'put',
    path: '/books/{book}/rules',
    permission: 'book-manage',
    says: 'Make a new version of the rules, with a reason.',
    body: RulesWrite,
    answer: RulesState,
    async does({ pool, school, person, params, body }) {
      const book = params['book']!;
      return transaction(pool, async (db) => {
        const seq = await holdBook(db, school, book);
        const row = (await books.findBook(db, school, book))!;
        if ((await operationDone(db, school, book, body.operation)) !== null) {
          return {
            version: row.rulesVersion,
            rules: await books.rulesAt(db, school, book, row.rulesVersion),
            seq,
          };
        }
        const was = await books.rulesAt(db, school, book, row.rulesVersion);
        if (row.rulesVersion !== body.version)
          throw new Refusal(
            'stale',
            'Somebody else changed the rules after you opened them. Nothing of theirs was overwritten; look at their rules first.',
            {
              now: { version: row.rulesVersion, rules: was },
            },
          );
        requireSoundRules(row.timeZone, body.rules, await assessmentsOf(db, school, book));
        await requireMarksFit(db, { school, book }, body.rules, await assessmentsOf(db, school, book, true));
        const version = row.rulesVersion + 1;
        const first = await lockBook(db, school, book, 1);
        await books.insertRules(db, { school, book, version, rules: body.rules, by: person.id, reason: body.reason });
        const line = {
          operation: body.operation,
          kind: 'rules' as const,
          assessment: null,
          enrolment: null,
          was: canonical(was),
          becomes: canonical(body.rules),
        };
        await writeLines(
          db,
          { school, book, person: person.id },
          first,
          [line],
          body.reason ? { reason: body.reason } : {},
        );
        return { version, rules: body.rules, seq: first };
      });
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
