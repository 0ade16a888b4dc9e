import { counted, formOf } from '@core/words/count';
import { assembleBook, assembleSkeleton, type Skeleton } from '@core/book/assemble';
import { checkBook } from '@core/book/checks/check';
import { validateCell } from '@core/book/checks/validate-cell';
import { RULE_KEYS, type EntryContent, type RulesPart } from '@core/book/change';
import { marksOf } from './marks';
import { areNamesHidden } from '@core/work/hidden-names';
import { mentionsOf } from '@core/book/mentions';
import { DEEPEST } from '@core/book/checks/check-tree';
import { itemsOf, type BookDocument, type Entry, type Group, type Node } from '@core/book/document';
import type { Who } from '../../kernel/journal/sql/lines';
import type { CellRow } from '../../kernel/cells/sql';
import type { Db } from '../../kernel/database';
import { documentEntries } from './sql/document-entries';
import { cellsAt } from '../../kernel/cells/cell-cache';
import { overridesOf, toDocumentOverrides } from './sql/overrides';
import { findSchool } from '../accounts';
import { Refusal, toPointedErrors } from '../../kernel/refusal';
import { type AssessmentRow, assessmentsOf, marksUsed, toPlacedItem } from './sql/assessments';
import { type StudentRow, studentsOf, toDocumentStudent, variantsInUse } from './sql/enrolments';
import { type BookRow, findBook, rulesAt } from './sql/books';

/** The moment that counts for a school, by its own clock. */
export async function momentOf(db: Db, school: string): Promise<string> {
  return (await findSchool(db, school))!.now;
}

/** Everything of a book that is needed to work it out. */
export interface AssembledBook {
  row: BookRow;
  rules: RulesPart;
  assessments: AssessmentRow[];
  students: StudentRow[];
  skeleton: Skeleton;
  cells: CellRow[];
  /** Cells that cannot be read as they are kept, and why: in the document they wait to be marked. */
  faulty: FaultyCell[];
  document: BookDocument;
}

/** A cell whose content the calculation cannot take: of an earlier version, or of a disk that was repaired. */
export interface FaultyCell {
  enrolment: string;
  assessment: string;
  fault: string;
}

/** What stands in the document for a cell that cannot be read: it waits to be marked, and costs the student nothing. */
const UNREADABLE: EntryContent = { state: 'awaiting' };

/**
 * The one function that builds the book document from the rows. Assessments in which names are hidden count nowhere in
 * it and have no cells; with `whole` they do, for what names nobody.
 */
export async function assemble(db: Db, school: string, id: string, whole?: 'whole'): Promise<AssembledBook> {
  const frame = await openFrame(db, school, id, whole);
  const faultOf = faultsIn(frame);
  const faulty: FaultyCell[] = [];
  const cells = (await cellsAt(db, frame.row))
    .filter((c) => isIn(frame, c.enrolment, c.assessment))
    .map((c): CellRow => {
      const fault = faultOf(c.assessment, c.content);
      if (fault === null) return c;
      faulty.push({ enrolment: c.enrolment, assessment: c.assessment, fault });
      return { ...c, content: UNREADABLE, handedIn: [] };
    });
  const entries = cells.map((c): Entry => ({ student: c.enrolment, item: c.assessment, ...c.content }));
  return { ...frame, cells, faulty, document: await documentIn(db, school, frame, entries) };
}

/** What is wrong with a cell of a book, for each: the check that a whole document goes through. */
function faultsIn({ rules, assessments }: Frame): (assessment: string, content: EntryContent) => string | null {
  const marks = new Map(assessments.map((a) => [a.id, marksOf(rules, a)]));
  return (assessment, content) => validateCell(content, marks.get(assessment) ?? null);
}

/** The same document alone, for a trial of many books: nothing of them is kept in memory. What is hidden is left out. */
export async function assembleDocument(db: Db, school: string, id: string): Promise<BookDocument> {
  const frame = await openFrame(db, school, id);
  const faultOf = faultsIn(frame);
  const entries = (await documentEntries(db, school, id))
    .filter((e) => isIn(frame, e.student, e.item))
    .map((e): Entry => {
      const { student, item, ...content } = e;
      return faultOf(item, content) === null ? e : { student, item, ...UNREADABLE };
    });
  return documentIn(db, school, frame, entries);
}

/** A book without its cells. */
export interface Frame extends Omit<AssembledBook, 'cells' | 'faulty' | 'document'> {
  here: Set<string>;
  items: Set<string>;
}

export async function frameOf(db: Db, school: string, id: string): Promise<Frame> {
  const row = await findBook(db, school, id);
  if (!row) throw new Refusal('not-found', 'There is no such book.');
  const rules = await rulesAt(db, school, id, row.rulesVersion);
  const assessments = await assessmentsOf(db, school, id);
  const students = await studentsOf(db, school, id);
  const skeleton = assembleSkeleton(row.timeZone, rules, assessments.map(toPlacedItem));
  const here = new Set(students.map((s) => s.id));
  const items = new Set(assessments.map((a) => a.id));
  return { row, rules, assessments, students, skeleton, here, items };
}

