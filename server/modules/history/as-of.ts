import { rulesAfter } from '../../kernel/journal/sql/rules';
import { cellKeyOf } from '../../kernel/cells/cell';
import { assembleBook, assembleSkeleton, rulesOf } from '@core/book/assemble';
import { canonical } from '@core/book/canonical';
import type { EntryContent, RulesPart } from '@core/book/change';
import type { BookDocument, Entry } from '@core/book/document';
import { checkBook } from '@core/book/checks/check';
import { compareBooks } from '@core/proposal/compare';
import type { Sheet } from '@contract/books';
import type { Between } from '@contract/history';
import type { Db } from '../../kernel/database';
import {
  findBook,
  momentOf,
  readAssessmentText,
  studentsOf,
  toDocumentOverrides,
  toDocumentStudent,
  unaskedEntries,
} from '../books';
import { toStoredText } from '../../kernel/cells/cell';
import { Refusal } from '../../kernel/refusal';
import {
  seqAt,
  assessmentsAfter,
  orderAfter,
  enrolledAfter,
  releasedAfter,
  overridesAfter,
  sectionVariantsAfter,
} from './sql/as-of';
import { calculationSince } from './sql/calculation';
import { cellsAfter } from '../../kernel/journal/sql/lines';

/** Which moment of a book: after a line of its journal, or at a time. */
export type AsOf = { seq: number } | { at: string };

/** A book as it stood after one line of its journal, built from the journal alone. */
export interface BookAsOf {
  seq: number;
  at: string | null;
  document: BookDocument;
  /** Parallel to the document's entries: 0 not released, 1 as it was released, 2 changed since. */
  out: (0 | 1 | 2)[];
  /** Cells by "assessment enrolment", as the journal writes them. */
  cells: Map<string, string>;
  assessments: { id: string; title: string; points: number; due: string | null }[];
}

/** `hidden`: assessments in which names are hidden now; they count nowhere, and have no cells. */
export async function bookAsOf(
  db: Db,
  school: string,
  id: string,
  moment: AsOf,
  hidden: ReadonlySet<string>,
): Promise<BookAsOf> {
  const row = (await findBook(db, school, id))!;
  const seq = 'seq' in moment ? Math.min(moment.seq, row.seq) : await seqAt(db, school, id, moment.at);
  const rules = await rulesAfter(db, school, id, seq);
  if (rules === null) throw new Refusal('not-found', 'The book was not made yet at that moment.');
  const made = (await assessmentsAfter(db, school, id, seq))
    .filter((a) => a.becomes !== null)
    .map((a) => readAssessmentText(a.becomes!))
    .filter((a) => !a.archived);
  const order = new Map((await orderAfter(db, school, id, seq)).map((a, i) => [a, i]));
  made.sort((a, b) => (order.get(a.id) ?? Infinity) - (order.get(b.id) ?? Infinity) || 0);
  const here = await enrolledAfter(db, school, id, seq);
  const ofSections = await sectionVariantsAfter(db, school, id, seq);
  const students = (await studentsOf(db, school, id, true)).flatMap((s) => {
    const then = here.get(s.id);
    if (then === undefined) return [];
    // A line from before there were variants names none.
    const was = { ...s, variant: null, ...(JSON.parse(then) as Partial<typeof s>) };
    return was.left ? [] : [{ ...was, variant: was.variant ?? ofSections.get(was.section ?? '') ?? null }];
  });
  const present = new Set(students.map((s) => s.id));
  const items = new Set(made.map((a) => a.id));
  const cells = (await cellsAfter(db, school, id, seq))
    .filter((c) => present.has(c.enrolment) && items.has(c.assessment) && !hidden.has(c.assessment))
    .map((c) => ({ ...c, becomes: toStoredText(c.becomes) }));
  const released = new Map((await releasedAfter(db, school, id, seq)).map((r) => [cellKeyOf(r), r.becomes]));
  const skeleton = assembleSkeleton(
    row.timeZone,
    JSON.parse(rules) as RulesPart,
    made.map((a) => ({
      category: a.category,
      item: {
        id: a.id,
        type: 'item' as const,
        points: a.points,
        ...a.more,
        ...(a.due === null ? {} : { due: new Date(a.due).toISOString() }),
        ...(a.closes === null ? {} : { closes: new Date(a.closes).toISOString() }),
        ...(hidden.has(a.id) ? { counts: false } : {}),
      },
    })),
  );
  const at = 'at' in moment ? moment.at : null;
  const asOf = at ?? (await momentOf(db, school));
  return {
    seq,
    at,
    document: assembleBook(
      skeleton,
      asOf,
      students.map(toDocumentStudent),
      [
        ...cells.map((c): Entry => ({
          student: c.enrolment,
          item: c.assessment,
          ...(JSON.parse(c.becomes) as EntryContent),
        })),
        ...unaskedEntries(
          JSON.parse(rules) as RulesPart,
          made.filter((a) => hidden.has(a.id)).map((a) => a.id),
          students,
        ),
      ],
      toDocumentOverrides(
        (await overridesAfter(db, school, id, seq))
          .filter((o) => present.has(o.enrolment))
          .map((o) => ({ percent: null, letter: null, ...(JSON.parse(o.becomes) as object), enrolment: o.enrolment })),
      ),
    ),
    out: cells.map((c) => {
      const out = released.get(cellKeyOf(c));
      return out === undefined ? 0 : toStoredText(out) === c.becomes ? 1 : 2;
    }),
    cells: new Map(cells.map((c) => [cellKeyOf(c), c.becomes])),
    assessments: made.map(({ id: a, title, points, due }) => ({ id: a, title, points, due })),
  };
}

