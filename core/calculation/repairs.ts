import { groupsOf, type BookDocument } from '../book/document';
import { compileBook } from './compiled/compile';
import type { CompiledBook } from './compiled/compiled';
import { workOutStudent } from './final';

/**
 * Which calculation works a book out. 2: a piece of extra credit that is not done is worth nothing within its group
 * instead of leaving it (contract, 5.2), and what is protected is one of the best that are kept (5.1).
 */
export const CALCULATION_VERSION = 2;

/** The book as version 1 worked it out. */
function beforeRepairs(compiled: CompiledBook): CompiledBook {
  return { ...compiled, variants: compiled.variants.map((v) => ({ ...v, isBeforeRepairs: true as const })) };
}

/** The students to whom version 2 gives another percentage or letter than version 1 did. */
export function movedByRepairs(book: BookDocument): string[] {
  const isConcerned = groupsOf(book.tree).some(
    (g) => g.extraCredit === true || (g.keepBest !== undefined && book.entries.some((e) => e.protected)),
  );
  if (!isConcerned) return [];
  const compiled = compileBook(book);
  const before = beforeRepairs(compiled);
  return compiled.students.flatMap(({ id }, s) => {
    const [was, is] = [workOutStudent(before, s).final, workOutStudent(compiled, s).final];
    return was.rounded === is.rounded && was.letter === is.letter ? [] : [id];
  });
}
