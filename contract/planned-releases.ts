import { Type } from '@sinclair/typebox';
import { ReleaseParts } from './slips';
import { ReleaseWrite } from './statements';
import { Id, Maybe, Moment, Operation, Shape, Version, type Static } from './wire';

/** POST /books/{book}/planned-releases: a release that is done by itself at a moment; `at` null: when all are done. */
const { also: _also, ...oneAssessment } = ReleaseWrite.properties;
export const PlannedReleaseWrite = Shape({ ...oneAssessment, at: Maybe(Moment) });
export type PlannedReleaseWrite = Static<typeof PlannedReleaseWrite>;

/** DELETE /books/{book}/planned-releases/{planned}. */
export const PlannedReleaseRemoval = Shape({ operation: Operation });

/** GET /books/{book}/planned-releases: what waits, and what could not be done of late; the next first. */
export const PlannedReleases = Type.Array(
  Shape({
    id: Id,
    assessment: Id,
    /** How many; null: everybody who is in the book then. */
    students: Maybe(Version),
    parts: ReleaseParts,
    /** Null: when all are done. */
    at: Maybe(Moment),
    by: Type.String(),
    /** Why it could not be done; '': it waits. */
    fault: Type.String(),
  }),
);
export type PlannedReleases = Static<typeof PlannedReleases>;
