import { canonical } from '@core/book/canonical';
import { assembleBook, assembleSkeleton } from '@core/book/assemble';
import { checkBook } from '@core/book/checks/check';
import type { Student } from '@core/book/document';
import { studentDocument, type LiveEntry } from '@core/book/student-document';
import { compileBook } from '@core/calculation/compiled/compile';
import { workOutStudent } from '@core/calculation/final';
import { studentResult } from '@core/calculation/result';
import type { Rehearsal, RehearsalWrite, StatementBody } from '@contract/statements';
import { assessmentsOf, toPlacedItem, toDocumentStudent, momentOf, findBook, rulesAt, sectionsOf } from '../books';
import type { Db } from '../../kernel/database';
import { putRehearsal, rehearsalOf } from './sql/rehearsals';
import { datesOf, viewOf } from './student-book';
import { statementBody, titlesOf } from './student-statement';
import { Refusal, toPointedErrors } from '../../kernel/refusal';
/** The id of the made-up student; it stands in this one document alone. */
const MADE_UP = 'rehearsal';
const NOTHING: RehearsalWrite = { asOf: null, section: null, extraTimeHours: 0, cells: [] };

interface Rehearser {
  school: string;
  book: string;
  person: { id: string; family: string; given: string };
}

/**
 * A made-up student of a book, as they would read it and as staff would: worked out from the book's rules and
 * assessments and from what was invented, with nobody else in the document. `write` null: what was invented last.
 */
export async function rehearse(db: Db, who: Rehearser, write: RehearsalWrite | null): Promise<Rehearsal> {
  const row = await findBook(db, who.school, who.book);
  if (!row) throw new Refusal('not-found', 'There is no such book.');
  const rules = await rulesAt(db, who.school, who.book, row.rulesVersion);
  const assessments = await assessmentsOf(db, who.school, who.book);
  const sections = new Set((await sectionsOf(db, who.school, who.book)).map((s) => s.id));
  const skeleton = assembleSkeleton(row.timeZone, rules, assessments.map(toPlacedItem));
  const now = await momentOf(db, who.school);
  const known = new Set(assessments.map((a) => a.id));
  const documentOf = (w: RehearsalWrite) =>
    assembleBook(
      skeleton,
      w.asOf ?? now,
      [studentOf(w)],
      w.cells.map((c) => ({ student: MADE_UP, item: c.assessment, ...c.entry })),
    );

  const is = write ?? fitting(await rehearsalOf(db, who.school, who.book, who.person.id));
  const document = documentOf(is);
  const checked = checkBook(document);
  if (!checked.ok)
    throw new Refusal('bad-request', `That cannot be rehearsed: ${checked.problems[0]!.says}`, {
      errors: toPointedErrors(checked.problems),
    });
  if (is.section !== null && !sections.has(is.section))
    throw new Refusal('bad-request', 'There is no such section in this book.');
  if (write) await putRehearsal(db, who.school, who.book, who.person.id, write);

  const asOf = is.asOf ?? now;
  const live = new Map(
    is.cells.map((c): [string, LiveEntry] => [c.assessment, { content: c.entry, handedIn: received(c) }]),
  );
  const out = is.cells.filter((c) => c.released);
  const own = studentDocument({
    student: studentOf(is),
    asOf,
    skeleton,
    visible: new Set(assessments.filter((a) => a.shown).map((a) => a.id)),
    takesWork: new Set(assessments.filter((a) => a.takesWork).map((a) => a.id)),
    released: new Map(out.map((c) => [c.assessment, c.entry])),
    live,
  });
  const by = { family: who.person.family, given: who.person.given };
  const slip = statementBody(
    own,
    out.map((c) => ({ enrolment: MADE_UP, assessment: c.assessment, entry: c.entry, releasedAt: asOf, by })),
    titlesOf(assessments),
    skeleton,
  );
  // Through text, as at a release: what is shown is what would be written down.
  const written = JSON.parse(canonical(slip)) as StatementBody;
  const compiled = compileBook(document);
  const dates = datesOf({ timeZone: row.timeZone, rules, assessments, student: studentOf(is), cells: live, asOf });
  return {
    write: is,
    page: viewOf(row, written, dates, asOf),
    ledger: studentResult(compiled, workOutStudent(compiled, 0)),
  };

  /** What was invented before the book changed, without what has no place in it any more. */
  function fitting(kept: RehearsalWrite | null): RehearsalWrite {
    if (!kept) return NOTHING;
    const here = {
      ...kept,
      section: kept.section !== null && sections.has(kept.section) ? kept.section : null,
      cells: kept.cells.filter((c) => known.has(c.assessment)),
    };
    const checked = checkBook(documentOf(here));
    if (checked.ok) return here;
    const wrong = new Set(checked.problems.map((p) => /^\/entries\/(\d+)/.exec(p.at)?.[1]));
    return { ...here, cells: here.cells.filter((_, i) => !wrong.has(String(i))) };
  }
}

const studentOf = (w: RehearsalWrite): Student =>
  toDocumentStudent({ id: MADE_UP, section: w.section, extraTimeHours: w.extraTimeHours });

/** A made-up student hands in what has a moment. */
const received = (c: RehearsalWrite['cells'][number]): boolean[] =>
  (c.entry.attempts ?? []).map((a) => a.receivedAt !== undefined);
