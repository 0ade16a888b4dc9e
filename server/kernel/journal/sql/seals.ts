import type { Db } from '../../database';

/** Where the seals of a book's journal end, and its last line. */
export interface SealState {
  seq: number;
  block: number;
  sealed: number;
  hash: string;
}

/** Books whose journal has lines that are not sealed yet. */
export async function unsealedBooks(db: Db): Promise<{ school: string; book: string }[]> {
  const { rows } = await db.query<{ school: string; book: string }>(
    `select b.school, b.id as book from book b where b.seq > coalesce((select last_seq from journal_seal s
       where s.school = b.school and s.book = b.id order by block desc limit 1), 0)`,
  );
  return rows;
}

export async function sealStateOf(db: Db, school: string, book: string): Promise<SealState> {
  const { rows } = await db.query<SealState>(
    `select b.seq, coalesce(s.block, 0) as block, coalesce(s.last_seq, 0) as sealed, coalesce(s.hash, '') as hash
     from book b left join lateral (select block, last_seq, hash from journal_seal s
       where s.school = b.school and s.book = b.id order by block desc limit 1) s on true
     where b.school = $1 and b.id = $2`,
    [school, book],
  );
  return rows[0]!;
}

/** Held to the end of the transaction by the one who seals a book's journal; false: another does. */
export async function maySeal(db: Db, school: string, book: string): Promise<boolean> {
  const { rows } = await db.query<{ mine: boolean }>(
    `select pg_try_advisory_xact_lock(hashtextextended('seals ' || $1 || ' ' || $2, 0)) as mine`,
    [school, book],
  );
  return rows[0]!.mine;
}

export async function insertSeal(
  db: Db,
  s: { school: string; book: string; block: number; first: number; last: number; hash: string },
): Promise<void> {
  await db.query(
    `insert into journal_seal (school, book, block, first_seq, last_seq, hash) values ($1, $2, $3, $4, $5, $6)`,
    [s.school, s.book, s.block, s.first, s.last, s.hash],
  );
}

export interface SealRow {
  block: number;
  first: number;
  last: number;
  hash: string;
}

export async function sealsOf(db: Db, school: string, book: string): Promise<SealRow[]> {
  const { rows } = await db.query<SealRow>(
    `select block, first_seq as first, last_seq as last, hash from journal_seal
     where school = $1 and book = $2 order by block`,
    [school, book],
  );
  return rows;
}

/** Every field of a line as text, as it is sealed. */
export type SealedLine = (string | number | null)[];

export async function sealedLines(
  db: Db,
  school: string,
  book: string,
  first: number,
  last: number,
): Promise<SealedLine[]> {
  const { rows } = await db.query<{ line: SealedLine }>(
    `select json_build_array(seq, batch, operation, to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"'),
       person, kind, assessment, enrolment, was, becomes) as line
     from journal where school = $1 and book = $2 and seq between $3 and $4 order by seq`,
    [school, book, first, last],
  );
  return rows.map((r) => r.line);
}

/** All books of all schools with the number of their last line, and how many lines there are. */
export async function booksWithLines(
  db: Db,
): Promise<{ school: string; book: string; title: string; seq: number; lines: number }[]> {
  const { rows } = await db.query<{ school: string; book: string; title: string; seq: number; lines: number }>(
    `select b.school, b.id as book, b.title, b.seq,
       (select count(*)::int from journal j where j.school = b.school and j.book = b.id) as lines
     from book b order by b.school, b.id`,
  );
  return rows;
}
