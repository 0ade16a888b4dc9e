import type { Db } from '../../kernel/database';
import { aliasKeyOf, enrolmentIds, hiddenIn } from './sql';
import { Veil } from './veil';

/** Something about one student and, mostly, one assessment of a book. */
interface Row {
  book: string;
  assessment: string | null;
  enrolment: string;
}

/** The book as it is looked at through a veil. */
export const veiledBook = (book: string, assessment: string): string => `${book}~${assessment}`;

export async function veilOf(db: Db, school: string, book: string, assessment: string): Promise<Veil> {
  return new Veil(assessment, await aliasKeyOf(db, school), book, await enrolmentIds(db, school, book));
}

/**
 * Rows of several books: what is about an assessment in which names are hidden leads through the veil, by alias, and
 * `rename` gives it a reed's name; it comes last, since the place among names would say what the name does.
 */
export async function nameless<R extends Row>(
  db: Db,
  school: string,
  rows: readonly R[],
  rename: (row: R, name: string) => R,
): Promise<R[]> {
  const hidden = new Map<string, Set<string>>();
  for (const book of new Set(rows.map((r) => r.book))) hidden.set(book, await hiddenIn(db, school, book));
  const veils = new Map<string, Veil>();
  const [named, veiled]: [R[], R[]] = [[], []];
  for (const row of rows) {
    const { book, assessment, enrolment } = row;
    if (assessment === null || !hidden.get(book)!.has(assessment)) {
      named.push(row);
      continue;
    }
    const address = veiledBook(book, assessment);
    const veil = veils.get(address) ?? (await veilOf(db, school, book, assessment));
    veils.set(address, veil);
    veiled.push(rename({ ...row, book: address, enrolment: veil.aliasOf(enrolment) }, veil.nameOf(enrolment)));
  }
  const key = (r: R): string => `${r.book} ${r.enrolment}`;
  return [...named, ...veiled.sort((a, b) => (key(a) < key(b) ? -1 : 1))];
}
