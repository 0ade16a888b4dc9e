import { Type } from '@sinclair/typebox';
import type { Rubric as RubricValue } from '@core/rubric/document';
import { FEEDBACK_PURPOSES } from './work/feedback';
import { RichText } from './work/instructions';
import { CriterionMark, Rubric } from './work/marking';
import { Leaf, Mark } from './work/marks';
import { Choice, Id, Maybe, Moment, Operation, Shape, Title, Version, type Static } from './wire';

/** What can be released of one assessment, each alone or together. */
export const RELEASE_PARTS = ['score', 'rubric', 'feedback'] as const;
export const ReleasePart = Choice(...RELEASE_PARTS);
export type ReleasePart = Static<typeof ReleasePart>;
/** Some of them, each once. */
export const ReleaseParts = Type.Array(ReleasePart, { minItems: 1, maxItems: 3, uniqueItems: true });

/** A recording or a file that is given back. */
export const SlipFile = Shape({
  id: Id,
  name: Type.String(),
  bytes: Version,
  sha256: Type.String(),
  mediaType: Maybe(Type.String()),
  purpose: Choice(...FEEDBACK_PURPOSES.filter((p) => p !== 'staff')),
  seconds: Maybe(Type.Number()),
  waveform: Type.Array(Type.Integer()),
});
export type SlipFile = Static<typeof SlipFile>;

export const SlipMark = Shape({ id: Id, leaf: Leaf, mark: Mark, by: Type.String() });
export type SlipMark = Static<typeof SlipMark>;

/** What was said of one piece of work. */
export const SlipWork = Shape({
  work: Id,
  /** Counted from 1. */
  attempt: Version,
  receivedAt: Maybe(Moment),
  /** Who wrote, marked or gave something. */
  by: Type.Array(Type.String()),
  note: Maybe(RichText),
  marks: Type.Array(SlipMark),
  files: Type.Array(SlipFile),
});
export type SlipWork = Static<typeof SlipWork>;

/** What one piece of work was given, by criterion. */
export const SlipLevels = Shape({
  work: Id,
  attempt: Version,
  by: Type.Array(Type.String()),
  marks: Type.Array(Shape({ criterion: Id, mark: CriterionMark })),
});
export type SlipLevels = Static<typeof SlipLevels>;

/** The rubric as it is released: canonical text of this. */
export const ReleasedRubric = Shape({
  rubric: Rubric,
  works: Type.Array(SlipLevels),
  /** Who marked it is not said: nobody is named. */
  markersHidden: Type.Optional(Type.Literal(true)),
});
export interface ReleasedRubric {
  rubric: RubricValue;
  works: SlipLevels[];
  markersHidden?: true;
}

/** Feedback as it is released: canonical text of this. `everybody`: files that all of the assessment get. */
export const ReleasedFeedback = Shape({
  works: Type.Array(SlipWork),
  everybody: Type.Array(SlipFile),
  markersHidden: Type.Optional(Type.Literal(true)),
});
export type ReleasedFeedback = Static<typeof ReleasedFeedback>;

/** GET /my/books/{book}/slips/{assessment}: what came back beside the score. Of each part null: it is not released. */
export const Slip = Shape({
  book: Id,
  assessment: Id,
  title: Title,
  timeZone: Type.String(),
  /** The last release of any part, the score too; null: nothing is released. */
  releasedAt: Maybe(Moment),
  /** '' where markers are hidden. */
  releasedBy: Type.String(),
  /** It was not opened since. */
  fresh: Type.Boolean(),
  rubric: Maybe(ReleasedRubric),
  feedback: Maybe(ReleasedFeedback),
  /** What was said to everybody whom it was released to; '' nothing. */
  comment: Type.String(),
});
export type Slip = Static<typeof Slip>;

/** POST …/traces: the student opened it, or played a recording. The same may come again. */
export const SlipTrace = Shape({ kind: Choice('opened', 'played'), file: Type.Optional(Id) });
export type SlipTrace = Static<typeof SlipTrace>;

/** POST /books/{book}/assessments/{assessment}/tell-again: those of them who have not opened it are told once more. */
export const TellAgainWrite = Shape({
  operation: Operation,
  enrolments: Type.Array(Id, { minItems: 1, maxItems: 200_000 }),
});
export type TellAgainWrite = Static<typeof TellAgainWrite>;
export const ToldAgain = Shape({ people: Version });
export type ToldAgain = Static<typeof ToldAgain>;

/** none: there is nothing of it; draft: only staff see it; changed: students see an earlier form. */
export const PartState = Choice('none', 'draft', 'released', 'changed');
export type PartState = Static<typeof PartState>;

const Digest = Type.String({ pattern: '^[0-9a-f]{16}$' });
/** What would be released of each part, by a digest of it: what whoever releases has looked at. */
export const SlipDigests = Shape({ score: Digest, rubric: Digest, feedback: Digest });
export type SlipDigests = Static<typeof SlipDigests>;
export const SeenSlip = Shape({ enrolment: Id, ...SlipDigests.properties });
export type SeenSlip = Static<typeof SeenSlip>;

/** What looks unfinished about a slip. */
export const UNFINISHED = ['no-feedback', 'criteria', 'waiting', 'second-look', 'writing'] as const;
export const Unfinished = Choice(...UNFINISHED);
export type Unfinished = Static<typeof Unfinished>;

/** Where the slip of one student stands. */
export const SlipState = Shape({
  enrolment: Id,
  score: PartState,
  rubric: PartState,
  feedback: PartState,
  now: SlipDigests,
  /** In the order of {@link UNFINISHED}. */
  unfinished: Type.Array(Unfinished),
  /** Of any part, the last; null: nothing is released. */
  releasedAt: Maybe(Moment),
  /** When they were told of it, and their mail went; null: not, or not yet. */
  told: Maybe(Moment),
  mailed: Maybe(Moment),
  /** When they first did since. */
  opened: Maybe(Moment),
  played: Maybe(Moment),
  fetched: Maybe(Moment),
});
export type SlipState = Static<typeof SlipState>;

/** GET /books/{book}/assessments/{assessment}/slips: where everybody's slip stands. */
export const SlipStates = Shape({ rubric: Type.Boolean(), students: Type.Array(SlipState) });
export type SlipStates = Static<typeof SlipStates>;
