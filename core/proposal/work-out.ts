import type { Skeleton } from '../book/assemble';
import { checkBook } from '../book/checks/check';
import { itemsOf, type BookDocument } from '../book/document';
import { compileBook, type CompiledBook } from '../calculation/compiled/compile';
import { entryAt } from '../calculation/cells/entries-by-item';
import { recompile } from '../calculation/compiled/recompile';
import { standingsOf, type Standings } from '../estimate/standings';
import { compareCompiled, emptyTrial, type Trial } from './compare';
import { proposedBook, proposedSkeleton, type Proposal } from './proposal';

/** A wish tried: who would move, or why the rules cannot be so. */
export interface WorkedProposal {
  trial: Trial;
  problems: { at: string; says: string }[];
}

/**
 * The book under other rules and settings of items, beside the book as it is; `current` gives the document with what was
 * changed since. Students and entries are the same before and after, so only the rules are checked, and that every mark
 * that somebody has would still mean something.
 */
export function workOutProposal(
  compiled: CompiledBook,
  current: () => BookDocument,
  wish: Proposal,
  known: Standings = standingsOf(compiled),
): WorkedProposal {
  const { book } = compiled;
  const bare = { ...proposedSkeleton(book, wish), asOf: book.asOf };
  const checked = checkBook({ ...bare, students: [], entries: [] });
  const problems = checked.ok ? strangeMarks(compiled, bare) : checked.problems;
  if (problems.length > 0) return { trial: { ...emptyTrial(), students: book.students.length }, problems };
  const overrides = book.overrides ? { overrides: book.overrides } : {};
  const after =
    (wish.cells ?? []).length > 0
      ? compileBook(proposedBook(current(), wish))
      : recompile(compiled, { ...bare, ...overrides });
  return { trial: compareCompiled(compiled, after, known), problems: [] };
}

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
