import { enrolByNumber } from './enrol-by-number';
import { Refusal } from '../../kernel/refusal';
import { snapshot } from '../../kernel/database';
import { LONG_LIST, route, type Route, whoOf } from '../../http/route';
import { hashPassword } from '../accounts';
import {
  EnrolmentsWrite,
  PeoplePage,
  RosterMade,
  RosterWrite,
  SectionWrite,
  StaffWrite,
  Enrol,
  Enrolled,
} from '@contract/people';
import { invite, welcome } from './invitations';
import { takeRoster, tryRoster } from './roster';
import { peopleOf, changeEnrolments, setStaff, setSection } from './book-people';
import { Made, Done } from '@contract/wire';
import { sendForgotten } from './forgotten';
import { Forgotten, ForgottenAnswer, Invitations, InvitationsWrite, Welcome, Welcomed } from '@contract/accounts';
export const peopleRoutes: Route[] = [
  route({
    method: 'post',
    path: '/books/{book}/enrolments',
    permission: 'book-office',
    names: 'named',
    summary: 'Enrol students by their number. Those already in the book stay as they are.',
    body: Enrol,
    maxBytes: LONG_LIST,
    answer: Enrolled,
    handler: (c) => enrolByNumber(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/people',
    permission: 'book-read',
    names: 'named',
    summary: 'Everybody of the book, those who left too, with where they were from when to when.',
    answer: PeoplePage,
    handler: ({ pool, school, params }) => snapshot(pool, (db) => peopleOf(db, school, params['book']!)),
  }),
  route({
    method: 'post',
    path: '/books/{book}/people',
    permission: 'book-people',
    names: 'named',
    summary: 'Put a list of students into the book, or say what would become of each line.',
    body: RosterWrite,
    maxBytes: LONG_LIST,
    answer: RosterMade,
    handler: (c) => (c.body.try ? tryRoster : takeRoster)(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'patch',
    path: '/books/{book}/enrolments',
    permission: 'book-people',
    names: 'named',
    summary: 'Move students to another section, out and in again, or give them extra time.',
    body: EnrolmentsWrite,
    maxBytes: LONG_LIST,
    answer: Made,
    handler: (c) => changeEnrolments(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'put',
    path: '/books/{book}/staff/{login}',
    permission: 'book-people',
    names: 'named',
    summary: 'Give somebody of the staff a role in the book, or take them off it.',
    body: StaffWrite,
    answer: Done,
    handler: (c) => setStaff(c.pool, whoOf(c), c.params['login']!, c.body),
  }),
  route({
    method: 'put',
    path: '/books/{book}/sections/{section}',
    permission: 'book-people',
    names: 'named',
    summary: 'Make a section, or give it another title.',
    body: SectionWrite,
    answer: Done,
    async handler(c) {
      const id = c.params['section']!;
      if (!/^[A-Za-z0-9._-]{1,64}$/.test(id))
        throw new Refusal('bad-request', `“${id}” cannot be the id of a section. Nothing was made.`);
      return setSection(c.pool, whoOf(c), id, c.body);
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/invitations',
    permission: 'book-people',
    names: 'named',
    summary: 'Links with which students of the book who have no password give themselves one.',
    body: InvitationsWrite,
    maxBytes: LONG_LIST,
    answer: Invitations,
    handler: ({ pool, school, person, params, body }) =>
      invite(pool, { school, person: person.id }, body.logins, params['book']!, body.mail === true),
  }),
  route({
    method: 'post',
    path: '/invitations',
    permission: 'office',
    summary: 'Links with which people of the school give themselves a password, or a new one.',
    body: InvitationsWrite,
    maxBytes: LONG_LIST,
    answer: Invitations,
    handler: ({ pool, school, person, body }) =>
      invite(pool, { school, person: person.id }, body.logins, null, body.mail === true),
  }),
  route({
    method: 'post',
    path: '/forgotten',
    permission: 'anyone',
    summary: 'Send a link for a new password, where there is such an account with a mail address.',
    body: Forgotten,
    answer: ForgottenAnswer,
    async handler({ pool, body, config }) {
      if (config.mail) await sendForgotten(pool, body.name);
      return { mails: config.mail !== null };
    },
  }),
  route({
    method: 'post',
    path: '/welcome',
    permission: 'anyone',
    summary: 'Take up an invitation: the bearer of its link chooses a password.',
    body: Welcome,
    answer: Welcomed,
    async handler({ pool, body }) {
      return { login: await welcome(pool, body.secret, () => hashPassword(body.password)) };
    },
  }),
];
