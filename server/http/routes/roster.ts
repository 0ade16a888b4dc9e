import { Done, Made } from '@contract/people';
import {
  BookCopy,
  BookList,
  EnrolmentsWrite,
  Invitations,
  InvitationsWrite,
  Notices,
  PeoplePage,
  RosterMade,
  RosterWrite,
  SchoolSettings,
  SectionWrite,
  StaffWrite,
  Welcome,
  Welcomed,
} from '@contract/roster';
import { MyBook } from '@contract/pages';
import { Rehearsal, RehearsalWrite } from '@contract/rehearsal';
import { Refusal } from '../../domain/problems';
import { myBook } from '../../domain/mine';
import { copyBook } from '../../domain/own-books';
import * as bookPeople from '../../domain/book-people';
import { invite, welcome } from '../../domain/invitations';
import { rehearse } from '../../domain/rehearsal';
import { takeRoster } from '../../domain/roster';
import * as books from '../../store/books';
import { studentsOf } from '../../store/enrolments';
import { markSeen, noticesOf } from '../../store/notices';
import * as people from '../../store/people';
import { snapshot, transaction } from '../../store/database';
import { route, whoOf, type Route } from '../route';
import { hashPassword } from './sign-in';

export const rosterRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books',
    permission: 'staff-or-office',
    says: 'The books of the person, those put away too, and the terms of the school.',
    answer: BookList,
    async does({ pool, school, person }) {
      const office = person.role === 'administrator';
      const rows = office
        ? await books.booksOfSchool(pool, school, true)
        : await books.booksOfStaff(pool, school, person.id, true);
      const list = [];
      for (const b of rows)
        list.push({
          id: b.id,
          title: b.title,
          term: b.term,
          role: office ? ('administrator' as const) : (await books.roleInBook(pool, school, b.id, person.id))!,
          archived: b.archived,
        });
      const found = (await people.findSchool(pool, school))!;
      return {
        books: list,
        terms: await books.termsOf(pool, school),
        timeZone: found.timeZone,
        wantsReasons: found.wantsReasons,
      };
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/copies',
    permission: 'book-read',
    says: 'Another book with the rules, sections and assessments of this one, without its people.',
    body: BookCopy,
    answer: Made,
    status: 201,
    async does({ pool, school, person, params, body }) {
      await copyBook(pool, { school, id: person.id, role: person.role }, params['book']!, body);
      return { made: 1 };
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/people',
    permission: 'book-read',
    says: 'Everybody of the book, those who left too, with where they were from when to when.',
    answer: PeoplePage,
    does: ({ pool, school, params }) => snapshot(pool, (db) => bookPeople.peopleOf(db, school, params['book']!)),
  }),
  route({
    method: 'post',
    path: '/books/{book}/people',
    permission: 'book-people',
    says: 'Put a list of students into the book, or say what would become of each line.',
    body: RosterWrite,
    answer: RosterMade,
    does: (c) => takeRoster(c.pool, whoOf(c), c.role === 'administrator', c.body),
  }),
  route({
    method: 'patch',
    path: '/books/{book}/enrolments',
    permission: 'book-people',
    says: 'Move students to another section, out and in again, or give them extra time.',
    body: EnrolmentsWrite,
    answer: Made,
    does: (c) => bookPeople.changeEnrolments(c.pool, whoOf(c), c.role === 'administrator', c.body),
  }),
  route({
    method: 'put',
    path: '/books/{book}/staff/{login}',
    permission: 'book-people',
    says: 'Give somebody of the staff a role in the book, or take them off it.',
    body: StaffWrite,
    answer: Done,
    does: (c) => bookPeople.setStaff(c.pool, whoOf(c), c.role === 'administrator', c.params['login']!, c.body),
  }),
  route({
    method: 'put',
    path: '/books/{book}/sections/{section}',
    permission: 'book-people',
    says: 'Make a section, or give it another title.',
    body: SectionWrite,
    answer: Done,
    async does(c) {
      const id = c.params['section']!;
      if (!/^[A-Za-z0-9._-]{1,64}$/.test(id))
        throw new Refusal('bad-request', `“${id}” cannot be the id of a section. Nothing was made.`);
      return bookPeople.setSection(c.pool, whoOf(c), c.role === 'administrator', id, c.body);
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/invitations',
    permission: 'book-people',
    says: 'Links with which students of the book who have no password give themselves one.',
    body: InvitationsWrite,
    answer: Invitations,
    does: ({ pool, school, person, params, body }) =>
      invite(pool, { school, person: person.id }, body.logins, params['book']!),
  }),
  route({
    method: 'post',
    path: '/invitations',
    permission: 'office',
    says: 'Links with which people of the school give themselves a password, or a new one.',
    body: InvitationsWrite,
    answer: Invitations,
    does: ({ pool, school, person, body }) => invite(pool, { school, person: person.id }, body.logins, null),
  }),
  route({
    method: 'post',
    path: '/welcome',
    permission: 'anyone',
    says: 'Take up an invitation: the bearer of its link chooses a password.',
    body: Welcome,
    answer: Welcomed,
    async does({ pool, body }) {
      return { login: await welcome(pool, body.secret, () => hashPassword(body.password)) };
    },
  }),
  route({
    method: 'patch',
    path: '/school',
    permission: 'office',
    says: 'Whether every exception needs a reason.',
    body: SchoolSettings,
    answer: Done,
    async does({ pool, school, body }) {
      await people.setWantsReasons(pool, school, body.wantsReasons);
      return { done: true as const };
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/as-student/{enrolment}',
    permission: 'book-read',
    says: 'The book as one student of it sees it.',
    answer: MyBook,
    async does({ pool, school, params }) {
      const book = params['book']!;
      return snapshot(pool, async (db) => {
        const student = (await studentsOf(db, school, book)).find((s) => s.id === params['enrolment']);
        if (!student) throw new Refusal('not-found', 'There is no such student in this book.');
        return myBook(db, school, student.person, book);
      });
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/rehearsal',
    permission: 'book-read',
    says: 'The made-up student of the person asking, and what they would read.',
    answer: Rehearsal,
    does: ({ pool, school, params, person }) =>
      snapshot(pool, (db) => rehearse(db, { school, book: params['book']!, person }, null)),
  }),
  route({
    method: 'put',
    path: '/books/{book}/rehearsal',
    permission: 'book-read',
    says: 'Give the made-up student something, and see what they would read. Nothing of it stands in the book.',
    body: RehearsalWrite,
    answer: Rehearsal,
    does: ({ pool, school, params, person, body }) =>
      transaction(pool, (db) => rehearse(db, { school, book: params['book']!, person }, body)),
  }),
  route({
    method: 'get',
    path: '/my/notices',
    permission: 'student',
    says: 'What the student was told about their books, the latest first.',
    answer: Notices,
    does: ({ pool, school, person }) => noticesOf(pool, school, person.id),
  }),
  route({
    method: 'put',
    path: '/my/notices/{notice}/seen',
    permission: 'student',
    says: 'Say that a notice was read.',
    answer: Done,
    async does({ pool, school, person, params }) {
      await markSeen(pool, school, person.id, params['notice']!);
      return { done: true as const };
    },
  }),
];
