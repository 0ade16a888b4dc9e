import { Type } from '@sinclair/typebox';
import type { BookDocument, StudentResult } from '@core/book/document';
import { EntrySchema } from './scores';
import { Choice, Id, Maybe, Moment, Shape, type Static, Operation, Version, Amount, Title } from './wire';
import { Standing } from './books';
import type { Line } from '@core/working/sentences';
import type { SlipSum } from '@core/working/slip-sum';
import { LineSchema } from './overview';
import { ReleaseParts, SeenSlip } from './slips';

/** One assessment, to these students. `seen`: as it was looked at; where something is another by now, nothing is released. */
const AlsoReleased = Shape({
  assessment: Id,
  enrolments: Type.Array(Id, { minItems: 1, maxItems: 200_000 }),
  seen: Type.Optional(Type.Array(SeenSlip, { maxItems: 200_000 })),
});
/** Assessments that may go together. */
const MOST_TOGETHER = 200;

/** POST /books/{book}/release. `enrolments` null: everybody in the book. */
export const ReleaseWrite = Shape({
  operation: Operation,
  assessment: Id,
  enrolments: Maybe(Type.Array(Id, { minItems: 1, maxItems: 200_000 })),
  /** Move the released rules of these students to today's. */
  moveRules: Type.Boolean(),
  /** Why the rules are others, for those whose standing they move. */
  tell: Type.Optional(Type.String({ maxLength: 500 })),
  /** As it was looked at: where something of it is another by now, nothing is released. Left out: as it stands. */
  seen: Type.Optional(Type.Array(SeenSlip, { maxItems: 200_000 })),
  /** Left out: all that there is. */
  parts: Type.Optional(ReleaseParts),
  /** Said to everybody of it, with the feedback; left out: what was said before stays. */
  comment: Type.Optional(Type.String({ maxLength: 2_000 })),
  /** Other assessments that go with it, all or none; of each no more than there is. */
  also: Type.Optional(Type.Array(AlsoReleased, { maxItems: MOST_TOGETHER })),
});
export type ReleaseWrite = Static<typeof ReleaseWrite>;

/** POST /books/{book}/release/preview: whose standing it would change, and whose by the rules alone. */
export const ReleasePreviewWrite = Shape({
  assessment: Id,
  enrolments: Maybe(Type.Array(Id, { minItems: 1, maxItems: 200_000 })),
  moveRules: Type.Boolean(),
  also: Type.Optional(
    Type.Array(Shape({ assessment: Id, enrolments: Type.Array(Id, { minItems: 1, maxItems: 200_000 }) }), {
      maxItems: MOST_TOGETHER,
    }),
  ),
});
export type ReleasePreviewWrite = Static<typeof ReleasePreviewWrite>;

export const ReleasePreview = Shape({
  lines: Type.Array(Shape({ enrolment: Id, before: Standing, after: Standing, byRules: Type.Boolean() })),
  /** Why the rules were changed since the oldest of their releases. */
  reasons: Type.Array(Type.String()),
});
export type ReleasePreview = Static<typeof ReleasePreview>;

/** POST /books/{book}/withdraw. */
export const WithdrawWrite = Shape({
  operation: Operation,
  assessment: Id,
  enrolments: Maybe(Type.Array(Id, { minItems: 1 })),
  /** Left out: all of it. */
  parts: Type.Optional(ReleaseParts),
  /** Other assessments that are hidden with it. */
  also: Type.Optional(
    Type.Array(Shape({ assessment: Id, enrolments: Type.Array(Id, { minItems: 1 }) }), { maxItems: MOST_TOGETHER }),
  ),
});
export type WithdrawWrite = Static<typeof WithdrawWrite>;

export const Released = Shape({ people: Version, seq: Version });
export type Released = Static<typeof Released>;

/** One assessment of a statement. Earlier statements say nothing of `sum` and `receivedAt`. */
export interface StatementItem {
  id: string;
  title: string;
  points: number;
  released: { at: string; by: string } | null;
  lines: Line[];
  /** How the score came about as a sum; left out where no one attempt makes it. */
  sum?: SlipSum;
  /** When the attempt that counts came in, where that is known. */
  receivedAt?: string;
}

