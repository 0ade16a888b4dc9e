import type { Db } from '../../../kernel/database';

/** What was asked under an operation's id, by whom, and what was answered. */
export interface OperationRow {
  id: string;
  book: string;
  person: string;
  /** SHA-256 of route and canonical body. */
  fingerprint: string;
  /** JSON. */
  answer: string;
}

export async function findOperation(db: Db, school: string, id: string): Promise<OperationRow | null> {
  const { rows } = await db.query<OperationRow>(
    'select id, book, person, fingerprint, answer from operation where school = $1 and id = $2',
    [school, id],
  );
  return rows[0] ?? null;
}

/** False where the id was taken meanwhile. */
export async function insertOperation(db: Db, school: string, o: OperationRow): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into operation (school, id, book, person, fingerprint, answer) values ($1, $2, $3, $4, $5, $6)
     on conflict do nothing`,
    [school, o.id, o.book, o.person, o.fingerprint, o.answer],
  );
  return rowCount === 1;
}

/** Forgets what nobody sends again. */
export async function deleteOldOperations(db: Db, days: number): Promise<void> {
  await db.query(`delete from operation where at < now() - make_interval(days => $1)`, [days]);
}
