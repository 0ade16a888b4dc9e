import type { BookDocument } from '../book/document';
import type { CompiledBook, CompiledItem } from '../calculation/compiled/compile';
import { hoursToMillis, parseMoment } from '../time/moment';
import type { Warning } from './warnings';

/** One student's own dates and protections that work against other rules. */
export function studentWarnings(book: BookDocument, compiled: CompiledBook): Warning[] {
  const students = new Map(book.students.map((s) => [s.id, s]));
  const out: Warning[] = [];
  const kept = new Map<string, number[]>();
  book.entries.forEach((entry, i) => {
    const item = compiled.nodes.get(entry.item) as CompiledItem;
    const student = students.get(entry.student)!;
    const extra = hoursToMillis(student.extraTimeHours ?? 0);
    if (entry.dueAt !== undefined && extra > 0) {
      const general = (student.section !== undefined && item.sectionDates?.get(student.section)?.due) || item.due;
      if (general !== null && parseMoment(entry.dueAt)! < general + extra)
        out.push({
          kind: 'extension-shorter-than-extra-time',
          at: `/entries/${i}/dueAt`,
          says: `This extension ends before the student’s standing extra time of ${student.extraTimeHours} hours would have: an own date takes its place, it is not added.`,
        });
    }
    if (entry.protected === true && droppable(item)) {
      const key = `${entry.student} ${item.parent!.id}`;
      kept.set(key, [...(kept.get(key) ?? []), i]);
    }
  });
  for (const entries of kept.values()) out.push(...voidDrops(book, compiled, entries));
  return out;
}

const droppable = (item: CompiledItem): boolean => {
  const { drop, keepBest } = item.parent!.source;
  return (drop?.lowest ?? 0) + (drop?.highest ?? 0) > 0 || keepBest !== undefined;
};

/** Protected entries of one student in one group: do they leave its rule anything to drop? */
function voidDrops(book: BookDocument, compiled: CompiledBook, entries: number[]): Warning[] {
  const group = (compiled.nodes.get(book.entries[entries[0]!]!.item) as CompiledItem).parent!;
  const held = new Set(entries.map((i) => book.entries[i]!.item));
  const pieces = group.children.filter((c) => !c.extraCredit && !c.alwaysKept && (c.type !== 'item' || c.counts));
  const free = pieces.filter((c) => !held.has(c.id)).length;
  const { drop, keepBest } = group.source;
  // What is protected is one of the best that are kept, for as long as there are so many.
  const wanted = keepBest === undefined ? (drop?.lowest ?? 0) + (drop?.highest ?? 0) : pieces.length - keepBest;
  if (free >= wanted) return [];
  return entries.map((i) => ({
    kind: 'drop-void',
    at: `/entries/${i}/protected`,
    says: `What is protected here cannot be dropped, and too little else can: for this student ${group.id} drops fewer than its rule says.`,
  }));
}
