import { assembleBook, assembleSkeleton, rulesOf, type PlacedItem } from '@core/book/assemble';
import { changeCell, contentOf, isEmpty, shareOfPoints } from '@core/book/change';
import { checkBook } from '@core/book/checks/check';
import type { BookDocument, Entry } from '@core/book/document';
import { putEntry } from '@core/calculation/cells/cells';
import { compileBook, type CompiledBook } from '@core/calculation/compiled/compile';
import { workOutStudent } from '@core/calculation/final';
import { entryAt } from '@core/calculation/cells/entries-by-item';
import { studentResult } from '@core/calculation/result';
import { findCauses } from '@core/proposal/causes';
import { compareCompiled, emptyTrial, type Trial } from '@core/proposal/compare';
import type { Difference } from '@core/proposal/differences';
import type { ShownStanding } from '@core/proposal/exception-effects';
import { proposedBook, type Proposal } from '@core/proposal/proposal';
import { warningsOf, type Warning } from '@core/warnings/warnings';
import type { CellWish } from './protocol';

/** A final grade in place of the one worked out: one of both; none of both ends it. */
export interface WishedGrade {
  percent: number | null;
  letter: string | null;
}

/** One student before and after changes that are only tried. */
export interface StudentWhatIf {
  student: string;
  before: ShownStanding;
  after: ShownStanding;
}

function shown(compiled: CompiledBook, s: number): ShownStanding {
  const { percent, letter } = studentResult(compiled, workOutStudent(compiled, s));
  return { percent, letter };
}

/** Where these changes of cells would leave each student concerned. The book is left as it was. */
export function whatIfCells(compiled: CompiledBook, wishes: CellWish[]): StudentWhatIf[] {
  const byStudent = new Map<string, CellWish[]>();
  for (const w of wishes) byStudent.set(w.student, [...(byStudent.get(w.student) ?? []), w]);
  return [...byStudent].flatMap(([student, own]): StudentWhatIf[] => {
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

/** Where a final grade set by hand, or none, would leave each of these. The book is left as it was. */
export function whatIfOverride(compiled: CompiledBook, students: string[], grade: WishedGrade): StudentWhatIf[] {
  return students.flatMap((student): StudentWhatIf[] => {
    const s = compiled.studentIndex.get(student);
    if (s === undefined) return [];
    const before = shown(compiled, s);
    const held = compiled.overrides.get(student);
    try {
      if (grade.percent !== null) compiled.overrides.set(student, { student, percent: grade.percent });
      else if (grade.letter !== null) compiled.overrides.set(student, { student, letter: grade.letter });
      else compiled.overrides.delete(student);
      return [{ student, before, after: shown(compiled, s) }];
    } finally {
      if (held) compiled.overrides.set(student, held);
      else compiled.overrides.delete(student);
    }
  });
}

/** The book's assessments as they would be; `rescaled`: scores of these keep their percentages of the points before. */
export interface ItemsProposal {
  items: PlacedItem[];
  rescaled: readonly { item: string; from: number; to: number }[];
}

function withPercentages(entry: Entry, by: { from: number; to: number } | undefined): Entry {
  if (!by) return entry;
  const { from, to } = by;
  const out = { ...entry };
  if (out.set !== undefined) out.set = shareOfPoints(out.set, from, to);
  if (out.attempts)
    out.attempts = out.attempts.map((a) =>
      a.score === undefined ? a : { ...a, score: shareOfPoints(a.score, from, to) },
    );
  return out;
}

/** The book with other assessments beside the book as it is. */
export function whatIfItems(
  compiled: CompiledBook,
  before: BookDocument,
  tried: ItemsProposal,
): { trial: Trial; problems: string[] } {
  const here = new Set(tried.items.map((p) => p.item.id));
  const rescaled = new Map(tried.rescaled.map((r) => [r.item, r]));
  const after = assembleBook(
    assembleSkeleton(before.timeZone, rulesOf(before), tried.items),
    before.asOf,
    before.students,
    before.entries.filter((e) => here.has(e.item)).map((e) => withPercentages(e, rescaled.get(e.item))),
    before.overrides,
  );
  const checked = checkBook(after);
  if (checked.ok) return { trial: compareCompiled(compiled, compileBook(checked.book)), problems: [] };
  return {
    trial: { ...emptyTrial(), students: before.students.length },
    problems: checked.problems.map((p) => p.says),
  };
}

/** What is warned of whoever the students are. */
export const warningsOfRules = (book: BookDocument): Warning[] =>
  warningsOf({ ...book, students: [], entries: [], overrides: [] });

/** For each mover, in the trial's order, what moves them. */
export function causesOf(before: BookDocument, wish: Proposal, trial: Trial): Record<string, Difference[]> {
  findCauses(before, proposedBook(before, wish), trial);
  return Object.fromEntries(trial.movers.map((m) => [m.student, (m.causes ?? []).map((c) => c.difference)]));
}
