import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';

/**
 * Books that were worked out by an earlier calculation last, with whoever made their rules: a hundred of them in no order,
 * so that those that cannot be put together hold nobody up.
 */
export async function booksOfEarlierCalculation(
  db: Db,
  version: number,
): Promise<{ school: string; book: string; person: string }[]> {
  const { rows } = await db.query<{ school: string; book: string; person: string }>(
    `select b.school, b.id as book, r.made_by as person from book b
       join rules_version r on r.school = b.school and r.book = b.id and r.version = b.rules_version
     where b.calculation < $1 order by random() limit 100`,
    [version],
  );
  return rows;
}

export async function setCalculation(
  db: BookTransaction,
  school: string,
  book: string,
  version: number,
): Promise<void> {
  await db.query('update book set calculation = $3 where school = $1 and id = $2', [school, book, version]);
}

/** What was said when the calculation changed after a line of the book's journal; null: it did not. */
export async function calculationSince(
  db: Db,
  school: string,
  book: string,
  seq: number,
): Promise<{ version: number; students: number } | null> {
  const { rows } = await db.query<{ becomes: string }>(
    `select becomes from journal where school = $1 and book = $2 and kind = 'calculation' and seq > $3
     order by seq desc limit 1`,
    [school, book, seq],
  );
  return rows[0] ? (JSON.parse(rows[0].becomes) as { version: number; students: number }) : null;
}
