import { Type } from '@sinclair/typebox';
import type { Item } from '@core/book/document';
import { WorkSettings } from './work/submissions';
import { Amount, Choice, Id, Maybe, Moment, Operation, Reason, Shape, Title, Version, type Static } from './wire';
const More = Type.Unsafe<Partial<Item>>({ type: 'object' });

/** An assessment whole, as its page shows it. */
export const AssessmentWhole = Shape({
  id: Id,
  title: Title,
  category: Id,
  points: Amount,
  due: Maybe(Moment),
  closes: Maybe(Moment),
  takesWork: Type.Boolean(),
  work: WorkSettings,
  shown: Type.Boolean(),
  /** Further keys of the contract's item. */
  more: More,
  version: Version,
  archived: Type.Boolean(),
  /** Cells that hold a score, and cells that students see. */
  scored: Version,
  released: Version,
});
export type AssessmentWhole = Static<typeof AssessmentWhole>;
/** GET /books/{book}/assessments: all, those put away too, in book order. */
export const AssessmentList = Type.Array(AssessmentWhole);
export type AssessmentList = Static<typeof AssessmentList>;

/**
 * PATCH /books/{book}/assessments/{assessment}: what is left out stays. Where points change and there are scores,
 * `scores` says what becomes of them: their points stay, or their percentages.
 */
export const AssessmentWrite = Shape({
  operation: Operation,
  version: Version,
  title: Type.Optional(Title),
  category: Type.Optional(Id),
  points: Type.Optional(Amount),
  due: Type.Optional(Maybe(Moment)),
  closes: Type.Optional(Maybe(Moment)),
  takesWork: Type.Optional(Type.Boolean()),
  work: Type.Optional(WorkSettings),
  shown: Type.Optional(Type.Boolean()),
  more: Type.Optional(More),
  archived: Type.Optional(Type.Boolean()),
  scores: Type.Optional(Choice('keep-points', 'keep-percentages')),
  reason: Reason,
  /** Words for the students who have a score; null: nobody is told. */
  tell: Maybe(Type.String({ minLength: 1, maxLength: 500 })),
});
export type AssessmentWrite = Static<typeof AssessmentWrite>;
export const AssessmentMade = Shape({ assessment: AssessmentWhole, cells: Version, told: Version, seq: Version });
export type AssessmentMade = Static<typeof AssessmentMade>;
/** POST /books/{book}/assessments/{assessment}/show-names. */
export const NamesShown = Shape({ operation: Operation });
/** DELETE: only where nobody ever had anything on it. */
export const AssessmentGone = Shape({ operation: Operation, version: Version });

/** PUT /books/{book}/assessment-order: all assessments of the book that are not put away, and where some go. */
export const OrderWrite = Shape({
  operation: Operation,
  order: Type.Array(Id, { maxItems: 2_000 }),
  moves: Type.Array(Shape({ assessment: Id, version: Version, category: Id }), { maxItems: 2_000 }),
});
export type OrderWrite = Static<typeof OrderWrite>;

/** POST /books/{book}/assessments/{assessment}/copies. Dates go along where `dates`. */
export const CopyWrite = Shape({ operation: Operation, book: Id, category: Id, dates: Type.Boolean() });
export type CopyWrite = Static<typeof CopyWrite>;
export const Copied = Shape({ id: Id, left: Type.Array(Type.String()) });
export type Copied = Static<typeof Copied>;

/** An assessment that a person makes again and again, without its dates. */
export const TemplateBody = Shape({
  points: Amount,
  takesWork: Type.Boolean(),
  work: Type.Optional(WorkSettings),
  category: Type.String(),
  more: More,
});
export const Template = Shape({ id: Id, title: Title, body: TemplateBody });
export type Template = Static<typeof Template>;
export const Templates = Type.Array(Template);
export const TemplateWrite = Shape({ title: Title, body: TemplateBody });

export const NewAssessment = Shape({
  operation: Operation,
  id: Id,
  title: Title,
  category: Id,
  points: Amount,
  due: Maybe(Moment),
  closes: Maybe(Moment),
  takesWork: Type.Boolean(),
  work: Type.Optional(WorkSettings),
  more: Type.Unsafe<Record<string, unknown>>({ type: 'object' }),
});
export type NewAssessment = Static<typeof NewAssessment>;
