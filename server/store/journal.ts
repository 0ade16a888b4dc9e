import { newId, type Db } from './database';

export type JournalKind = 'cell' | 'rules' | 'assessment' | 'release' | 'withdraw' | 'enrol' | 'book' | 'settings';

export interface JournalLine {
  /** Unique in its book: a write that is tried again finds its own line. */
  operation: string;
  kind: JournalKind;
  assessment: string | null;
  enrolment: string | null;
  was: string | null;
  becomes: string | null;
}

export interface Who {
  school: string;
  book: string;
  person: string;
}

/** Locks the book until the transaction ends and reserves the next `count` lines of its journal. Gives the first. */
export async function lockBook(db: Db, school: string, book: string, count: number): Promise<number> {
  const { rows } = await db.query<{ seq: number }>(
    'update book set seq = seq + $3 where school = $1 and id = $2 returning seq',
    [school, book, count],
  );
  return rows[0]!.seq - count + 1;
}

/** Writes lines from `first` on, as one batch. Their order is that of the list. */
export async function writeLines(
  db: Db,
  who: Who,
  first: number,
  lines: JournalLine[],
  options: { batch?: string; reason?: string } = {},
): Promise<void> {
  const batch = options.batch ?? newId('b');
  await db.query(
    `insert into journal (school, book, person, batch, seq, operation, kind, assessment, enrolment, was, becomes)
     select $1, $2, $3, $4, $5 + n.at - 1, n.operation, n.kind, n.assessment, n.enrolment, n.was, n.becomes
     from unnest($6::text[], $7::text[], $8::text[], $9::text[], $10::text[], $11::text[])
       with ordinality as n (operation, kind, assessment, enrolment, was, becomes, at)`,
    [
      who.school,
      who.book,
      who.person,
      batch,
      first,
      lines.map((l) => l.operation),
      lines.map((l) => l.kind),
      lines.map((l) => l.assessment),
      lines.map((l) => l.enrolment),
      lines.map((l) => l.was),
      lines.map((l) => l.becomes),
    ],
  );
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

export interface BatchRow {
  id: string;
  kind: 'intake' | 'undo';
  title: string;
  madeAt: string;
  family: string;
  given: string;
  cells: number;
  undone: boolean;
}

export async function insertBatch(
  db: Db,
  who: Who,
  b: { id: string; kind: 'intake' | 'undo'; title: string; cells: number },
): Promise<void> {
  await db.query(
    'insert into batch (school, book, id, kind, title, made_by, cells) values ($1, $2, $3, $4, $5, $6, $7)',
    [who.school, who.book, b.id, b.kind, b.title, who.person, b.cells],
  );
}

export async function batchesOf(db: Db, school: string, book: string): Promise<BatchRow[]> {
  const { rows } = await db.query<BatchRow>(
    `select b.id, b.kind, b.title, b.made_at as "madeAt", p.family, p.given, b.cells, b.undone_by is not null as undone
     from batch b join person p on p.school = b.school and p.id = b.made_by
     where b.school = $1 and b.book = $2 order by b.made_at desc limit 50`,
    [school, book],
  );
  return rows;
}

export async function findBatch(
  db: Db,
  school: string,
  book: string,
  id: string,
): Promise<{ title: string; undone: boolean; kind: string } | null> {
  const { rows } = await db.query<{ title: string; undone: boolean; kind: string }>(
    'select title, undone_by is not null as undone, kind from batch where school = $1 and book = $2 and id = $3',
    [school, book, id],
  );
  return rows[0] ?? null;
}

export async function batchByOperation(
  db: Db,
  school: string,
  book: string,
  operation: string,
): Promise<{ id: string; cells: number } | null> {
  const { rows } = await db.query<{ id: string; cells: number }>(
    `select b.id, b.cells from journal j join batch b on b.school = j.school and b.book = j.book and b.id = j.batch
     where j.school = $1 and j.book = $2 and j.operation = $3`,
    [school, book, operation],
  );
  return rows[0] ?? null;
}

export async function markUndone(db: Db, school: string, book: string, id: string, by: string): Promise<void> {
  await db.query('update batch set undone_by = $4 where school = $1 and book = $2 and id = $3', [school, book, id, by]);
}

export async function cellLinesOfBatch(
  db: Db,
  school: string,
  book: string,
  batch: string,
): Promise<{ seq: number; assessment: string; enrolment: string; was: string; becomes: string }[]> {
  const { rows } = await db.query<{ seq: number; assessment: string; enrolment: string; was: string; becomes: string }>(
    `select seq, assessment, enrolment, was, becomes from journal
     where school = $1 and book = $2 and batch = $3 and kind = 'cell' order by seq`,
    [school, book, batch],
  );
  return rows;
}

export async function lastChange(db: Db, school: string, book: string, seq: number): Promise<string | null> {
  const { rows } = await db.query<{ at: string }>(
    'select at from journal where school = $1 and book = $2 and seq = $3',
    [school, book, seq],
  );
  return rows[0]?.at ?? null;
}
