import { compileBook } from '@core/calculation/compiled/compile';
import { effectiveDates } from '@core/calculation/cells/dates';
import type { Db } from '../../../kernel/database';
import { assemble } from '../../books';
import { staffNotesOf, WHOLE_STUDENT } from '../../annotations';
import { readParts } from './parts-to-release';
import { isUnsettled } from '../sql/planned-releases';

/** Minutes after the last change, so that nothing is released from under somebody's hands. */
const QUIET_MINUTES = 10;

const isScored = (a: { score?: number; mark?: string } | undefined): boolean =>
  a !== undefined && (a.score !== undefined || a.mark !== undefined);

/**
 * Whether all of an assessment are done (work.md, "Release"): everybody who is in the book and not excused has a complete
 * draft or can hand in no more; nothing waits, is begun or marked for a second look; and nobody changed anything of late.
 */
export async function isAllDone(db: Db, p: { school: string; book: string; assessment: string }): Promise<boolean> {
  if (await isUnsettled(db, p, QUIET_MINUTES)) return false;
  const book = await assemble(db, p.school, p.book, 'whole');
  const assessment = book.assessments.find((a) => a.id === p.assessment);
  if (!assessment || book.students.length === 0 || book.faulty.some((f) => f.assessment === p.assessment)) return false;
  const here = new Set(book.students.map((s) => s.id));
  const looks = (await staffNotesOf(db, p.school, p.book)).some(
    (n) => n.secondLookBy !== null && (n.place === p.assessment || n.place === WHOLE_STUDENT) && here.has(n.enrolment),
  );
  if (looks) return false;
  const compiled = compileBook(book.document);
  const item = compiled.items.find((i) => i.id === p.assessment)!;
  const cells = new Map(book.cells.filter((c) => c.assessment === p.assessment).map((c) => [c.enrolment, c]));
  const parts = await readParts(db, p);
  const asOf = Date.parse(book.document.asOf);
  return book.students.every((s) => {
    const cell = cells.get(s.id);
    const { state, set, attempts = [], dueAt, closesAt, lateAllowances } = cell?.content ?? {};
    if (state === 'excused') return true;
    if (set !== undefined || isScored(attempts.at(-1))) return !parts.of(s.id, cell).inPart;
    if (attempts.length > 0) return false;
    if (state === 'missing') return true;
    const own = { student: s.id, item: item.id, ...(dueAt && { dueAt }), ...(closesAt && { closesAt }), ...(lateAllowances && { lateAllowances }) }; // prettier-ignore
    const { closes } = effectiveDates(compiled, item, compiled.studentIndex.get(s.id)!, own);
    return assessment.takesWork && closes !== null && asOf > closes;
  });
}
