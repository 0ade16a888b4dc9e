import type { BookDocument } from '../../book/document';
import { hoursToMillis, parseMoment } from '../../time/moment';
import { emptyCells, makeCells, putEntries } from '../cells/cells';
import type { CompiledBook } from './compiled';
import { compileNodes } from './compile-tree';
import { compileScale } from '../letters';
import { compileShown } from '../shown';
import { compileVariants } from './variants';

export type * from './compiled';

/** Compiles a document that {@link checkBook} has passed. A faulty one may throw. */
export function compileBook(book: BookDocument): CompiledBook {
  return putEntries(compileRules(book), book.entries);
}

/**
 * A document whose rules and tree are the very objects of one compiled before, with other students: what is compiled of
 * the tree is taken over. Nothing of `like` is changed.
 */
export function compileLike(like: CompiledBook, book: BookDocument): CompiledBook {
  const compiled: CompiledBook = { ...like, book, ...compileStudents(book) };
  compiled.cells = emptyCells(compiled);
  makeCells(compiled);
  return putEntries(compiled, book.entries);
}

/** The same with no entry at all: every cell a blank. Entries are then put with {@link putEntry}. */
export function compileRules(book: BookDocument): CompiledBook {
  const compiled = compileTree(book);
  makeCells(compiled);
  return compiled;
}

/** What of a compiled book is its students and its moment. */
function compileStudents(
  book: BookDocument,
): Pick<CompiledBook, 'asOf' | 'students' | 'studentIndex' | 'extraMillis' | 'variantOf' | 'entries' | 'overrides'> {
  const { students } = book;
  const variants = ['', ...Object.keys(book.variants ?? {}).filter((name) => name !== 'info')];
  return {
    asOf: parseMoment(book.asOf)!,
    students,
    studentIndex: new Map(students.map((s, i) => [s.id, i])),
    extraMillis: Float64Array.from(students, (s) => hoursToMillis(s.extraTimeHours ?? 0)),
    variantOf: Uint16Array.from(students, (s) =>
      s.variant === undefined ? 0 : Math.max(0, variants.indexOf(s.variant)),
    ),
    entries: students.map(() => []),
    overrides: new Map((book.overrides ?? []).map((o) => [o.student, o])),
  };
}

/** Rules, tree and students with no cell valued yet. */
export function compileTree(book: BookDocument): CompiledBook {
  const tree = compileNodes(book);
  const compiled: CompiledBook = {
    book,
    ...compileStudents(book),
    closing: book.closing === true,
    lateAllowanceMillis: hoursToMillis(book.lateAllowanceHours ?? 24),
    ...tree,
    variants: compileVariants(book, tree),
    scale: book.scale == null ? null : compileScale(book.rules!.scales![book.scale]!),
    shown: compileShown(book.shown),
    cells: { width: 0, kind: new Uint8Array(), earned: new Float64Array(), exact: new Map() },
  };
  compiled.cells = emptyCells(compiled);
  return compiled;
}
