import { effectiveDates } from '@core/calculation/cells/dates';
import type { ItemState } from '@core/book/document';
import { compileBook } from '@core/calculation/compiled/compile';
import { entryAt } from '@core/calculation/cells/entries-by-item';
import { valuesOf } from '@core/calculation/cells/value';
import { areNamesHidden } from '@core/work/hidden-names';
import { markedShare } from '@core/statistics/progress';
import { noTicks, tickOf, type TickCounts } from '@core/statistics/ticks';
import { localDay } from '@core/time/local-days';
import { formatMoment } from '@core/time/moment';
import { cellKeyOf } from '../../kernel/cells/cell';
import type { Db } from '../../kernel/database';
import { lastChangesOfCells } from '../../kernel/journal/sql/lines';
import { assemble } from '../books';
import { markedInPart } from '../marking';

/** Own dates that are kept of a book: the soonest of them. */
const MOST_OWN_DATES = 8;

export interface AssessmentSummary {
  id: string;
  title: string;
  due: string | null;
  ticks: TickCounts;
  /** The work that has waited longest to be marked, and whose it is. */
  oldest: { at: string; enrolment: string | null } | null;
  /** Since when the score that has waited longest to be released stands. */
  draftSince: string | null;
}

/** Where everything stands in a book. People are named by their ids: a name may change without the book. */
export interface BookSummary {
  students: number;
  /** Percent of the weight that is marked. */
  marked: number;
  ticks: TickCounts;
  assessments: AssessmentSummary[];
  /** Own due dates still to come, the soonest first. */
  ownDates: { at: string; enrolment: string; title: string }[];
  /** Days since 1970 in the book's time zone with the pieces that came in, and those still open that are due. */
  came: [day: number, pieces: number][];
  toCome: [day: number, pieces: number][];
}

/** Of a book of which nothing can be worked out. */
export const NO_SUMMARY: BookSummary = {
  students: 0,
  marked: 0,
  ticks: noTicks(),
  assessments: [],
  ownDates: [],
  came: [],
  toCome: [],
};

/** What was worked out of a book, and for how long it holds by the school's clock unless the book changes. */
export interface Summarised {
  summary: BookSummary;
  madeAt: string;
  validUntil: string | null;
}

/** Works a book's summary out: states are decided by the core alone. */
export async function summariseBook(db: Db, school: string, book: string): Promise<Summarised> {
  const assembled = await assemble(db, school, book, 'whole');
  const compiled = compileBook(assembled.document);
  const hidden = new Set(assembled.assessments.filter((a) => areNamesHidden(a.work)).map((a) => a.id));
  const out = new Map(assembled.cells.map((c) => [cellKeyOf(c), c.releaseState]));
  const inPart = await markedInPart(db, school, book, assembled.cells);
  const titles = new Map(assembled.assessments.map((a) => [a.id, a]));
  const byItem = compiled.items.map((item): AssessmentSummary => {
    const { title, due } = titles.get(item.id)!;
    return { id: item.id, title, due, ticks: noTicks(), oldest: null, draftSince: null };
  });
  const { asOf } = assembled.document;
  const now = Date.parse(asOf);
  const whole = noTicks();
  const ownDates: BookSummary['ownDates'] = [];
  const drafts = new Set<string>();
  const came = new Map<number, number>();
  const toCome = new Map<number, number>();
  const dayOf = daysOf(assembled.row.timeZone);
  const count = (days: Map<number, number>, at: string): void => {
    const day = dayOf(at);
    days.set(day, (days.get(day) ?? 0) + 1);
  };
  let next = Infinity;
  const values = assembled.students.map((student, s) => {
    const own = valuesOf(compiled, s);
    compiled.items.forEach((item) => {
      const entry = entryAt(compiled, s, item.index);
      const { state } = own[item.index]!;
      const summary = byItem[item.index]!;
      const key = cellKeyOf({ assessment: item.id, enrolment: student.id });
      const scored = tickOf(state, out.get(key) ?? 0);
      // As the marking room has it: what is marked in part waits still.
      const tick = scored === 'draft' && inPart.has(key) ? 'toMark' : scored;
      summary.ticks[tick]++;
      whole[tick]++;
      if (tick === 'draft') drafts.add(key);
      if (tick === 'toMark') noteOldest(summary, entry?.attempts?.find((a) => a.receivedAt)?.receivedAt, hidden.has(item.id) ? null : student.id); // prettier-ignore
      for (const a of entry?.attempts ?? []) if (a.receivedAt) count(came, a.receivedAt);
      const dates = effectiveDates(compiled, item, s, entry);
      for (const at of [dates.due, dates.closes]) if (at !== null && at >= now && at < next) next = at;
      if (dates.due !== null && isOpen(state) && dates.due >= now) {
        const due = formatMoment(dates.due);
        count(toCome, due);
        if (entry?.dueAt && !hidden.has(item.id))
          ownDates.push({ at: due, enrolment: student.id, title: summary.title });
      }
    });
    return own;
  });
  if (drafts.size > 0) await noteDrafts(db, school, book, drafts, byItem);
  return {
    summary: {
      students: assembled.students.length,
      marked: Math.round(100 * markedShare(compiled, values)),
      ticks: whole,
      assessments: byItem,
      ownDates: ownDates.sort((a, b) => a.at.localeCompare(b.at)).slice(0, MOST_OWN_DATES),
      came: [...came],
      toCome: [...toCome],
    },
    madeAt: asOf,
    // What is due at a moment is not past at that moment, but after it.
    validUntil: next === Infinity ? null : formatMoment(next + 1),
  };
}

/** Since when the score of each assessment that has waited longest stands. */
async function noteDrafts(
  db: Db,
  school: string,
  book: string,
  drafts: ReadonlySet<string>,
  byItem: readonly AssessmentSummary[],
): Promise<void> {
  const byId = new Map(byItem.map((s) => [s.id, s]));
  for (const line of await lastChangesOfCells(db, school, book)) {
    const summary = byId.get(line.assessment);
    if (!summary || !drafts.has(cellKeyOf(line))) continue;
    if (summary.draftSince === null || line.at < summary.draftSince) summary.draftSince = line.at;
  }
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

function noteOldest(summary: AssessmentSummary, at: string | undefined, enrolment: string | null): void {
  if (at && (summary.oldest === null || at < summary.oldest.at)) summary.oldest = { at, enrolment };
}
