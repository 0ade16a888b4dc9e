import { Type } from '@sinclair/typebox';
import type { Line } from '@core/working/sentences';
import { UnansweredQuestion } from './work/threads';
import { BookAddress, Id, Maybe, Moment, Shape, Title, Version, type Static } from './wire';

/** How many students stand where with one assessment; the order is that of the tick rail. */
export const Ticks = Shape({
  released: Version,
  draft: Version,
  excused: Version,
  toMark: Version,
  missing: Version,
  nothing: Version,
});
export type Ticks = Static<typeof Ticks>;

/** The book cannot be read as it is kept: the numbers beside say nothing. */
const IsFaulty = Type.Boolean();
export const DeskBook = Shape({
  id: Id,
  title: Title,
  students: Version,
  sections: Type.Array(Type.String()),
  with: Type.Array(Type.String()),
  /** Percent of the weight that is marked, 0 to 100, whole. */
  marked: Version,
  faulty: IsFaulty,
});
export const DeskLine = Shape({
  book: Id,
  bookTitle: Title,
  assessment: Id,
  title: Title,
  due: Maybe(Moment),
  count: Version,
  ticks: Ticks,
  /** Since when the longest waits, and whose it is. */
  since: Maybe(Moment),
  whose: Maybe(Type.String()),
});
export type DeskLine = Static<typeof DeskLine>;
/** A cell, or a student as a whole, that the person marked for a second look. */
export const DeskSecondLook = Shape({
  book: BookAddress,
  bookTitle: Title,
  enrolment: Id,
  assessment: Maybe(Id),
  message: Type.String(),
  note: Type.String(),
});
/** A student's files that broke off before all of them was here. */
export const DeskBroken = Shape({
  book: BookAddress,
  bookTitle: Title,
  assessment: Id,
  title: Title,
  enrolment: Id,
  whose: Type.String(),
  files: Version,
  /** Percent of the announced bytes that are here, whole. */
  share: Version,
  since: Moment,
});
/** Cells of a book that others changed since the person was last in it, and students to whom the calculation, changed since, gives another figure. */
export const DeskNews = Shape({ book: Id, bookTitle: Title, count: Version, recalculated: Version, since: Moment });
export type DeskNews = Static<typeof DeskNews>;
/** Pieces of work by the week they came in, and of those to come, how many are due: weeks by their Monday. */
export const DeskWeek = Shape({ monday: Type.String({ format: 'date' }), came: Version, toCome: Version });
export type DeskWeek = Static<typeof DeskWeek>;

export const Desk = Shape({
  asOf: Moment,
  timeZone: Type.String(),
  term: Maybe(Title),
  toMark: Type.Array(DeskLine),
  toRelease: Type.Array(DeskLine),
  /** The first of those, and how many there are in all. */
  secondLooks: Type.Array(DeskSecondLook),
  secondLooksInAll: Version,
  /** Questions that wait for an answer, and files that broke off, the longest first. */
  questions: Type.Array(UnansweredQuestion),
  broken: Type.Array(DeskBroken),
  news: Type.Array(DeskNews),
  weeks: Type.Array(DeskWeek),
  books: Type.Array(DeskBook),
  soon: Type.Array(Shape({ at: Moment, message: Type.String() })),
});
export type Desk = Static<typeof Desk>;

export const Office = Shape({
  term: Maybe(Title),
  books: Type.Array(
    Shape({
      id: Id,
      title: Title,
      teachers: Type.Array(Type.String()),
      students: Version,
      assessments: Version,
      /** Percent of the weight that is marked, 0 to 100, whole. */
      marked: Version,
      faulty: IsFaulty,
      toMark: Version,
      drafts: Version,
      lastChange: Maybe(Moment),
      ticks: Ticks,
    }),
  ),
});
export type Office = Static<typeof Office>;
export const LineSchema = Shape({
  label: Type.String(),
  detail: Type.String(),
  figure: Type.String(),
  tone: Type.Unsafe<Line['tone']>({ type: 'string', enum: ['plain', 'cost', 'sum', 'quiet'] }),
});
