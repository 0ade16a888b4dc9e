import type { SchoolRules } from '@core/policy/document';
import type { Db } from '../../../kernel/database';
import type { ReachedBook } from './policy';

/** Rules of a school on their way through its books. */
export interface RolloutRow {
  school: string;
  id: string;
  kind: 'trial' | 'make';
  person: string;
  version: number;
  makes: number | null;
  rules: SchoolRules;
}

type Raw = Omit<RolloutRow, 'rules'> & { body: string };
const ROLLOUT = 'select t.school, t.id, t.kind, t.person, t.version, t.makes, t.body from policy_rollout t';
const toRollout = ({ body, ...t }: Raw): RolloutRow => ({ ...t, rules: JSON.parse(body) as SchoolRules });

export async function insertRollout(db: Db, t: RolloutRow, books: readonly ReachedBook[]): Promise<void> {
  await db.query(
    'insert into policy_rollout (school, id, kind, person, version, makes, body) values ($1, $2, $3, $4, $5, $6, $7)',
    [t.school, t.id, t.kind, t.person, t.version, t.makes, JSON.stringify(t.rules)],
  );
  await db.query(
    `insert into policy_rollout_book (school, rollout, book, position)
     select $1, $2, n.book, n.at from unnest($3::text[]) with ordinality as n (book, at)`,
    [t.school, t.id, books.map((b) => b.id)],
  );
}

export async function findRollout(db: Db, school: string, id: string): Promise<RolloutRow | null> {
  const { rows } = await db.query<Raw>(`${ROLLOUT} where t.school = $1 and t.id = $2`, [school, id]);
  return rows[0] ? toRollout(rows[0]) : null;
}

/** The rollout that a version's making began; null where it is not on record. */
export async function rolloutOfVersion(db: Db, school: string, version: number): Promise<string | null> {
  const { rows } = await db.query<{ id: string }>(
    `select id from policy_rollout where school = $1 and makes = $2 and kind = 'make'`,
    [school, version],
  );
  return rows[0]?.id ?? null;
}

/** Ends the trials of a person, or one of them; a book that is just being worked out is waited for. */
export async function deleteTrials(db: Db, school: string, person: string, id: string | null): Promise<number> {
  const { rowCount } = await db.query(
    `delete from policy_rollout where school = $1 and person = $2 and kind = 'trial' and ($3::text is null or id = $3)`,
    [school, person, id],
  );
  return rowCount ?? 0;
}

export interface RolloutBookRow extends ReachedBook {
  answer: string | null;
}

/** The books of a rollout; each with what came of it. */
export async function booksOfRollout(db: Db, school: string, rollout: string): Promise<RolloutBookRow[]> {
  const { rows } = await db.query<RolloutBookRow>(
    `select b.id, b.title, t.title as term, n.answer from policy_rollout_book n
     join book b on b.school = n.school and b.id = n.book join term t on t.school = b.school and t.id = b.term
     where n.school = $1 and n.rollout = $2 order by n.position`,
    [school, rollout],
  );
  return rows;
}

/** Who would move in one book, as JSON; null where it waits, or moves nobody. */
export async function moversOf(db: Db, school: string, rollout: string, book: string): Promise<string | null> {
  const { rows } = await db.query<{ movers: string | null }>(
    'select movers from policy_rollout_book where school = $1 and rollout = $2 and book = $3',
    [school, rollout, book],
  );
  return rows[0]?.movers ?? null;
}

/**
 * Takes the next book that nobody works out, for as long as the transaction lasts: what is made before what is tried. In
 * one book versions come one after the other, each when the one before it is through.
 */
export async function claimNextBook(db: Db): Promise<(RolloutRow & { book: string }) | null> {
  const { rows } = await db.query<Raw & { book: string }>(
    `select t.school, t.id, t.kind, t.person, t.version, t.makes, t.body, n.book from policy_rollout_book n
     join policy_rollout t on t.school = n.school and t.id = n.rollout where n.answer is null
       and not exists (select 1 from policy_rollout_book o join policy_rollout p on p.school = o.school and p.id = o.rollout
         where o.school = n.school and o.book = n.book and o.answer is null and p.kind = 'make' and p.made_at < t.made_at)
     order by t.kind, t.made_at, n.position limit 1 for update of n skip locked`,
  );
  const row = rows[0];
  return row ? { ...toRollout(row), book: row.book } : null;
}

/** Schools with books that wait for rules. */
export async function schoolsWithPendingRollouts(db: Db): Promise<{ school: string }[]> {
  const { rows } = await db.query<{ school: string }>(
    'select distinct school from policy_rollout_book where answer is null',
  );
  return rows;
}

export async function writeRolloutResult(
  db: Db,
  t: RolloutRow & { book: string },
  answer: string,
  movers: string | null,
): Promise<void> {
  await db.query(
    'update policy_rollout_book set answer = $4, movers = $5 where school = $1 and rollout = $2 and book = $3',
    [t.school, t.id, t.book, answer, movers],
  );
}