/** The same with what may be read by name, or with the whole. */
async function openFrame(db: Db, school: string, id: string, whole?: 'whole'): Promise<Frame> {
  const frame = await frameOf(db, school, id);
  const hidden = new Set(whole ? [] : frame.assessments.filter((a) => areNamesHidden(a.work)).map((a) => a.id));
  if (hidden.size === 0) return frame;
  const placed = frame.assessments
    .map(toPlacedItem)
    .map((p) => (hidden.has(p.item.id) ? { ...p, item: { ...p.item, counts: false } } : p));
  return {
    ...frame,
    skeleton: assembleSkeleton(frame.row.timeZone, frame.rules, placed),
    items: new Set([...frame.items].filter((i) => !hidden.has(i))),
  };
}

/** What is put away, and who has left, keeps its cells, which stand in no document. */
const isIn = ({ here, items }: Frame, enrolment: string, assessment: string): boolean =>
  here.has(enrolment) && items.has(assessment);

/**
 * What a document by name holds of assessments in which names are hidden, where a hurdle stands over one or it counts again:
 * nobody is asked for it. Without entries it would be missing for everybody.
 */
export function unaskedEntries(
  rules: RulesPart,
  hidden: readonly string[],
  students: readonly { id: string }[],
): Entry[] {
  return hidden
    .filter((id) => mentionsOf(rules, id).length > 0)
    .flatMap((item) => students.map((s): Entry => ({ student: s.id, item, state: 'excused' })));
}

async function documentIn(
  db: Db,
  school: string,
  { row, rules, assessments, items, skeleton, students, here }: Frame,
  entries: Entry[],
): Promise<BookDocument> {
  const hidden = assessments.filter((a) => !items.has(a.id)).map((a) => a.id);
  return assembleBook(
    skeleton,
    await momentOf(db, school),
    students.map(toDocumentStudent),
    [...entries, ...unaskedEntries(rules, hidden, students)],
    toDocumentOverrides((await overridesOf(db, school, row.id)).filter((o) => here.has(o.enrolment))),
  );
}

/** Refuses rules without a variant that somebody has. */
export async function requireVariantsFit(db: Db, { school, book }: Who, rules: RulesPart): Promise<void> {
  const gone = (await variantsInUse(db, school, book)).find((v) => !Object.hasOwn(rules.variants ?? {}, v.variant));
  if (gone)
    throw new Refusal(
      'bad-request',
      `${gone.sections > 0 ? counted(gone.sections, 'section has', 'sections have') : counted(gone.students, 'student has', 'students have')} the variant “${gone.variant}”. Take it from them on People first; then it can go, or have another name. Nothing was changed.`,
    );
}

/** A tree without what counts something again; below the deepest that there may be nothing is looked at. */
const groupsAlone = (g: Group, depth = 1): Group => ({
  ...g,
  children: g.children.flatMap((c): Node[] => {
    if ((c as Node | null)?.type === 'also') return [];
    const inner = c as Group;
    return inner?.type === 'group' && Array.isArray(inner.children) && depth <= DEEPEST ? [groupsAlone(inner, depth + 1)] : [c]; // prettier-ignore
  }),
});

/** Refuses rules that do not make a sound book with these assessments; faults point into the rules. */
export function requireSoundRules(timeZone: string, rules: RulesPart, assessments: AssessmentRow[]): void {
  const part = rules as unknown;
  if (
    typeof part !== 'object' ||
    part === null ||
    typeof (part as RulesPart).tree !== 'object' ||
    !Array.isArray((part as RulesPart).tree?.children)
  )
    throw new Refusal(
      'bad-request',
      'These rules are not complete: the tree of categories is missing. Nothing was changed.',
    );
  // Alone first: the check stops at hostile depth, putting items into a tree would not.
  const bare = {
    format: 'last-tally.book/1',
    timeZone,
    asOf: '2000-01-01T00:00:00Z',
    ...rules,
    // A hurdle may be over an assessment, what counts again may count one, a variant leave one out: these are put in below.
    hurdles: [],
    variants: {},
    tree: groupsAlone(rules.tree),
    students: [],
    entries: [],
  };
  const foreign = Object.keys(rules).find((key) => !(RULE_KEYS as readonly string[]).includes(key));
  if (foreign !== undefined)
    throw new Refusal('bad-request', `“${foreign}” is not part of the rules. Nothing was changed.`);
  const alone = checkBook(bare);
  if (alone.ok && itemsOf(rules.tree).length > 0)
    throw new Refusal('bad-request', 'Rules hold categories only; assessments are made apart. Nothing was changed.');
  const whole = alone.ok
    ? checkBook(
        assembleBook(assembleSkeleton(timeZone, rules, assessments.map(toPlacedItem)), '2000-01-01T00:00:00Z', [], []),
      )
    : alone;
  if (!whole.ok)
    throw new Refusal(
      'bad-request',
      `These rules cannot be used, and nothing was changed: ${whole.problems[0]!.says}`,
      {
        errors: toPointedErrors(whole.problems),
      },
    );
}

/** Refuses rules or assessments under which a mark that somebody has would mean nothing. */
export async function requireMarksFit(
  db: Db,
  who: { school: string; book: string },
  rules: RulesPart,
  assessments: AssessmentRow[],
): Promise<void> {
  const byId = new Map(assessments.map((a) => [a.id, a]));
  for (const { assessment, mark, people } of await marksUsed(db, who.school, who.book)) {
    const a = byId.get(assessment);
    if (!a || rules.rules?.marks?.[a.more.marks ?? '']?.some((m) => m.label === mark)) continue;
    throw new Refusal(
      'bad-request',
      `${counted(people, 'student has', 'students have')} “${mark}” on ${a.title}, which it would not be scored in any more. Score ${formOf(people, 'it', 'them')} in another way first. Nothing was changed.`,
    );
  }
}