/** The sheet of a book as it stood; nothing in it can be changed, so versions mean nothing. */
export async function sheetAsOf(
  db: Db,
  school: string,
  id: string,
  moment: AsOf,
  hidden: ReadonlySet<string>,
): Promise<Sheet> {
  const { seq, document, out } = await bookAsOf(db, school, id, moment, hidden);
  const recalculated = await calculationSince(db, school, id, seq);
  return { seq, document, versions: out.map(() => 0), releaseStates: out, ...(recalculated && { recalculated }) };
}

/** Cells of a difference that are given one by one; the rest is a number. */
const DIFFERENT = 1_000;

/** What differs between two moments of a book. */
export async function between(
  db: Db,
  school: string,
  id: string,
  from: AsOf,
  to: AsOf,
  hidden: ReadonlySet<string>,
): Promise<Between> {
  const a = await bookAsOf(db, school, id, from, hidden);
  const b = await bookAsOf(db, school, id, to, hidden);
  const keys = [...new Set([...a.cells.keys(), ...b.cells.keys()])].filter((k) => a.cells.get(k) !== b.cells.get(k));
  const before = checkBook(a.document);
  const after = checkBook(b.document);
  if (!before.ok || !after.ok) throw new Error('the journal of a book does not make a book');
  const titlesBefore = new Map(a.assessments.map((x) => [x.id, canonical(x)]));
  const titlesAfter = new Map(b.assessments.map((x) => [x.id, canonical(x)]));
  return {
    from: { seq: a.seq, at: a.at },
    to: { seq: b.seq, at: b.at },
    cellsInAll: keys.length,
    cells: keys.slice(0, DIFFERENT).map((k) => {
      const [enrolment, assessment] = k.split(' ') as [string, string];
      return { assessment, enrolment, was: a.cells.get(k) ?? null, becomes: b.cells.get(k) ?? null };
    }),
    rules: canonical(rulesOf(a.document)) !== canonical(rulesOf(b.document)),
    assessments: [...new Set([...titlesBefore.keys(), ...titlesAfter.keys()])].filter(
      (x) => titlesBefore.get(x) !== titlesAfter.get(x),
    ),
    standings: compareBooks(before.book, after.book).movers.map((m) => ({
      enrolment: m.student,
      before: m.before.percent,
      after: m.after.percent,
      letterBefore: m.before.letter,
      letterAfter: m.after.letter,
    })),
  };
}
