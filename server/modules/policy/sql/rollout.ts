import type { SchoolRules } from '@core/policy/document';
import type { Db } from '../../../kernel/database';
import type { ReachedBook } from './policy';

/** Rules of a school on their way through its books. */
export interface TurnRow {
  school: string;
  id: string;
  kind: 'trial' | 'make';
  person: string;
  version: number;
  makes: number | null;
  rules: SchoolRules;
}

type Raw = Omit<TurnRow, 'rules'> & { body: string };
const TURN = 'select t.school, t.id, t.kind, t.person, t.version, t.makes, t.body from school_turn t';
const toTurn = ({ body, ...t }: Raw): TurnRow => ({ ...t, rules: JSON.parse(body) as SchoolRules });

export async function insertTurn(db: Db, t: TurnRow, books: readonly ReachedBook[]): Promise<void> {
  await db.query(
    'insert into school_turn (school, id, kind, person, version, makes, body) values ($1, $2, $3, $4, $5, $6, $7)',
    [t.school, t.id, t.kind, t.person, t.version, t.makes, JSON.stringify(t.rules)],
  );
  await db.query(
    `insert into school_turn_book (school, turn, book, position)
     select $1, $2, n.book, n.at from unnest($3::text[]) with ordinality as n (book, at)`,
    [t.school, t.id, books.map((b) => b.id)],
  );
}

export async function findTurn(db: Db, school: string, id: string): Promise<TurnRow | null> {
  const { rows } = await db.query<Raw>(`${TURN} where t.school = $1 and t.id = $2`, [school, id]);
  return rows[0] ? toTurn(rows[0]) : null;
}

/** The turn that a version's making began; null where it is not on record. */
export async function turnOfVersion(db: Db, school: string, version: number): Promise<string | null> {
  const { rows } = await db.query<{ id: string }>(
    `select id from school_turn where school = $1 and makes = $2 and kind = 'make'`,
    [school, version],
  );
  return rows[0]?.id ?? null;
}

/** Ends the trials of a person, or one of them; a book that is just being worked out is waited for. */
export async function deleteTrials(db: Db, school: string, person: string, id: string | null): Promise<number> {
  const { rowCount } = await db.query(
    `delete from school_turn where school = $1 and person = $2 and kind = 'trial' and ($3::text is null or id = $3)`,
    [school, person, id],
  );
  return rowCount ?? 0;
}

export interface TurnBookRow extends ReachedBook {
  answer: string | null;
}

/** The books of a turn; each with what came of it. */
export async function booksOfTurn(db: Db, school: string, turn: string): Promise<TurnBookRow[]> {
  const { rows } = await db.query<TurnBookRow>(
    `select b.id, b.title, t.title as term, n.answer from school_turn_book n
     join book b on b.school = n.school and b.id = n.book join term t on t.school = b.school and t.id = b.term
     where n.school = $1 and n.turn = $2 order by n.position`,
    [school, turn],
  );
  return rows;
}

/** Who would move in one book, as JSON; null where it waits, or moves nobody. */
export async function moversOf(db: Db, school: string, turn: string, book: string): Promise<string | null> {
  const { rows } = await db.query<{ movers: string | null }>(
    'select movers from school_turn_book where school = $1 and turn = $2 and book = $3',
    [school, turn, book],
  );
  return rows[0]?.movers ?? null;
}

/**
 * Takes the next book that nobody works out, for as long as the transaction lasts: what is made before what is tried. In
 * one book versions come one after the other, each when the one before it is through.
 */
export async function takeNext(db: Db): Promise<(TurnRow & { book: string }) | null> {
  const { rows } = await db.query<Raw & { book: string }>(
    `select t.school, t.id, t.kind, t.person, t.version, t.makes, t.body, n.book from school_turn_book n
     join school_turn t on t.school = n.school and t.id = n.turn where n.answer is null
       and not exists (select 1 from school_turn_book o join school_turn p on p.school = o.school and p.id = o.turn
         where o.school = n.school and o.book = n.book and o.answer is null and p.kind = 'make' and p.made_at < t.made_at)
     order by t.kind, t.made_at, n.position limit 1 for update of n skip locked`,
  );
  const row = rows[0];
  return row ? { ...toTurn(row), book: row.book } : null;
}

export async function anythingWaits(db: Db): Promise<boolean> {
  const { rows } = await db.query<{ any: boolean }>(
    'select exists (select 1 from school_turn_book where answer is null) as any',
  );
  return rows[0]!.any;
}

export async function writeAnswer(
  db: Db,
  t: TurnRow & { book: string },
  answer: string,
  movers: string | null,
): Promise<void> {
  await db.query('update school_turn_book set answer = $4, movers = $5 where school = $1 and turn = $2 and book = $3', [
    t.school,
    t.id,
    t.book,
    answer,
    movers,
  ]);
}
