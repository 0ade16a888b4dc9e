import { assembleBook, assembleSkeleton, rulesOf, type PlacedItem, type Skeleton } from '@core/book/assemble';
import { changeCell, contentOf, isEmpty, shareOfPoints } from '@core/book/change';
import { checkBook } from '@core/book/check';
import { itemsOf, type BookDocument, type Entry } from '@core/book/document';
import { putEntry } from '@core/calculation/cells';
import { compileBook, type CompiledBook } from '@core/calculation/compile';
import { recompile } from '@core/calculation/recompile';
import { workOutStudent } from '@core/calculation/final';
import { entryAt } from '@core/calculation/held-entries';
import { studentResult } from '@core/calculation/result';
import { findCauses } from '@core/trial/causes';
import { compareCompiled, emptyTrial, type Trial } from '@core/trial/compare';
import type { Difference } from '@core/trial/differences';
import type { ShownStanding } from '@core/trial/exception-effects';
import { wishedBook, wishedSkeleton, type Wish } from '@core/trial/wish';
import { warningsOf, type Warning } from '@core/warnings/warnings';
import type { Standings } from '@core/estimate/standings';
import type { CellWish } from './protocol';

/** One student before and after changes that are only tried. */
export interface TriedStudent {
  student: string;
  before: ShownStanding;
  after: ShownStanding;
}

function shown(compiled: CompiledBook, s: number): ShownStanding {
  const { percent, letter } = studentResult(compiled, workOutStudent(compiled, s));
  return { percent, letter };
}

/** Where these changes of cells would leave each student concerned. The book is left as it was. */
export function tryCells(compiled: CompiledBook, wishes: CellWish[]): TriedStudent[] {
  const byStudent = new Map<string, CellWish[]>();
  for (const w of wishes) byStudent.set(w.student, [...(byStudent.get(w.student) ?? []), w]);
  return [...byStudent].flatMap(([student, own]): TriedStudent[] => {
    const s = compiled.studentIndex.get(student);
    if (s === undefined) return [];
    const before = shown(compiled, s);
    const held: [number, Entry | undefined][] = [];
    try {
      for (const { item, change } of own) {
        const node = compiled.nodes.get(item);
        if (node?.type !== 'item') continue;
        const entry = entryAt(compiled, s, node.index);
        held.push([node.index, entry]);
        const is = changeCell(contentOf(entry), change);
        putEntry(compiled, s, node.index, isEmpty(is) ? undefined : { student, item, ...is });
      }
      return [{ student, before, after: shown(compiled, s) }];
    } finally {
      for (const [i, entry] of held.reverse()) putEntry(compiled, s, i, entry);
    }
  });
}

/** The book's assessments as they would be; `rescale`: scores of one keep their percentages of the points before. */
export interface TriedItems {
  items: PlacedItem[];
  rescale: { item: string; from: number; to: number } | null;
}

function rescaled(entry: Entry, from: number, to: number): Entry {
  const out = { ...entry };
  if (out.set !== undefined) out.set = shareOfPoints(out.set, from, to);
  if (out.attempts)
    out.attempts = out.attempts.map((a) =>
      a.score === undefined ? a : { ...a, score: shareOfPoints(a.score, from, to) },
    );
  return out;
}

/** The book with other assessments beside the book as it is. */
export function tryItems(
  compiled: CompiledBook,
  before: BookDocument,
  tried: TriedItems,
): { trial: Trial; problems: string[] } {
  const here = new Set(tried.items.map((p) => p.item.id));
  const { rescale } = tried;
  const after = assembleBook(
    assembleSkeleton(before.timeZone, rulesOf(before), tried.items),
    before.asOf,
    before.students,
    before.entries
      .filter((e) => here.has(e.item))
      .map((e) => (rescale && e.item === rescale.item ? rescaled(e, rescale.from, rescale.to) : e)),
    before.overrides,
  );
  const checked = checkBook(after);
  if (checked.ok) return { trial: compareCompiled(compiled, compileBook(checked.book)), problems: [] };
  return {
    trial: { ...emptyTrial(), students: before.students.length },
    problems: checked.problems.map((p) => p.says),
  };
}

/** A wish tried: who would move, or why the rules cannot be so. */
export interface TriedWish {
  trial: Trial;
  problems: { at: string; says: string }[];
}

/**
 * The book under other rules and settings of items, beside the book as it is; `current` gives the document with what was
 * changed since. Students and entries are the same before and after, so only the rules are checked, and that every mark
 * that somebody has would still mean something.
 */
export function tryWish(compiled: CompiledBook, current: () => BookDocument, wish: Wish, known: Standings): TriedWish {
  const { book } = compiled;
  const bare = { ...wishedSkeleton(book, wish), asOf: book.asOf };
  const checked = checkBook({ ...bare, students: [], entries: [] });
  const problems = checked.ok ? strangeMarks(compiled, bare) : checked.problems;
  if (problems.length > 0) return { trial: { ...emptyTrial(), students: book.students.length }, problems };
  const overrides = book.overrides ? { overrides: book.overrides } : {};
  const after =
    (wish.cells ?? []).length > 0
      ? compileBook(wishedBook(current(), wish))
      : recompile(compiled, { ...bare, ...overrides });
  return { trial: compareCompiled(compiled, after, known), problems: [] };
}

/** What is warned of whoever the students are. */
export const warningsOfRules = (book: BookDocument): Warning[] =>
  warningsOf({ ...book, students: [], entries: [], overrides: [] });

/** Items on which somebody has a mark that would not be among their marks any more. */
function strangeMarks(before: CompiledBook, after: Skeleton): { at: string; says: string }[] {
  return itemsOf(after.tree).flatMap((item) => {
    const was = before.nodes.get(item.id);
    const labels = new Set((after.rules?.marks?.[item.marks ?? ''] ?? []).map((m) => m.label));
    // A label that is still there means something, whatever it is worth.
    if (was?.type !== 'item' || [...(was.marks?.keys() ?? [])].every((label) => labels.has(label))) return [];
    const gone = new Set<string>();
    before.students.forEach((_, s) => {
      for (const a of entryAt(before, s, was.index)?.attempts ?? [])
        if (a.mark !== undefined && !labels.has(a.mark)) gone.add(a.mark);
    });
    if (gone.size === 0) return [];
    const says = `Somebody has “${[...gone].join('”, “')}”, which would not be among the marks any more. Score them in another way first.`;
    return [{ at: `/items/${item.id}`, says }];
  });
}

/** For each mover, in the trial's order, what moves them. */
export function causesOf(before: BookDocument, wish: Wish, trial: Trial): Record<string, Difference[]> {
  findCauses(before, wishedBook(before, wish), trial);
  return Object.fromEntries(trial.movers.map((m) => [m.student, (m.causes ?? []).map((c) => c.difference)]));
}
