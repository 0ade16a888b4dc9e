import { Type } from '@sinclair/typebox';
import { CELL_EXCEPTIONS, EXCEPTION_KINDS } from '@core/book/exceptions';
import { Amount, Choice, Id, Maybe, Moment, Operation, Reason, Shape, Title, Version, type Static } from './wire';
/** Contract, section 2: what one cell holds. */
export const AttemptSchema = Shape({
  score: Type.Optional(Amount),
  mark: Type.Optional(Type.String({ maxLength: 60 })),
  receivedAt: Type.Optional(Moment),
  onTime: Type.Optional(Type.Boolean()),
  lateUnits: Type.Optional(Type.Integer({ minimum: 0, maximum: 10_000 })),
});
const STATE = Choice('excused', 'missing', 'awaiting');
export const EntrySchema = Shape({
  state: Type.Optional(STATE),
  attempts: Type.Optional(Type.Array(AttemptSchema, { maxItems: 100 })),
  dueAt: Type.Optional(Moment),
  closesAt: Type.Optional(Moment),
  lateAllowances: Type.Optional(Type.Integer({ minimum: 1, maximum: 1000 })),
  set: Type.Optional(Amount),
  protected: Type.Optional(Type.Boolean()),
});

/** The changes of core/book/change.ts as they cross the wire. */
export const CellChangeSchema = Type.Union([
  Shape({ kind: Type.Literal('score'), points: Amount }),
  Shape({ kind: Type.Literal('mark'), label: Type.String({ minLength: 1, maxLength: 60 }) }),
  Shape({
    kind: Type.Literal('attempt'),
    made: Type.Union([Shape({ score: Amount }), Shape({ mark: Type.String({ minLength: 1, maxLength: 60 }) })]),
  }),
  Shape({ kind: Type.Literal('clear') }),
  Shape({ kind: Type.Literal('state'), state: Maybe(STATE) }),
  Shape({ kind: Type.Literal('received'), at: Moment }),
  Shape({ kind: Type.Literal('late'), units: Type.Integer({ minimum: 0, maximum: 10_000 }) }),
  Shape({ kind: Type.Literal('late-at'), receivedAt: Moment }),
  Shape({ kind: Type.Literal('on-time'), waived: Type.Boolean() }),
  Shape({ kind: Type.Literal('due'), dueAt: Maybe(Moment) }),
  Shape({ kind: Type.Literal('dates'), dueAt: Maybe(Moment), closesAt: Maybe(Moment) }),
  Shape({ kind: Type.Literal('allowances'), count: Type.Integer({ minimum: 0, maximum: 1000 }) }),
  Shape({ kind: Type.Literal('set'), points: Maybe(Amount) }),
  Shape({ kind: Type.Literal('protect'), on: Type.Boolean() }),
  Shape({ kind: Type.Literal('put'), entry: EntrySchema }),
]);

/** PUT /books/{book}/entries/{assessment}/{enrolment}. `version` is the one that the person saw. */
export const EntryWrite = Shape({
  operation: Operation,
  version: Version,
  change: CellChangeSchema,
  reason: Type.Optional(Reason),
});
export type EntryWrite = Static<typeof EntryWrite>;

/** 0 never released, 1 released as it is, 2 changed since released. */
const Out = Type.Union([Type.Literal(0), Type.Literal(1), Type.Literal(2)]);
export const EntryState = Shape({
  assessment: Id,
  enrolment: Id,
  version: Version,
  entry: EntrySchema,
  releaseState: Out,
  seq: Version,
});
export type EntryState = Static<typeof EntryState>;

/** POST /books/{book}/intake: many cells at once, all or none. */
export const IntakeWrite = Shape({
  operation: Operation,
  title: Title,
  /** Why, where the file makes exceptions. */
  reason: Type.Optional(Reason),
  cells: Type.Array(Shape({ assessment: Id, enrolment: Id, version: Version, change: CellChangeSchema }), {
    minItems: 1,
    maxItems: 50_000,
  }),
});
export type IntakeWrite = Static<typeof IntakeWrite>;
export const BatchMade = Shape({ batch: Id, cells: Version, seq: Version });
export type BatchMade = Static<typeof BatchMade>;

/** POST /books/{book}/changes: cells that change together in the ledger, all or none, put back together. */
export const ChangesWrite = Shape({
  operation: Operation,
  kind: Choice('paste', 'fill', 'clear', 'change', 'exception'),
  /** What the set is called in the journal, and why it was made. */
  title: Type.Optional(Type.String({ maxLength: 200 })),
  reason: Type.Optional(Reason),
  /** An exception that ends by itself. */
  ends: Type.Optional(Shape({ kind: Choice(...CELL_EXCEPTIONS), at: Moment })),
  /** Words for the students concerned. */
  tell: Type.Optional(Type.String({ minLength: 1, maxLength: 500 })),
  /** The cells are given back to their students until their new due date: as a new attempt, or as the one that was. */
  again: Type.Optional(Choice('same', 'new')),
  cells: Type.Array(Shape({ assessment: Id, enrolment: Id, version: Version, change: CellChangeSchema }), {
    minItems: 1,
    maxItems: 50_000,
  }),
});
export type ChangesWrite = Static<typeof ChangesWrite>;
export const ChangesMade = Shape({ batch: Id, seq: Version, cells: Type.Array(EntryState) });
export type ChangesMade = Static<typeof ChangesMade>;

export const Batches = Type.Array(
  Shape({
    id: Id,
    kind: Type.String(),
    title: Type.String(),
    madeAt: Moment,
    madeBy: Type.String(),
    cells: Version,
    undone: Type.Boolean(),
  }),
);
export type Batches = Static<typeof Batches>;

const Kind = Choice(...EXCEPTION_KINDS);

/** One exception of one student: what it is, since when, by whom and why. `assessment` null: in the whole book. */
export const ExceptionLine = Shape({
  enrolment: Id,
  assessment: Maybe(Id),
  kind: Kind,
  /** What it says beside its kind: own dates, how many allowances, points, percent, letter, hours. */
  dueAt: Type.Optional(Moment),
  closesAt: Type.Optional(Moment),
  number: Type.Optional(Type.Number()),
  letter: Type.Optional(Type.String()),
  since: Maybe(Moment),
  by: Type.String(),
  reason: Type.String(),
  until: Maybe(Moment),
});
export type ExceptionLine = Static<typeof ExceptionLine>;

/** GET /books/{book}/exceptions. */
export const ExceptionList = Shape({
  lines: Type.Array(ExceptionLine),
  /** The school wants a reason for each. */
  wantsReasons: Type.Boolean(),
  /** What is kept of each student's override: 0 none. */
  overrides: Type.Array(Shape({ enrolment: Id, version: Version })),
});
export type ExceptionList = Static<typeof ExceptionList>;

/** PUT /books/{book}/overrides/{enrolment}: both null ends it. */
export const OverrideWrite = Shape({
  operation: Operation,
  version: Version,
  percent: Maybe(Amount),
  letter: Maybe(Type.String({ minLength: 1, maxLength: 20 })),
  reason: Reason,
  until: Maybe(Moment),
});
export type OverrideWrite = Static<typeof OverrideWrite>;

export const OverrideState = Shape({ version: Version, seq: Version });
