import type { JournalKind } from '@contract/history';
import type { BookTransaction } from '../../book-transaction';
import { newId, type Db } from '../../database';

/** What a line says. */
export interface LineContent {
  kind: JournalKind;
  assessment: string | null;
  enrolment: string | null;
  was: string | null;
  becomes: string | null;
}

export interface JournalLine extends LineContent {
  /** Unique in its book: a write that is tried again finds its own line. */
  operation: string;
  /** Of a single cell: what was asked, so that the same operation with something else in it is known. */
  fingerprint?: string;
  /** Where not that of all lines written together. */
  person?: string;
  batch?: string;
}

export interface Who {
  school: string;
  book: string;
  person: string;
}

/** Locks the book until the transaction ends and reserves the next `count` lines of its journal. Gives the first. */
export async function reserveJournalNumbers(
  db: BookTransaction,
  school: string,
  book: string,
  count: number,
): Promise<number> {
  const { rows } = await db.query<{ seq: number }>(
    'update book set seq = seq + $3 where school = $1 and id = $2 returning seq',
    [school, book, count],
  );
  return rows[0]!.seq - count + 1;
}

/** Locks the book until the transaction ends; gives the number of its journal's last line, null where there is no such book. */
export async function lockBook(db: BookTransaction, school: string, book: string): Promise<number | null> {
  const { rows } = await db.query<{ seq: number }>('select seq from book where school = $1 and id = $2 for update', [
    school,
    book,
  ]);
  return rows[0]?.seq ?? null;
}

/** The writing of lines after the line `$seq`, as a part of a statement with its values from `first` on. */
export function linesPart(
  who: Who,
  lines: JournalLine[],
  batch: string,
  first: number,
  before: string,
  condition = 'true',
): { sql: string; values: unknown[] } {
  const p = (i: number): string => `$${first + i}`;
  return {
    sql: `insert into journal (school, book, seq, person, batch, operation, kind, assessment, enrolment, was, becomes,
        fingerprint, at)
      select $1, $2, ${before} + n.at, n.person, n.batch, n.operation, n.kind, n.assessment, n.enrolment, n.was, n.becomes,
        n.fingerprint, (select school_now($1))
      from unnest(${p(0)}::text[], ${p(1)}::text[], ${p(2)}::text[], ${p(3)}::text[], ${p(4)}::text[], ${p(5)}::text[],
        ${p(6)}::text[], ${p(7)}::text[], ${p(8)}::text[])
        with ordinality as n (person, batch, operation, kind, assessment, enrolment, was, becomes, fingerprint, at)
      where ${condition}`,
    values: [
      lines.map((l) => l.person ?? who.person),
      lines.map((l) => l.batch ?? batch),
      lines.map((l) => l.operation),
      lines.map((l) => l.kind),
      lines.map((l) => l.assessment),
      lines.map((l) => l.enrolment),
      lines.map((l) => l.was),
      lines.map((l) => l.becomes),
      lines.map((l) => l.fingerprint ?? null),
    ],
  };
}

/** Writes lines from `first` on, as one batch. Their order is that of the list. */
export async function writeLines(
  db: BookTransaction,
  who: Who,
  first: number,
  lines: JournalLine[],
  options: { batch?: string; reason?: string } = {},
): Promise<void> {
  const batch = options.batch ?? newId('b');
  const { sql, values } = linesPart(who, lines, batch, 4, '$3::int');
  await db.query(sql, [who.school, who.book, first - 1, ...values]);
  if (options.reason)
    await db.query('insert into journal_reason (school, book, batch, reason) values ($1, $2, $3, $4)', [
      who.school,
      who.book,
      batch,
      options.reason,
    ]);
}

export async function operationDone(db: Db, school: string, book: string, operation: string): Promise<number | null> {
  const { rows } = await db.query<{ seq: number }>(
    'select seq from journal where school = $1 and book = $2 and operation = $3',
    [school, book, operation],
  );
  return rows[0]?.seq ?? null;
}

/** Who wrote the line of an operation. */
export async function personOf(db: Db, school: string, book: string, operation: string): Promise<string | null> {
  const { rows } = await db.query<{ person: string }>(
    'select person from journal where school = $1 and book = $2 and operation = $3',
    [school, book, operation],
  );
  return rows[0]?.person ?? null;
}

/** When each cell of a book was last changed, by assessment: all of them, since asking for each one takes longer. */
export async function lastChangesOfCells(
  db: Db,
  school: string,
  book: string,
): Promise<{ assessment: string; enrolment: string; at: string }[]> {
  const { rows } = await db.query<{ assessment: string; enrolment: string; at: string }>(
    `select distinct on (assessment, enrolment) assessment, enrolment, at from journal
     where school = $1 and book = $2 and kind = 'cell' order by assessment, enrolment, seq desc`,
    [school, book],
  );
  return rows;
}

/** What each cell held after a line of the journal: its own last line up to there. */
export async function cellsAfter(
  db: Db,
  school: string,
  book: string,
  seq: number,
): Promise<{ assessment: string; enrolment: string; becomes: string }[]> {
  const { rows } = await db.query<{ assessment: string; enrolment: string; becomes: string }>(
    `select distinct on (assessment, enrolment) assessment, enrolment, becomes from journal
     where school = $1 and book = $2 and kind = 'cell' and seq <= $3 order by assessment, enrolment, seq desc`,
    [school, book, seq],
  );
  return rows.filter((r) => r.becomes !== '{}');
}
