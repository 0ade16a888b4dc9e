import { Type } from '@sinclair/typebox';
import { EntryState } from './scores';
import { Id, Maybe, Operation, Shape, Version, type Static } from './wire';
import { StaffNote } from './annotations';
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
  Shape({ kind: Type.Literal('remarks'), seq: Version, remarks: Type.Array(StaffNote) }),
  Shape({ kind: Type.Literal('book'), seq: Version, what: Type.Array(Type.String()) }),
  Shape({ kind: Type.Literal('people'), people: Type.Array(PersonHere) }),
]);
export type LiveEvent = Static<typeof LiveEvent>;
