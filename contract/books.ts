import { Type } from '@sinclair/typebox';
import type { BookDocument } from '@core/book/document';
import type { RulesPart } from '@core/book/change';
import { Statement } from './work/submissions';
import { Amount, Choice, Id, Maybe, Moment, Operation, Shape, Title, Version, type Static } from './wire';
/** Everything about a book that is not a score. */
export const BookPage = Shape({
  id: Id,
  title: Title,
  term: Title,
  timeZone: Type.String(),
  asOf: Moment,
  seq: Version,
  role: Choice('teacher', 'co-teacher', 'marker', 'reviewer', 'administrator'),
  showsStanding: Type.Boolean(),
  archived: Type.Boolean(),
  /** The school wants a reason for every exception. */
  wantsReasons: Type.Boolean(),
  /** What students tick before they hand in, in the book's words; '' nothing, null: as the school says. */
  statement: Maybe(Statement),
  schoolStatement: Statement,
  /** Assessments that take work are marked without names; null: as the school says. */
  hidesNames: Maybe(Type.Boolean()),
  schoolHidesNames: Type.Boolean(),
  sections: Type.Array(Shape({ id: Id, title: Title, variant: Maybe(Type.String()) })),
  /** The variants of the rules that students or sections can have. */
  variants: Type.Array(Type.String()),
  staff: Type.Array(Shape({ name: Type.String(), role: Type.String() })),
  students: Type.Array(
    Shape({
      id: Id,
      family: Type.String(),
      given: Type.String(),
      number: Type.String(),
      mail: Type.String(),
      section: Maybe(Id),
      left: Type.Boolean(),
      extraTimeHours: Amount,
    }),
  ),
  assessments: Type.Array(
    Shape({
      id: Id,
      title: Title,
      category: Id,
      points: Amount,
      due: Maybe(Moment),
      closes: Maybe(Moment),
      marks: Type.Array(Type.String()),
      extraCredit: Type.Boolean(),
      /** Work is handed in through the application. */
      takesWork: Type.Boolean(),
      counts: Type.Boolean(),
      /** It is marked by a rubric. */
      rubric: Type.Boolean(),
      /** It is not said whose work is whose: its cells are not in the sheet, and its work is read at `book~assessment`. */
      namesHidden: Type.Boolean(),
      version: Version,
    }),
  ),
  rulesVersion: Version,
  /** Students who read a standing: something is released to them, and the book shows standings. */
  readers: Type.Array(Id),
});
export type BookPage = Static<typeof BookPage>;

/**
 * The book document with what stands beside its entries: `versions` and `out` run parallel to `document.entries`
 * (out: 0 never released, 1 released as it is, 2 changed since released).
 * The document itself is checked by the core, not by a schema here.
 */
export const Sheet = Shape({
  seq: Version,
  document: Type.Unsafe<BookDocument>({ type: 'object' }),
  versions: Type.Array(Version),
  releaseStates: Type.Array(Version),
  /** Assessments in which names are hidden, with how much work waits there to be marked. */
  hidden: Type.Optional(Type.Array(Shape({ assessment: Id, waits: Version }))),
  /** Of a book as it stood: the calculation changed since, and gave so many students another figure. */
  recalculated: Type.Optional(Shape({ version: Version, students: Version })),
  /** Cells that cannot be read as they are kept, and why; in the document they are awaited. */
  faulty: Type.Optional(Type.Array(Shape({ enrolment: Id, assessment: Id, fault: Type.String() }))),
});
export type Sheet = Static<typeof Sheet>;
export const NewBook = Shape({
  id: Id,
  term: Id,
  title: Title,
  sections: Type.Array(Shape({ id: Id, title: Title }), { maxItems: 60 }),
  staff: Type.Array(
    Shape({ login: Type.String({ maxLength: 120 }), role: Choice('teacher', 'co-teacher', 'marker', 'reviewer') }),
    { maxItems: 60 },
  ),
  /** The rules themselves, or another book's of the same person. */
  rules: Type.Union([Type.Unsafe<RulesPart>({ type: 'object' }), Shape({ from: Id })]),
  /** Where not the school's. */
  timeZone: Type.Optional(Type.String({ maxLength: 60 })),
});
export type NewBook = Static<typeof NewBook>;
/** What is left out stays. */
export const BookSettings = Shape({
  operation: Operation,
  showsStanding: Type.Optional(Type.Boolean()),
  title: Type.Optional(Title),
  archived: Type.Optional(Type.Boolean()),
  statement: Type.Optional(Maybe(Statement)),
  hidesNames: Type.Optional(Maybe(Type.Boolean())),
});
export type BookSettings = Static<typeof BookSettings>;
export const Standing = Shape({ percent: Maybe(Type.String()), letter: Maybe(Type.String()) });
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
  statement: Statement,
  hidesNames: Type.Boolean(),
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
