import { Type } from '@sinclair/typebox';
import { INKS, MARK_KINDS, MOST, SURFACES } from '@core/marks/work-mark';
import { Choice, Id, Maybe, Moment, Shape, Version, type Static } from '../wire';

const Fraction = Type.Number({ minimum: 0, maximum: 1 });
/** Down a surface, in its widths. */
const Down = Type.Number({ minimum: 0, maximum: 5_000 });
const Words = Type.String({ maxLength: MOST.comment });
const Context = Type.String({ maxLength: MOST.context });
const Place = Type.Integer({ minimum: 0, maximum: 100_000_000 });

/** A mark on a piece of work. Its meaning: core/marks/work-mark. */
export const Mark = Shape({
  kind: Choice(...MARK_KINDS),
  ink: Choice(...INKS),
  surface: Shape({ on: Choice(...SURFACES), index: Type.Integer({ minimum: 0, maximum: MOST.index }) }),
  comment: Words,
  wording: Type.Optional(Words),
  quote: Type.Optional(
    Shape({
      ...{ exact: Type.String({ minLength: 1, maxLength: MOST.quote }), prefix: Context, suffix: Context },
      ...{ start: Place, end: Place },
    }),
  ),
  boxes: Type.Optional(Type.Array(Type.Tuple([Fraction, Down, Fraction, Down]), { maxItems: MOST.boxes })),
  at: Type.Optional(Type.Tuple([Fraction, Down])),
  strokes: Type.Optional(
    Type.Array(Type.Array(Type.Tuple([Fraction, Down, Fraction]), { maxItems: MOST.points }), { maxItems: MOST.strokes }), // prettier-ignore
  ),
});
export type Mark = Static<typeof Mark>;

/** A file of the submission by its id, or "typed" for what was typed. */
export const Leaf = Id;

export const WorkMarkRow = Shape({
  id: Id,
  version: Version,
  leaf: Leaf,
  /** Null: it was taken off; of those that are on it, it cannot be read any more. */
  mark: Maybe(Mark),
  by: Type.String(),
  /** The reader made it. */
  mine: Type.Boolean(),
  at: Moment,
});
export type WorkMarkRow = Static<typeof WorkMarkRow>;

/** GET /books/{book}/submissions/{submission}/marks: all that are on it, the oldest first. */
export const WorkMarks = Type.Array(WorkMarkRow);
export type WorkMarks = Static<typeof WorkMarks>;

/** PUT …/marks/{mark}. Version 0: a new one, whose id the writer makes. No mark: it is taken off. The same may come again. */
export const WorkMarkWrite = Shape({ version: Version, leaf: Leaf, mark: Maybe(Mark) });
export type WorkMarkWrite = Static<typeof WorkMarkWrite>;

/** GET …/annotations: the marks as a W3C annotation page, JSON-LD (docs/formats/marks.md). */
export const AnnotationPage = Shape({
  '@context': Type.String(),
  id: Type.String(),
  type: Type.Literal('AnnotationPage'),
  startIndex: Version,
  items: Type.Array(Type.Object({}, { additionalProperties: true })),
});
export type AnnotationPage = Static<typeof AnnotationPage>;

/** POST …/annotations: the text of such a page, or of one annotation or a list of them. It may be sent again. */
export const AnnotationsWrite = Shape({
  /** What they lie on where they do not say it by an address of this submission. */
  leaf: Leaf,
  text: Type.String({ minLength: 1, maxLength: 4_000_000 }),
});
export type AnnotationsWrite = Static<typeof AnnotationsWrite>;

export const AnnotationsBrought = Shape({
  brought: Version,
  /** Here already, as they are in what was brought. */
  same: Version,
  /** Left out, each with why. */
  leftOut: Type.Array(Shape({ number: Version, why: Type.String() })),
});
export type AnnotationsBrought = Static<typeof AnnotationsBrought>;
