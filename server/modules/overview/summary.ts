import { counted } from '@core/words/count';
import { cellKeyOf } from '../../kernel/cells/cell';
import type { ItemState } from '@core/book/document';
import { compileBook } from '@core/calculation/compile';
import { entryAt } from '@core/calculation/entries-by-item';
import { valuesOf } from '@core/calculation/value';
import { markedShare } from '@core/statistics/progress';
import { noTicks, tickOf, type TickCounts } from '@core/statistics/ticks';
import { DAY, localDay } from '@core/time/local-days';
import type { Desk, DeskLine, DeskWeek, Office } from '@contract/overview';
import {
  booksOfSchool,
  booksOfStaff,
  sectionsOf,
  staffOf,
  type BookRow,
  assemble,
  momentOf,
  type AssembledBook,
} from '../books';
import type { Db } from '../../kernel/database';
import { changedBefore, lastChange } from '../../kernel/journal/sql/lines';
import { personName } from '../accounts';
import { secondLooksOf } from '../annotations';
import { newsFor } from '../presence';

interface AssessmentSummary {
  id: string;
  title: string;
  due: string | null;
  ticks: TickCounts;
  /** The work that has waited longest to be marked. */
  oldest: { at: string; whose: string } | null;
}

interface BookSummary {
  assembled: AssembledBook;
  assessments: AssessmentSummary[];
  marked: number;
  ticks: TickCounts;
  ownDates: { at: string; message: string }[];
  /** Days since 1970 in the book's time zone on which pieces came in, and on which those still open are due. */
  drafts: { assessment: string; enrolment: string }[];
  came: Map<number, number>;
  toCome: Map<number, number>;
}

/** Where everything stands in a book, worked out by the core: states are never decided in SQL. */
async function summarise(db: Db, book: BookRow): Promise<BookSummary> {
  const assembled = await assemble(db, book.school, book.id);
  const compiled = compileBook(assembled.document);
  const out = new Map(assembled.cells.map((c) => [cellKeyOf(c), c.releaseState]));
  const titles = new Map(assembled.assessments.map((a) => [a.id, a]));
  const byId = new Map(
    compiled.items.map((item): [string, AssessmentSummary] => [
      item.id,
      { id: item.id, title: titles.get(item.id)!.title, due: titles.get(item.id)!.due, ticks: noTicks(), oldest: null },
    ]),
  );
  const whole = noTicks();
  const ownDates: BookSummary['ownDates'] = [];
  const drafts: BookSummary['drafts'] = [];
  const came = new Map<number, number>();
  const toCome = new Map<number, number>();
  const dayOf = daysOf(assembled.row.timeZone);
  const count = (days: Map<number, number>, at: string): void => {
    const day = dayOf(at);
    days.set(day, (days.get(day) ?? 0) + 1);
  };
  const values = assembled.students.map((student, s) => {
    const own = valuesOf(compiled, s);
    compiled.items.forEach((item) => {
      const entry = entryAt(compiled, s, item.index);
      const value = own[item.index]!;
      const summary = byId.get(item.id)!;
      const tick = tickOf(value.state, out.get(`${item.id} ${student.id}`) ?? 0);
      summary.ticks[tick]++;
      whole[tick]++;
      if (tick === 'draft') drafts.push({ assessment: item.id, enrolment: student.id });
      if (tick === 'toMark')
        noteOldest(summary, entry?.attempts?.find((a) => a.receivedAt)?.receivedAt, student.family);
      for (const a of entry?.attempts ?? []) if (a.receivedAt) count(came, a.receivedAt);
      const due = entry?.dueAt ?? summary.due;
      if (due && isOpen(value.state) && due > assembled.document.asOf) count(toCome, due);
      if (entry?.dueAt && isOpen(value.state) && entry.dueAt > assembled.document.asOf)
        ownDates.push({ at: entry.dueAt, message: `${student.family}’s extension ends, ${summary.title}` });
    });
    return own;
  });
  return {
    assembled,
    assessments: [...byId.values()],
    marked: Math.round(100 * markedShare(compiled, values)),
    ticks: whole,
    ownDates,
    drafts,
    came,
    toCome,
  };
}

/** The local day of a moment. Work comes in by the thousand, on few different hours. */
function daysOf(zone: string): (at: string) => number {
  const known = new Map<string, number>();
  return (at) => {
    const hour = at.slice(0, 13);
    let day = known.get(hour);
    if (day === undefined) known.set(hour, (day = localDay(zone, Date.parse(at))));
    return day;
  };
}

const isOpen = (state: ItemState): boolean => state === 'blank' || state === 'awaiting';

function noteOldest(summary: AssessmentSummary, at: string | undefined, whose: string): void {
  if (at && (summary.oldest === null || at < summary.oldest.at)) summary.oldest = { at, whose };
}

