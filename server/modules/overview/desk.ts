import { counted } from '@core/words/count';
import { DAY } from '@core/time/local-days';
import type { Desk, DeskLine, DeskWeek } from '@contract/overview';
import type { Db } from '../../kernel/database';
import { personName } from '../accounts';
import { secondLooksOf } from '../annotations';
import { booksOfStaff, momentOf } from '../books';
import { nameless } from '../hidden-names';
import { newsFor } from '../presence';
import { brokenUploads } from '../submissions';
import { unanswered } from '../threads';
import { familiesOf, sectionTitles, staffNames } from './sql';
import { summariesOf, type SummarisedBook } from './summaries';

/** The first page of a teacher: what waits, by book, the most urgent first. */
export async function deskOf(db: Db, school: string, person: string): Promise<Desk> {
  const rows = await booksOfStaff(db, school, person);
  const asOf = await momentOf(db, school);
  const flags = await nameless(db, school, await secondLooksOf(db, school, person), (f, family) => ({ ...f, family, given: '' })); // prettier-ignore
  const books = await summariesOf(db, school, rows);
  const families = await familiesOf(db, school, named(books));
  const ids = rows.map((b) => b.id);
  const sections = await sectionTitles(db, school, ids);
  const staff = await staffNames(db, school, ids);
  const lines = (pick: 'toMark' | 'draft'): DeskLine[] =>
    books.flatMap(({ row, summary }) =>
      summary.assessments
        .filter((a) => a.ticks[pick] > 0)
        .map((a) => ({
          book: row.id,
          bookTitle: row.title,
          assessment: a.id,
          title: a.title,
          due: a.due,
          count: a.ticks[pick],
          ticks: a.ticks,
          since: pick === 'toMark' ? (a.oldest?.at ?? null) : a.draftSince,
          whose: pick === 'toMark' && a.oldest?.enrolment ? (families.get(a.oldest.enrolment) ?? null) : null,
        })),
    );
  return {
    asOf,
    timeZone: rows[0]?.timeZone ?? 'UTC',
    term: rows[0]?.term ?? null,
    toMark: lines('toMark').sort((a, b) => (a.since ?? '9').localeCompare(b.since ?? '9')),
    toRelease: lines('draft').sort((a, b) => (a.due ?? '9').localeCompare(b.due ?? '9')),
    secondLooksInAll: flags[0]?.inAll ?? 0,
    secondLooks: flags.map(({ family, given, title, inAll: _, ...f }) => ({
      ...f,
      message: `${given ? `${family}, ${given}` : family}${title ? ` · ${title}` : ''}`,
    })),
    questions: await unanswered(db, school, ids),
    broken: await brokenUploads(db, school, ids),
    news: await newsFor(db, school, person),
    weeks: weeksOf(books),
    books: books.map(({ row, summary, faulty }) => ({
      id: row.id,
      title: row.title,
      students: summary.students,
      sections: sections.get(row.id) ?? [],
      with: (staff.get(row.id) ?? []).filter((s) => s.person !== person).map((s) => personName(s)),
      marked: summary.marked,
      faulty,
    })),
    soon: soon(books, asOf, families),
  };
}

/** Whose names the page says. */
const named = (books: readonly SummarisedBook[]): { book: string; enrolment: string }[] =>
  books.flatMap(({ row, summary }) =>
    [...summary.assessments.flatMap((a) => a.oldest?.enrolment ?? []), ...summary.ownDates.map((d) => d.enrolment)].map(
      (enrolment) => ({ book: row.id, enrolment }),
    ),
  );

/** 1970-01-01 was a Thursday: the Monday on or before a day. */
const mondayOf = (day: number): number => day - ((((day + 3) % 7) + 7) % 7);

/** Every week from the first piece that came in to the last that is to come. */
function weeksOf(summaries: readonly SummarisedBook[]): DeskWeek[] {
  const weeks = new Map<number, { came: number; toCome: number }>();
  for (const { summary } of summaries)
    for (const kind of ['came', 'toCome'] as const)
      for (const [day, n] of summary[kind]) {
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
function soon(books: readonly SummarisedBook[], asOf: string, families: ReadonlyMap<string, string>): Desk['soon'] {
  const until = new Date(Date.parse(asOf) + 28 * DAY).toISOString();
  const due = books.flatMap(({ row, summary }) =>
    summary.assessments
      .filter((a) => a.due !== null)
      .map((a) => ({
        at: a.due!,
        message: `${a.title} due, ${counted(summary.students, 'student')}, ${row.title}`,
      })),
  );
  const own = books.flatMap(({ summary }) =>
    summary.ownDates.map((d) => ({
      at: d.at,
      message: `${families.get(d.enrolment) ?? ''}’s extension ends, ${d.title}`,
    })),
  );
  return [...due, ...own]
    .filter((d) => d.at > asOf && d.at <= until)
    .sort((a, b) => a.at.localeCompare(b.at))
    .slice(0, 8);
}
