import { Enrol, Enrolled, NewBook } from '@contract/books';
import { Office } from '@contract/pages';
import { Made, NewPeople, NewTerm } from '@contract/people';
import { enrolText } from '../../domain/exceptions';
import { makeBook } from '../../domain/own-books';
import { Refusal } from '../../domain/problems';
import { officeOf } from '../../domain/summary';
import * as books from '../../store/books';
import { snapshot, transaction } from '../../store/database';
import { lockBook, writeLines } from '../../store/journal';
import * as people from '../../store/people';
import { route, type Route } from '../route';
import { hashPassword } from './sign-in';
import { enrol, studentsOf } from '../../store/enrolments';

export const officeRoutes: Route[] = [
  route({
    method: 'get',
    path: '/office',
    permission: 'office',
    says: 'All books of the school and how far each is.',
    answer: Office,
    does: ({ pool, school }) => snapshot(pool, (db) => officeOf(db, school)),
  }),
  route({
    method: 'post',
    path: '/terms',
    permission: 'office',
    says: 'Make a term.',
    body: NewTerm,
    answer: Made,
    status: 201,
    async does({ pool, school, body }) {
      if (body.ends < body.starts)
        throw new Refusal('bad-request', 'The term ends before it starts. Nothing was made.');
      if (!(await books.insertTerm(pool, school, body)))
        throw new Refusal('already-there', `There is a term “${body.id}” already.`);
      return { made: 1 };
    },
  }),
  route({
    method: 'post',
    path: '/people',
    permission: 'office',
    says: 'Add people, all or none. A password of null makes somebody who cannot sign in yet.',
    body: NewPeople,
    answer: Made,
    status: 201,
    async does({ pool, school, body }) {
      const logins = new Set(body.people.map((p) => p.login));
      if (logins.size < body.people.length)
        throw new Refusal('bad-request', 'Two of these people have the same sign-in name. Nobody was added.');
      const hashes = await Promise.all(body.people.map((p) => (p.password === null ? null : hashPassword(p.password))));
      const rows = body.people.map(({ password: _p, ...p }, i) => ({ ...p, passwordHash: hashes[i]! }));
      const taken = await transaction(pool, (db) => people.insertPeople(db, school, rows));
      if (taken.length > 0)
        throw new Refusal(
          'already-there',
          `${taken.slice(0, 5).join(', ')} ${taken.length === 1 ? 'is' : 'are'} in use already. Nobody was added.`,
        );
      return { made: rows.length };
    },
  }),
  route({
    method: 'post',
    path: '/books',
    permission: 'staff-or-office',
    says: 'Make a book with its sections, staff and rules. A teacher who makes one teaches it.',
    body: NewBook,
    answer: Made,
    status: 201,
    async does({ pool, school, person, body }) {
      await makeBook(pool, { school, id: person.id, role: person.role }, body);
      return { made: 1 };
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/enrolments',
    permission: 'office',
    says: 'Enrol students by their number. Those already in the book stay as they are.',
    body: Enrol,
    answer: Enrolled,
    async does({ pool, school, person, params, body }) {
      const book = params['book']!;
      return transaction(pool, async (db) => {
        if (!(await books.findBook(db, school, book))) throw new Refusal('not-found', 'There is no such book.');
        const sections = new Set((await books.sectionsOf(db, school, book)).map((s) => s.id));
        const wrong = body.students.find((s) => s.section !== null && !sections.has(s.section));
        if (wrong) throw new Refusal('bad-request', `The book has no section “${wrong.section}”. Nobody was enrolled.`);
        const before = new Set((await studentsOf(db, school, book, true)).map((s) => s.id));
        const rows = await enrol(
          db,
          school,
          book,
          body.students.map((s) => ({ ...s, extraTimeHours: s.extraTimeHours ?? 0 })),
        );
        const known = new Set(rows.map((r) => r.number));
        const unknown = body.students.filter((s) => !known.has(s.number));
        if (unknown.length > 0)
          throw new Refusal(
            'bad-request',
            `${unknown.length} of these numbers belong to no student (${unknown[0]!.number}). Nobody was enrolled.`,
          );
        const fresh = rows.filter((r) => !before.has(r.id));
        const byNumber = new Map(
          body.students.map((s) => [s.number, { section: s.section, extraTimeHours: s.extraTimeHours ?? 0 }]),
        );
        if (fresh.length > 0) {
          const first = await lockBook(db, school, book, fresh.length);
          const lines = fresh.map((r) => ({
            operation: `enrol-${r.id}`,
            kind: 'enrol' as const,
            assessment: null,
            enrolment: r.id,
            was: null,
            becomes: enrolText({ ...byNumber.get(r.number)!, left: false }),
          }));
          await writeLines(db, { school, book, person: person.id }, first, lines);
        }
        return { enrolments: rows };
      });
    },
  }),
];
