import { compileBook } from '@core/calculation/compiled/compile';
import { effectiveDates } from '@core/calculation/cells/dates';
import { assembleBook, assembleSkeleton } from '@core/book/assemble';
import type { RulesPart } from '@core/book/change';
import type { Student } from '@core/book/document';
import { formatMoment } from '@core/time/moment';
import type { LiveEntry } from '@core/book/student-document';
import { readCells } from '../../kernel/cells/sql';
import type { Db } from '../../kernel/database';
import { withFeedback } from './sql/released-parts';
import { statementOf } from './sql/releases';
import { freshSlips } from './sql/slip-traces';
import {
  momentOf,
  assessmentsOf,
  toPlacedItem,
  type AssessmentRow,
  enrolmentsOf,
  studentsOf,
  toDocumentStudent,
  findBook,
  type BookRow,
  rulesAt,
} from '../books';
import { Refusal } from '../../kernel/refusal';
import type { StudentBook, StudentBooks, StatementBody } from '@contract/statements';

/** The books of one student, with how many of their scores are released. */
export async function studentBooks(db: Db, school: string, person: string): Promise<StudentBooks> {
  const list: StudentBooks = [];
  for (const { book, enrolment, left } of await enrolmentsOf(db, school, person, true)) {
    const row = await findBook(db, school, book);
    const slip = await readSlip(db, school, book, enrolment);
    if (row)
      list.push({
        book,
        title: row.title,
        term: row.term,
        released: slip?.items.filter((i) => i.released).length ?? 0,
        left,
      });
  }
  return list.sort((a, b) => Number(a.left) - Number(b.left) || a.title.localeCompare(b.title));
}

async function readSlip(db: Db, school: string, book: string, enrolment: string): Promise<StatementBody | null> {
  const text = await statementOf(db, school, book, enrolment);
  return text === null ? null : (JSON.parse(text) as StatementBody);
}

/**
 * What one student sees of one book: figures from the slip that was written at the last release, dates as they are now.
 * Nothing here is worked out from today's scores.
 */
export async function studentBook(db: Db, school: string, person: string, book: string): Promise<StudentBook> {
  const own = (await enrolmentsOf(db, school, person, true)).find((e) => e.book === book);
  const row = own ? await findBook(db, school, book) : null;
  if (!own || !row) throw new Refusal('not-found', 'You have no such book.');
  const slip = await readSlip(db, school, book, own.enrolment);
  const asOf = await momentOf(db, school);
  const place = { school, book, enrolment: own.enrolment };
  const news = { fresh: await freshSlips(db, place), withFeedback: await withFeedback(db, place) };
  return viewOf(row, slip, await myDates(db, row, own.enrolment, asOf), asOf, news);
}

/** What is beside the figures: which slips were not opened since their release, and which have rubric or feedback. */
interface SlipNews {
  fresh: ReadonlyMap<string, { fresh: boolean }>;
  withFeedback: ReadonlySet<string>;
}
const NO_NEWS: SlipNews = { fresh: new Map(), withFeedback: new Set() };

/** A student's page, from what was written down for them and from their dates as they are now. */
export function viewOf(
  row: BookRow,
  slip: StatementBody | null,
  dates: StudentDate[],
  asOf: string,
  news: SlipNews = NO_NEWS,
): StudentBook {
  const standing = slip && row.showsStanding && slip.items.some((i) => i.released) ? slip : null;
  return {
    book: row.id,
    title: row.title,
    timeZone: row.timeZone,
    asOf,
    standing: standing && {
      percent: standing.result.percent,
      letter: standing.result.letter,
      low: standing.result.low,
      high: standing.result.high,
      shown: standing.result.shown == null ? null : `${standing.result.shown} ${standing.shownLabel ?? ''}`.trim(),
      asOf: standing.asOf,
      lines: standing.standing,
      scale: standing.scale,
    },
    work: dates.map((d) => {
      const item = slip?.items.find((i) => i.id === d.id);
      const result = slip?.result.items.find((i) => i.id === d.id);
      const released = item?.released && result ? { item, result, at: item.released } : null;
      return {
        id: d.id,
        title: item?.title ?? d.title,
        points: item?.points ?? null,
        due: d.due,
        state: released ? released.result.state : d.state,
        score: released && {
          earned: released.result.earned,
          dropped: released.result.dropped,
          releasedAt: released.at.at,
          releasedBy: released.at.by,
          lines: released.item.lines,
          sum: released.item.sum ?? null,
          receivedAt: released.item.receivedAt ?? null,
        },
        feedback: news.withFeedback.has(d.id),
        fresh: news.fresh.get(d.id)?.fresh ?? false,
      };
    }),
  };
}

/** One assessment as its student is told of it at once: the due date that holds for them, and what became of it. */
export interface StudentDate {
  id: string;
  title: string;
  due: string | null;
  state: string;
}

/** Own due dates, excuses and what the student handed in: told at once, so read as they are now. */
async function myDates(db: Db, row: BookRow, enrolment: string, asOf: string): Promise<StudentDate[]> {
  const student = (await studentsOf(db, row.school, row.id, true)).find((s) => s.id === enrolment)!;
  const assessments = await assessmentsOf(db, row.school, row.id);
  const cells = new Map(
    (await readCells(db, row.school, row.id, { enrolments: [enrolment] })).map((c) => [c.assessment, c]),
  );
  const rules = await rulesAt(db, row.school, row.id, row.rulesVersion);
  return datesOf({ timeZone: row.timeZone, rules, assessments, student: toDocumentStudent(student), cells, asOf });
}

/** The same for any student, with what they have on each assessment. */
export function datesOf(of: {
  timeZone: string;
  rules: RulesPart;
  assessments: AssessmentRow[];
  student: Student;
  cells: ReadonlyMap<string, LiveEntry>;
  asOf: string;
}): StudentDate[] {
  const assessments = of.assessments.filter((a) => a.shown);
  const { asOf } = of;
  const enrolment = of.student.id;
  const skeleton = assembleSkeleton(of.timeZone, of.rules, assessments.map(toPlacedItem));
  const compiled = compileBook(assembleBook(skeleton, asOf, [of.student], []));
  const byId = new Map(compiled.items.map((i) => [i.id, i]));
  return assessments.map((a) => {
    const cell = of.cells.get(a.id);
    const { dueAt, closesAt, lateAllowances, state } = cell?.content ?? {};
    const entry = {
      student: enrolment,
      item: a.id,
      ...(dueAt && { dueAt }),
      ...(closesAt && { closesAt }),
      ...(lateAllowances && { lateAllowances }),
    };
    const { due } = effectiveDates(compiled, byId.get(a.id)!, 0, entry);
    const handedIn = cell?.handedIn.some(Boolean) === true;
    const past = due !== null && Date.parse(asOf) > due;
    const shown = state === 'excused' ? 'excused' : handedIn ? 'handed-in' : a.takesWork && past ? 'missing' : 'open';
    return { id: a.id, title: a.title, due: due === null ? null : formatMoment(due), state: shown };
  });
}
