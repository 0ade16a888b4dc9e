import { Type } from '@sinclair/typebox';
import type { ExceptionKind } from '@core/book/exceptions';
import { Amount, Id, Maybe, Moment, Operation, Reason, Shape, Version, type Static } from './wire';

const Kind = Type.Unsafe<ExceptionKind>({ type: 'string' });

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
