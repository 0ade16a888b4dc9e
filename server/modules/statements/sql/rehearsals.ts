import type { RehearsalWrite } from '@contract/statements';
import type { Db } from '../../../kernel/database';

/** What somebody invented last in a book; null: nothing yet. */
export async function rehearsalOf(
  db: Db,
  school: string,
  book: string,
  person: string,
): Promise<RehearsalWrite | null> {
  const { rows } = await db.query<{ body: string }>(
    'select body from rehearsal where school = $1 and book = $2 and person = $3',
    [school, book, person],
  );
  return rows[0] ? (JSON.parse(rows[0].body) as RehearsalWrite) : null;
}

export async function putRehearsal(
  db: Db,
  school: string,
  book: string,
  person: string,
  write: RehearsalWrite,
): Promise<void> {
  await db.query(
    `insert into rehearsal (school, book, person, body) values ($1, $2, $3, $4)
     on conflict (school, book, person) do update set body = excluded.body`,
    [school, book, person, JSON.stringify(write)],
  );
}
