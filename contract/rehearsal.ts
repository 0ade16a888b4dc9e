import { Type } from '@sinclair/typebox';
import type { StudentResult } from '@core/book/document';
import { EntrySchema } from './entries';
import { MyBook } from './pages';
import { Id, Maybe, Moment, Shape, type Static } from './wire';

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
  page: MyBook,
  /** What staff would read of them in the ledger (contract, section 9). */
  ledger: Type.Unsafe<StudentResult>({ type: 'object' }),
});
export type Rehearsal = Static<typeof Rehearsal>;
