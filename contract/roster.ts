import { Type } from '@sinclair/typebox';
import { Amount, Choice, Id, Maybe, Moment, Operation, Reason, Shape, Title, Version, type Static } from './wire';

export const BookRole = Choice('teacher', 'co-teacher', 'marker', 'reviewer');

/** Where somebody was, from when to when. */
export const Stay = Shape({ section: Maybe(Id), since: Moment, until: Maybe(Moment) });
export type Stay = Static<typeof Stay>;

/** GET /books/{book}/people: everybody of a book, those who left too. */
export const PeoplePage = Shape({
  students: Type.Array(
    Shape({
      id: Id,
      family: Type.String(),
      given: Type.String(),
      number: Type.String(),
      mail: Type.String(),
      login: Type.String(),
      section: Maybe(Id),
      extraTimeHours: Amount,
      left: Type.Boolean(),
      /** Has a password, is invited and has none yet, or neither. */
      account: Choice('ready', 'invited', 'none'),
      stays: Type.Array(Stay),
    }),
  ),
  staff: Type.Array(
    Shape({ login: Type.String(), name: Type.String(), role: BookRole, account: Choice('ready', 'invited', 'none') }),
  ),
});
export type PeoplePage = Static<typeof PeoplePage>;

const Text = (maxLength: number) => Type.String({ maxLength });
/** One line of a list of students as it was read. `section` by its title; empty: none. */
export const RosterLine = Shape({
  family: Text(200),
  given: Text(100),
  number: Text(60),
  mail: Text(200),
  section: Text(200),
});
export type RosterLine = Static<typeof RosterLine>;

/** POST /books/{book}/people: with `try` it is only said what would be done. */
export const RosterWrite = Shape({
  operation: Operation,
  try: Type.Boolean(),
  lines: Type.Array(RosterLine, { minItems: 1, maxItems: 5_000 }),
  reason: Reason,
});
export type RosterWrite = Static<typeof RosterWrite>;
export const RosterFate = Shape({
  fate: Choice('new', 'enrol', 'here', 'moves', 'back', 'refused'),
  says: Type.String(),
});
export type RosterFate = Static<typeof RosterFate>;
export const RosterMade = Shape({
  lines: Type.Array(RosterFate),
  /** Sections that are made for it, by title. */
  sections: Type.Array(Title),
  done: Version,
});
export type RosterMade = Static<typeof RosterMade>;

/** PATCH /books/{book}/enrolments: what is left out stays. */
export const EnrolmentsWrite = Shape({
  operation: Operation,
  enrolments: Type.Array(Id, { minItems: 1, maxItems: 5_000 }),
  section: Type.Optional(Maybe(Id)),
  left: Type.Optional(Type.Boolean()),
  extraTimeHours: Type.Optional(Type.Number({ minimum: 0, maximum: 10_000, 'x-decimals': 4 })),
  until: Type.Optional(Maybe(Moment)),
  reason: Reason,
});
export type EnrolmentsWrite = Static<typeof EnrolmentsWrite>;

/** PUT /books/{book}/staff/{login}: null takes them off the book. */
export const StaffWrite = Shape({ operation: Operation, role: Maybe(BookRole), reason: Reason });
/** PUT /books/{book}/sections/{section}: makes it, or gives it another title. */
export const SectionWrite = Shape({ operation: Operation, title: Title, reason: Reason });

/** POST /books/{book}/invitations and /invitations: who may give themselves a password. Everybody without one where empty. */
export const InvitationsWrite = Shape({ logins: Type.Array(Text(120), { minItems: 1, maxItems: 2_000 }) });
export const Invitations = Shape({
  invitations: Type.Array(Shape({ login: Type.String(), name: Type.String(), path: Type.String(), until: Moment })),
});
export type Invitations = Static<typeof Invitations>;
/** POST /welcome: a link's secret and the password that its bearer chose. */
export const Welcome = Shape({
  secret: Type.String({ minLength: 20, maxLength: 100 }),
  password: Type.String({ minLength: 8, maxLength: 200 }),
});
export const Welcomed = Shape({ login: Type.String() });

export const BookList = Shape({
  books: Type.Array(
    Shape({
      id: Id,
      title: Title,
      term: Title,
      role: Choice('teacher', 'co-teacher', 'marker', 'reviewer', 'administrator'),
      archived: Type.Boolean(),
    }),
  ),
  terms: Type.Array(Shape({ id: Id, title: Title, starts: Type.String(), ends: Type.String() })),
  timeZone: Type.String(),
  wantsReasons: Type.Boolean(),
});
export type BookList = Static<typeof BookList>;

/** POST /books/{book}/copies: another book with its rules, sections and assessments, without its people. */
export const BookCopy = Shape({
  id: Id,
  term: Id,
  title: Title,
  assessments: Type.Boolean(),
  /** Days by which dates move. Local times of the day stay what they are. */
  shiftDays: Type.Integer({ minimum: -3_660, maximum: 3_660 }),
});
export type BookCopy = Static<typeof BookCopy>;

export const SchoolSettings = Shape({ wantsReasons: Type.Boolean() });

/** GET /my/notices: what a student was told about their books. */
export const Notices = Type.Array(
  Shape({ id: Id, book: Id, bookTitle: Title, at: Moment, text: Type.String(), seen: Type.Boolean() }),
);
export type Notices = Static<typeof Notices>;
