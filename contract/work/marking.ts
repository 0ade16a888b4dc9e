import { Type } from '@sinclair/typebox';
import { MOST_CRITERIA, MOST_LEVELS, type Rubric as RubricValue } from '@core/rubric/document';
import { EntryState } from '../scores';
import { Amount, Choice, Id, Maybe, Moment, Operation, Shape, Title, Version, type Static } from '../wire';

const Words = Type.String({ maxLength: 1_000 });

/** The rubric of core/rubric/document.ts as it crosses the wire; what its parts must be together the core says. */
export const Rubric = Type.Unsafe<RubricValue>(
  Shape({
    by: Choice('points', 'weights'),
    scaled: Type.Optional(Type.Boolean()),
    criteria: Type.Array(
      Shape({
        id: Id,
        title: Title,
        words: Type.Optional(Words),
        stands: Choice('counts', 'bonus', 'shown'),
        levels: Type.Array(Shape({ id: Id, points: Amount, words: Words }), { maxItems: MOST_LEVELS }),
        weight: Type.Optional(Amount),
        step: Type.Optional(Amount),
      }),
      { maxItems: MOST_CRITERIA },
    ),
  }),
);

/** What an assessment is marked by. Version 0: nothing yet; no rubric in a later one: it was taken off. */
export const RubricState = Shape({
  version: Version,
  rubric: Maybe(Rubric),
  by: Type.String(),
  at: Maybe(Moment),
});
export type RubricState = Static<typeof RubricState>;

/** GET /books/{book}/assessments/{assessment}/rubric: with its earlier versions, the latest first. */
export const RubricPage = Shape({ now: RubricState, earlier: Type.Array(RubricState) });
export type RubricPage = Static<typeof RubricPage>;

/** GET /rubrics: those of the assessments in the books that one works in, to be copied. */
export const RubricChoices = Type.Array(
  Shape({ book: Id, bookTitle: Type.String(), assessment: Id, title: Type.String() }),
);
export type RubricChoices = Static<typeof RubricChoices>;

/** PUT /books/{book}/assessments/{assessment}/rubric. `trial`: what was shown to move, where something does. */
export const RubricWrite = Shape({
  operation: Operation,
  version: Version,
  rubric: Maybe(Rubric),
  trial: Type.Optional(Type.String({ pattern: '^[0-9a-f]{64}$' })),
});
export type RubricWrite = Static<typeof RubricWrite>;

export const RubricTrialAsk = Shape({ rubric: Maybe(Rubric) });

/** What a change of the rubric would do to one piece of work. */
export const RubricMove = Shape({
  enrolment: Id,
  work: Id,
  /** The score that stands, and the one that the levels would make; equal where it does not move. */
  from: Maybe(Amount),
  to: Maybe(Amount),
  /** A score was typed in the place of the sum: it stays as it is. */
  held: Type.Boolean(),
  released: Type.Boolean(),
  /** Criteria whose points or words are not what they were when it was marked. */
  criteria: Type.Array(Id),
  /** Of those, whose level is there no more. */
  gone: Type.Array(Id),
});
export type RubricMove = Static<typeof RubricMove>;

/** POST /books/{book}/assessments/{assessment}/rubric/trial. */
export const RubricTrial = Shape({ trial: Type.String(), moves: Type.Array(RubricMove) });
export type RubricTrial = Static<typeof RubricTrial>;

/** What a criterion is given. */
export const CriterionMark = Type.Union([Shape({ points: Amount }), Shape({ leftOut: Type.Literal(true) })]);

export const CriterionMarkState = Shape({
  criterion: Id,
  version: Version,
  mark: Maybe(CriterionMark),
  by: Type.String(),
  at: Moment,
});
export type CriterionMarkState = Static<typeof CriterionMarkState>;

/** What one piece of work was given: each criterion has a version of its own, so that two people can mark it together. */
export const LevelDraft = Shape({
  assessment: Id,
  enrolment: Id,
  work: Id,
  rubric: Version,
  marks: Type.Array(CriterionMarkState),
});
export type LevelDraft = Static<typeof LevelDraft>;

/** GET /books/{book}/assessments/{assessment}/marking: what everybody's work was given so far. */
export const Marking = Shape({
  rubric: RubricState,
  /** By student: the piece of work that a score is for now. */
  works: Type.Array(Shape({ enrolment: Id, work: Id })),
  drafts: Type.Array(LevelDraft),
});
export type Marking = Static<typeof Marking>;

/**
 * PUT /books/{book}/levels/{assessment}/{enrolment}: gives criteria, with the score that follows. `sum` where a score stands
 * that the levels did not make: the levels' sum takes its place, or it stays; asked for with the cell's version.
 */
export const LevelsWrite = Shape({
  operation: Operation,
  work: Id,
  rubric: Version,
  marks: Type.Array(Shape({ criterion: Id, version: Version, mark: Maybe(CriterionMark) }), {
    maxItems: MOST_CRITERIA,
  }),
  sum: Type.Optional(Choice('follow', 'keep')),
  cell: Version,
});
export type LevelsWrite = Static<typeof LevelsWrite>;

export const LevelsMade = Shape({ draft: LevelDraft, cell: EntryState });
export type LevelsMade = Static<typeof LevelsMade>;
