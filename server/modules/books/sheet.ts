import { areNamesHidden } from '@core/work/hidden-names';
import type { BookDocument, Group, Item, Node, Student } from '@core/book/document';
import type { Sheet } from '@contract/books';
import type { CellRow } from '../../kernel/cells/sql';
import type { Db } from '../../kernel/database';
import type { Names, Veil } from '../hidden-names';
import { assemble, type AssembledBook } from './assemble';

/** The sheet of a book, by name with what may be told so, or of one assessment through a veil. */
export async function sheetOf(db: Db, school: string, id: string, names: Names): Promise<Sheet> {
  const book = await assemble(db, school, id, names.veil || names.hidden.size > 0 ? 'whole' : undefined);
  if (names.veil) return veiledSheet(book, names.veil);
  if (names.hidden.size === 0) return sheetIn(book, book.document, book.cells);
  // What waits is counted before it is left out.
  const open = await assemble(db, school, id);
  const hidden = book.assessments
    .filter((a) => areNamesHidden(a.work))
    .map((a) => ({ assessment: a.id, waits: book.cells.filter((c) => c.assessment === a.id && waits(c)).length }));
  return { ...sheetIn(open, open.document, open.cells), hidden };
}

const sheetIn = (book: AssembledBook, document: BookDocument, cells: readonly CellRow[]): Sheet => ({
  seq: book.row.seq,
  document,
  versions: cells.map((c) => c.version),
  releaseStates: cells.map((c) => c.releaseState),
  faulty: book.faulty,
});

/** Work that came in and has no score. */
const waits = ({ content: { state, set, attempts } }: CellRow): boolean =>
  state !== 'excused' && set === undefined && attempts?.some((a) => a.score === undefined && a.mark === undefined) === true; // prettier-ignore

/** One assessment's cells alone, in nobody's order, with what its dates need of each student and no more. */
function veiledSheet(book: AssembledBook, veil: Veil): Sheet {
  const item = book.assessments.find((a) => a.id === veil.assessment);
  // Sections are called by their place among those that have dates of their own.
  const dated = Object.keys(item?.more.sectionDates ?? {});
  const sectionOf = (id: string): string => `dates-${dated.indexOf(id) + 1}`;
  const byAlias = <R>(rows: readonly R[], of: (row: R) => string): R[] =>
    rows.toSorted((a, b) => (veil.aliasOf(of(a)) < veil.aliasOf(of(b)) ? -1 : 1));
  const cells = byAlias(book.cells.filter((c) => c.assessment === veil.assessment), (c) => c.enrolment); // prettier-ignore
  const { overrides: _o, tree, ...rest } = book.document;
  const document: BookDocument = {
    ...rest,
    tree: withDates(tree, (i) => {
      const { sectionDates, ...bare } = i;
      if (i.id !== veil.assessment || !sectionDates) return bare;
      return { ...bare, sectionDates: Object.fromEntries(Object.entries(sectionDates).map(([s, d]) => [sectionOf(s), d])) }; // prettier-ignore
    }),
    students: byAlias(book.document.students, (s) => s.id).map(({ id, section, extraTimeHours }): Student => ({
      id,
      ...(section !== undefined && dated.includes(section) ? { section: sectionOf(section) } : {}),
      ...(extraTimeHours === undefined ? {} : { extraTimeHours }),
    })),
    entries: cells.map((c) => ({ student: c.enrolment, item: c.assessment, ...c.content })),
  };
  const faulty = book.faulty.filter((f) => f.assessment === veil.assessment);
  return { ...sheetIn(book, document, cells), faulty };
}

/** A tree with every item changed. */
function withDates(group: Group, of: (item: Item) => Item): Group {
  return {
    ...group,
    children: group.children.map((c): Node => (c.type === 'item' ? of(c) : c.type === 'group' ? withDates(c, of) : c)),
  };
}