/** What a student gets: written down at release (contract, section 11), never worked out on the way out. */
export interface StatementBody {
  asOf: string;
  /** Which calculation worked it out; not there: the first. */
  info?: { calculation: number };
  /** What is written behind the figure on the scale that the book shows grades on once more. */
  shownLabel?: string;
  result: StudentResult;
  timeZone: string;
  items: StatementItem[];
  standing: Line[];
  scale: { label: string; from: number }[];
}

/** `left`: they are not in it any more, and read what came back and what they handed in. */
export const StudentBooks = Type.Array(
  Shape({ book: Id, title: Title, term: Title, released: Version, left: Type.Boolean() }),
);
export type StudentBooks = Static<typeof StudentBooks>;

/**
 * GET /my/books/{book}/document: what is released to the student who asks, as a book document with them alone in it; null
 * where they see no standing. `titles`: of its assessments and categories, by id.
 */
export const OwnDocument = Shape({
  document: Maybe(Type.Unsafe<BookDocument>({ type: 'object' })),
  titles: Type.Record(Type.String(), Type.String()),
});
export type OwnDocument = Static<typeof OwnDocument>;

const Fraction = Type.String({ pattern: '^\\d+(/[1-9]\\d*)?$' });
/** The sum of core/working/slip-sum. */
const SlipSumSchema = Type.Unsafe<SlipSum>(
  Shape({
    attempt: Version,
    attempts: Version,
    marked: Fraction,
    terms: Type.Array(
      Shape({
        what: Choice('curve', 'late', 'cap'),
        sign: Choice('+', '-'),
        points: Fraction,
        units: Maybe(Type.Number()),
        unit: Maybe(Choice('hour', 'day')),
      }),
    ),
    counts: Fraction,
  }),
);

export const StudentBook = Shape({
  book: Id,
  title: Title,
  timeZone: Type.String(),
  asOf: Moment,
  /** Shown where the teacher shows it, as of the last release; null otherwise. */
  standing: Maybe(
    Shape({
      percent: Maybe(Type.String()),
      letter: Maybe(Type.String()),
      low: Maybe(Type.String()),
      high: Maybe(Type.String()),
      /** The percentage on the scale that the book shows it on once more, with what is written behind it. */
      shown: Maybe(Type.String()),
      asOf: Moment,
      lines: Type.Array(LineSchema),
      scale: Type.Array(Shape({ label: Type.String(), from: Amount })),
    }),
  ),
  work: Type.Array(
    Shape({
      id: Id,
      title: Title,
      /** As released; null where nothing that says it was released to this student yet. */
      points: Maybe(Amount),
      due: Maybe(Moment),
      state: Type.String(),
      score: Maybe(
        Shape({
          earned: Maybe(Type.String()),
          dropped: Type.Boolean(),
          releasedAt: Moment,
          releasedBy: Type.String(),
          lines: Type.Array(LineSchema),
          sum: Maybe(SlipSumSchema),
          receivedAt: Maybe(Moment),
        }),
      ),
      /** Rubric or feedback came back. */
      feedback: Type.Boolean(),
      /** Something was released since they opened it last. */
      fresh: Type.Boolean(),
    }),
  ),
});
export type StudentBook = Static<typeof StudentBook>;

/** PUT /books/{book}/rehearsal: a made-up student. What they have stands nowhere else, and counts nowhere. */
export const RehearsalWrite = Shape({
  /** The moment at which the book is looked at; null: now. */
  asOf: Maybe(Moment),
  section: Maybe(Id),
  /** Hours that every due date moves for them. */
  extraTimeHours: Type.Number({ minimum: 0, maximum: 10_000, 'x-decimals': 4 }),
  cells: Type.Array(Shape({ assessment: Id, entry: EntrySchema, released: Type.Boolean() }), { maxItems: 2000 }),
});
export type RehearsalWrite = Static<typeof RehearsalWrite>;

export const Rehearsal = Shape({
  write: RehearsalWrite,
  /** What the student would read. */
  page: StudentBook,
  /** What staff would read of them in the ledger (contract, section 9). */
  ledger: Type.Unsafe<StudentResult>({ type: 'object' }),
});
export type Rehearsal = Static<typeof Rehearsal>;
