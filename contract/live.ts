import { Type } from '@sinclair/typebox';
import { EntryState } from './entries';
import { Id, Maybe, Moment, Operation, Shape, Title, Version, type Static } from './wire';

/** A note's longest text in characters. */
export const NOTE_LENGTH = 2_000;

/** What staff wrote beside a cell, or beside a student as a whole (`place` '*'). Version 0: nothing yet. */
export const Remark = Shape({
  enrolment: Id,
  place: Type.String({ pattern: '^(\\*|[A-Za-z0-9._-]{1,64})$' }),
  version: Version,
  note: Maybe(Shape({ id: Id, text: Type.String(), by: Type.String(), at: Moment })),
  flaggedBy: Maybe(Type.String()),
});
export type Remark = Static<typeof Remark>;

/** PUT /books/{book}/remarks/{enrolment}/{place}. What is left out stays as it is; an empty note takes it away. */
export const RemarkWrite = Shape({
  operation: Operation,
  version: Version,
  note: Type.Optional(Type.String({ maxLength: NOTE_LENGTH })),
  flagged: Type.Optional(Type.Boolean()),
});
export type RemarkWrite = Static<typeof RemarkWrite>;

export const StudentGroup = Shape({ id: Id, title: Title, version: Version, members: Type.Array(Id) });
export type StudentGroup = Static<typeof StudentGroup>;
/** PUT /books/{book}/groups/{group}. Version 0 makes it. */
export const StudentGroupWrite = Shape({
  operation: Operation,
  version: Version,
  title: Title,
  members: Type.Array(Id, { maxItems: 5_000 }),
});
export type StudentGroupWrite = Static<typeof StudentGroupWrite>;
export const StudentGroupGone = Shape({ operation: Operation, version: Version });

export const SavedView = Shape({ id: Id, title: Title, query: Type.String({ maxLength: 2_000 }) });
export type SavedView = Static<typeof SavedView>;
export const SavedViewWrite = Shape({ title: Title, query: Type.String({ maxLength: 2_000 }) });
export type SavedViewWrite = Static<typeof SavedViewWrite>;

/** GET /books/{book}/beside: what stands beside the scores, for the person who asks. */
export const Beside = Shape({
  remarks: Type.Array(Remark),
  groups: Type.Array(StudentGroup),
  views: Type.Array(SavedView),
  /** Where the visit before this one ended, and the cells that others changed since. */
  since: Version,
  sinceAt: Moment,
  changed: Type.Array(Shape({ assessment: Id, enrolment: Id })),
});
export type Beside = Static<typeof Beside>;

/** PUT /books/{book}/place: where the person's cursor is. */
export const PlaceWrite = Shape({ connection: Operation, enrolment: Maybe(Id), assessment: Maybe(Id) });
export type PlaceWrite = Static<typeof PlaceWrite>;

export const PersonHere = Shape({
  connection: Type.String(),
  name: Type.String(),
  enrolment: Maybe(Id),
  assessment: Maybe(Id),
});
export type PersonHere = Static<typeof PersonHere>;

/**
 * What GET /books/{book}/events sends, as server-sent events. `hello` first; `cells` and `remarks` carry what is kept
 * now, each with who changed it last (empty: the person themselves); `book` says that more than cells changed and all is to be loaded anew; `people` is everybody else who is here.
 */
export const LiveEvent = Type.Union([
  Shape({ kind: Type.Literal('hello'), connection: Type.String(), seq: Version }),
  Shape({ kind: Type.Literal('cells'), seq: Version, cells: Type.Array(EntryState), by: Type.Array(Type.String()) }),
  Shape({ kind: Type.Literal('remarks'), seq: Version, remarks: Type.Array(Remark) }),
  Shape({ kind: Type.Literal('book'), seq: Version, what: Type.Array(Type.String()) }),
  Shape({ kind: Type.Literal('people'), people: Type.Array(PersonHere) }),
]);
export type LiveEvent = Static<typeof LiveEvent>;
