import { Enrol, Enrolled, NewBook } from '@contract/books';
import { Office } from '@contract/pages';
import { Made, NewPeople, NewTerm } from '@contract/people';
import { canonical } from '@core/book/canonical';
import { requireSoundRules } from '../../domain/books';
import { Refusal } from '../../domain/problems';
import { officeOf } from '../../domain/summary';
import * as books from '../../store/books';
import { transaction } from '../../store/database';
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
    does: ({ pool, school }) => officeOf(pool, school),
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
    permission: 'office',
    says: 'Make a book with its sections, staff and rules.',
    body: NewBook,
    answer: Made,
    status: 201,
    async does({ pool, school, person, body }) {
      return transaction(pool, async (db) => {
        if (!(await books.termExists(db, school, body.term)))
          throw new Refusal('not-found', `There is no term “${body.term}”. Nothing was made.`);
        if (await books.findBook(db, school, body.id))
          throw new Refusal('already-there', `There is a book “${body.id}” already.`);
        const ids = await people.personByLogins(
          db,
          school,
          body.staff.map((s) => s.login),
        );
        const staff = body.staff.map((s) => {
          const id = ids.get(s.login);
          if (!id) throw new Refusal('bad-request', `Nobody on the staff signs in as “${s.login}”. Nothing was made.`);
          return { person: id, role: s.role };
        });
        requireSoundRules((await people.findSchool(db, school))!.timeZone, body.rules, []);
        await books.insertBook(db, {
          school,
          id: body.id,
          term: body.term,
          title: body.title,
          sections: body.sections,
          staff,
        });
        await books.insertRules(db, {
          school,
          book: body.id,
          version: 1,
          rules: body.rules,
          by: person.id,
          reason: 'the book was made',
        });
        const first = await lockBook(db, school, body.id, 1);
        const line = {
          operation: `made-${body.id}`,
          kind: 'book' as const,
          assessment: null,
          enrolment: null,
          was: null,
          becomes: canonical({ title: body.title, rules: body.rules }),
        };
        await writeLines(db, { school, book: body.id, person: person.id }, first, [line]);
        return { made: 1 };
      });
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
        if (fresh.length > 0) {
          const first = await lockBook(db, school, book, fresh.length);
          const lines = fresh.map((r) => ({
            operation: `enrol-${r.id}`,
            kind: 'enrol' as const,
            assessment: null,
            enrolment: r.id,
            was: null,
            becomes: '{}',
          }));
          await writeLines(db, { school, book, person: person.id }, first, lines);
        }
        return { enrolments: rows };
      });
    },
  }),
];
