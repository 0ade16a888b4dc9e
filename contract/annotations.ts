import { Type } from '@sinclair/typebox';
import { NOTE_LENGTH } from './wire/constants';
import { Id, Maybe, Moment, Operation, Shape, Version, type Static } from './wire';
import { SavedView, StudentGroup } from './groups';

/** What staff wrote beside a cell, or beside a student as a whole (`place` '*'). Version 0: nothing yet. */
export const StaffNote = Shape({
  enrolment: Id,
  place: Type.String({ pattern: '^(\\*|[A-Za-z0-9._-]{1,64})$' }),
  version: Version,
  note: Maybe(Shape({ id: Id, text: Type.String(), by: Type.String(), at: Moment })),
  secondLookBy: Maybe(Type.String()),
});
export type StaffNote = Static<typeof StaffNote>;

/** PUT /books/{book}/staff-notes/{enrolment}/{place}. What is left out stays as it is; an empty note takes it away. */
export const StaffNoteWrite = Shape({
  operation: Operation,
  version: Version,
  note: Type.Optional(Type.String({ maxLength: NOTE_LENGTH })),
  secondLook: Type.Optional(Type.Boolean()),
});
export type StaffNoteWrite = Static<typeof StaffNoteWrite>;

/** GET /books/{book}/annotations: what stands beside the scores, for the person who asks. */
export const BookAnnotations = Shape({
  notes: Type.Array(StaffNote),
  groups: Type.Array(StudentGroup),
  views: Type.Array(SavedView),
  /** Where the visit before this one ended, and the cells that others changed since. */
  since: Version,
  sinceAt: Moment,
  changed: Type.Array(Shape({ assessment: Id, enrolment: Id })),
});
export type BookAnnotations = Static<typeof BookAnnotations>;
