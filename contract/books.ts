import { Type } from '@sinclair/typebox';
import type { BookDocument } from '@core/book/document';
import type { RulesPart } from '@core/book/change';
import type { ItemSettings } from '@core/trial/wish';
import { CellChangeSchema } from './entries';
import { Amount, Choice, Id, Maybe, Moment, Operation, Reason, Shape, Title, Version, type Static } from './wire';

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
  sections: Type.Array(Shape({ id: Id, title: Title })),
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
  out: Type.Array(Version),
});
export type Sheet = Static<typeof Sheet>;

/** Rules and groups of a book; checked as a whole by the core against the book's items. */
export const RulesWrite = Shape({
  operation: Operation,
  version: Version,
  reason: Reason,
  rules: Type.Unsafe<RulesPart>({ type: 'object' }),
  /** Assessments whose settings change with the rules: all the keys of the contract's item that rules know. */
  items: Type.Optional(
    Type.Array(Shape({ assessment: Id, version: Version, more: Type.Unsafe<ItemSettings>({ type: 'object' }) }), {
      maxItems: 2_000,
    }),
  ),
  /** Scores and states that were supposed and are made with the rules. */
  cells: Type.Optional(
    Type.Array(Shape({ assessment: Id, enrolment: Id, version: Version, change: CellChangeSchema }), {
      maxItems: 50_000,
    }),
  ),
});
export type RulesWrite = Static<typeof RulesWrite>;
export const RulesState = Shape({ version: Version, rules: Type.Unsafe<RulesPart>({ type: 'object' }), seq: Version });
export type RulesState = Static<typeof RulesState>;

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

export const NewAssessment = Shape({
  operation: Operation,
  id: Id,
  title: Title,
  category: Id,
  points: Amount,
  due: Maybe(Moment),
  closes: Maybe(Moment),
  takesWork: Type.Boolean(),
  more: Type.Unsafe<Record<string, unknown>>({ type: 'object' }),
});
export type NewAssessment = Static<typeof NewAssessment>;

/** What is left out stays. */
export const BookSettings = Shape({
  operation: Operation,
  showsStanding: Type.Optional(Type.Boolean()),
  title: Type.Optional(Title),
  archived: Type.Optional(Type.Boolean()),
});
export type BookSettings = Static<typeof BookSettings>;

/** POST /books/{book}/release and /withdraw. `enrolments` null: everybody in the book. */
export const ReleaseWrite = Shape({
  operation: Operation,
  assessment: Id,
  enrolments: Maybe(Type.Array(Id, { minItems: 1, maxItems: 200_000 })),
  /** Move the released rules of these students to today's. */
  moveRules: Type.Boolean(),
  /** Why the rules are others, for those whose standing they move. */
  tell: Type.Optional(Type.String({ maxLength: 500 })),
});
export type ReleaseWrite = Static<typeof ReleaseWrite>;
/** POST /books/{book}/release/preview: whose standing it would change, and whose by the rules alone. */
export const ReleasePreviewWrite = Shape({
  assessment: Id,
  enrolments: Maybe(Type.Array(Id, { minItems: 1, maxItems: 200_000 })),
  moveRules: Type.Boolean(),
});
export type ReleasePreviewWrite = Static<typeof ReleasePreviewWrite>;
const Standing = Shape({ percent: Maybe(Type.String()), letter: Maybe(Type.String()) });
export const ReleasePreview = Shape({
  lines: Type.Array(Shape({ enrolment: Id, before: Standing, after: Standing, byRules: Type.Boolean() })),
  /** Why the rules were changed since the oldest of their releases. */
  reasons: Type.Array(Type.String()),
});
export type ReleasePreview = Static<typeof ReleasePreview>;
export const WithdrawWrite = Shape({
  operation: Operation,
  assessment: Id,
  enrolments: Maybe(Type.Array(Id, { minItems: 1 })),
});
export type WithdrawWrite = Static<typeof WithdrawWrite>;
export const Released = Shape({ people: Version, seq: Version });
export type Released = Static<typeof Released>;
