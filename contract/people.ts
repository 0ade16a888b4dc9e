import { Type } from '@sinclair/typebox';
import { Amount, Choice, Id, Maybe, Moment, Operation, Reason, Shape, Title, Version, type Static } from './wire';
export const BookRole = Choice('teacher', 'co-teacher', 'marker', 'reviewer');

/** A name among the variants of a book's rules. */
export const VariantName = Type.String({ minLength: 1, maxLength: 200 });

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
      /** The variant of the rules that is theirs, whatever their section has. */
      ownVariant: Maybe(Type.String()),
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

export const Text = (maxLength: number) => Type.String({ maxLength });
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
  message: Type.String(),
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
  /** A variant of the rules; null: as their section has it. */
  variant: Type.Optional(Maybe(VariantName)),
  reason: Reason,
});
export type EnrolmentsWrite = Static<typeof EnrolmentsWrite>;

/** PUT /books/{book}/staff/{login}: null takes them off the book. */
export const StaffWrite = Shape({ operation: Operation, role: Maybe(BookRole), reason: Reason });
/** PUT /books/{book}/sections/{section}: makes it, or gives it another title. */
export const SectionWrite = Shape({
  operation: Operation,
  title: Title,
  /** The variant of the rules that its students have who have none of their own. Left out: it stays. */
  variant: Type.Optional(Maybe(VariantName)),
  reason: Reason,
});

export const Enrol = Shape({
  students: Type.Array(
    Shape({
      number: Type.String({ minLength: 1, maxLength: 60 }),
      section: Maybe(Id),
      extraTimeHours: Type.Optional(Amount),
    }),
    {
      minItems: 1,
      maxItems: 5_000,
    },
  ),
});
export type Enrol = Static<typeof Enrol>;

export const Enrolled = Shape({ enrolments: Type.Array(Shape({ id: Id, number: Type.String() })) });
export type Enrolled = Static<typeof Enrolled>;