/** The first page of a teacher: what waits, by book, the most urgent first. */
export async function deskOf(db: Db, school: string, person: string): Promise<Desk> {
  const books = await booksOfStaff(db, school, person);
  const asOf = await momentOf(db, school);
  const flags = await secondLooksOf(db, school, person);
  const summaries: BookSummary[] = [];
  for (const book of books) summaries.push(await summarise(db, book));
  const drafted = new Map<string, ReadonlyMap<string, string>>();
  for (const { assembled, drafts } of summaries)
    drafted.set(assembled.row.id, await changedBefore(db, school, assembled.row.id, drafts));
  const lines = (pick: 'toMark' | 'draft'): DeskLine[] =>
    summaries.flatMap(({ assembled, assessments }) =>
      assessments
        .filter((a) => a.ticks[pick] > 0)
        .map((a) => ({
          book: assembled.row.id,
          bookTitle: assembled.row.title,
          assessment: a.id,
          title: a.title,
          due: a.due,
          count: a.ticks[pick],
          ticks: a.ticks,
          since: pick === 'toMark' ? (a.oldest?.at ?? null) : (drafted.get(assembled.row.id)?.get(a.id) ?? null),
          whose: pick === 'toMark' ? (a.oldest?.whose ?? null) : null,
        })),
    );
  const deskBooks: Desk['books'] = [];
  // One after the other: they are read on the one connection that sees one moment.
  for (const { assembled, marked } of summaries) {
    const { id, title } = assembled.row;
    deskBooks.push({
      id,
      title,
      students: assembled.students.length,
      sections: (await sectionsOf(db, school, id)).map((s) => s.title),
      with: (await staffOf(db, school, id)).filter((s) => s.person !== person).map((s) => personName(s)),
      marked,
    });
  }
  return {
    asOf,
    timeZone: summaries[0]?.assembled.row.timeZone ?? 'UTC',
    term: books[0]?.term ?? null,
    toMark: lines('toMark').sort((a, b) => (a.since ?? '9').localeCompare(b.since ?? '9')),
    toRelease: lines('draft').sort((a, b) => (a.due ?? '9').localeCompare(b.due ?? '9')),
    secondLooksInAll: flags[0]?.inAll ?? 0,
    secondLooks: flags.map(({ family, given, title, inAll: _, ...f }) => ({
      ...f,
      message: `${given ? `${family}, ${given}` : family}${title ? ` · ${title}` : ''}`,
    })),
    news: await newsFor(db, school, person),
    weeks: weeksOf(summaries),
    books: deskBooks,
    soon: soon(summaries, asOf),
  };
}

/** 1970-01-01 was a Thursday: the Monday on or before a day. */
const mondayOf = (day: number): number => day - ((((day + 3) % 7) + 7) % 7);

/** Every week from the first piece that came in to the last that is to come. */
function weeksOf(summaries: BookSummary[]): DeskWeek[] {
  const weeks = new Map<number, { came: number; toCome: number }>();
  for (const s of summaries)
    for (const kind of ['came', 'toCome'] as const)
      for (const [day, n] of s[kind]) {
        const monday = mondayOf(day);
        const week = weeks.get(monday) ?? { came: 0, toCome: 0 };
        week[kind] += n;
        weeks.set(monday, week);
      }
  const mondays = [...weeks.keys()].sort((a, b) => a - b);
  const first = mondays[0];
  if (first === undefined) return [];
  const last = mondays[mondays.length - 1]!;
  // A term is some twenty weeks; a mistyped year must not draw a century.
  return Array.from({ length: Math.min(60, (last - first) / 7 + 1) }, (_, i) => {
    const monday = first + 7 * i;
    return {
      monday: new Date(monday * DAY).toISOString().slice(0, 10),
      ...(weeks.get(monday) ?? { came: 0, toCome: 0 }),
    };
  });
}

/** What comes in the next four weeks: due dates and students' own dates. */
function soon(summaries: BookSummary[], asOf: string): Desk['soon'] {
  const until = new Date(Date.parse(asOf) + 28 * 86_400_000).toISOString();
  const due = summaries.flatMap(({ assembled }) =>
    assembled.assessments
      .filter((a) => a.due !== null)
      .map((a) => ({
        at: a.due!,
        message: `${a.title} due, ${counted(assembled.students.length, 'student')}, ${assembled.row.title}`,
      })),
  );
  return [...due, ...summaries.flatMap((s) => s.ownDates)]
    .filter((d) => d.at > asOf && d.at <= until)
    .sort((a, b) => a.at.localeCompare(b.at))
    .slice(0, 8);
}

/** All books of the school and how far each is. */
export async function officeOf(db: Db, school: string): Promise<Office> {
  const books = await booksOfSchool(db, school);
  const office: Office = { term: books[0]?.term ?? null, books: [] };
  for (const book of books) {
    const { assembled, marked, ticks } = await summarise(db, book);
    office.books.push({
      id: book.id,
      title: book.title,
      teachers: (await staffOf(db, school, book.id)).map((s) => personName(s)),
      students: assembled.students.length,
      assessments: assembled.assessments.length,
      marked,
      toMark: ticks.toMark,
      drafts: ticks.draft,
      lastChange: await lastChange(db, school, book.id, book.seq),
      ticks,
    });
  }
  return office;
}
