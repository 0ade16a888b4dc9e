import { Type } from '@sinclair/typebox';
import { Id, Operation, Shape, Title, Version, type Static } from './wire';

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
