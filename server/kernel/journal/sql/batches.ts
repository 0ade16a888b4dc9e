import type { BookTransaction } from '../../book-transaction';
import type { Db } from '../../database';
import type { JournalKind } from '@contract/history';
import type { Who } from './lines';

/** What a set of changes was. A change of one cell alone is a set without a row here. */
export type BatchKind =
  'intake' | 'paste' | 'fill' | 'clear' | 'change' | 'exception' | 'undo' | 'redo' | 'restore' | 'letter';

/** A set is put back while some set that undoes it is not put back in its turn, to any depth. */
export const isUndone = (batch: string): string => `batch_undone($1, $2, ${batch})`;

export interface BatchRow {
  id: string;
  kind: BatchKind;
  title: string;
  madeAt: string;
  family: string;
  given: string;
  cells: number;
  undone: boolean;
}

export async function insertBatch(
  db: BookTransaction,
  who: Who,
  b: { id: string; kind: BatchKind; title: string; cells: number; undoes?: string | null },
): Promise<void> {
  await db.query(
    'insert into batch (school, book, id, kind, title, made_by, cells, undoes, made_at) values ($1, $2, $3, $4, $5, $6, $7, $8, school_now($1))',
    [who.school, who.book, b.id, b.kind, b.title, who.person, b.cells, b.undoes ?? null],
  );
}

/** What was brought in, the latest first. */
export async function intakesOf(db: Db, school: string, book: string): Promise<BatchRow[]> {
  const { rows } = await db.query<BatchRow>(
    `select b.id, b.kind, b.title, b.made_at as "madeAt", p.family, p.given, b.cells, ${isUndone('b.id')} as undone
     from batch b join person p on p.school = b.school and p.id = b.made_by
     where b.school = $1 and b.book = $2 and b.kind = 'intake' order by b.made_at desc limit 50`,
    [school, book],
  );
  return rows;
}

export interface FoundBatch {
  id: string;
  /** Null: one change without a row of its own. */
  kind: BatchKind | null;
  title: string;
  undoes: string | null;
  undone: boolean;
  person: string;
  at: string;
  lines: BatchLine[];
}

export interface BatchLine {
  seq: number;
  kind: JournalKind;
  assessment: string | null;
  enrolment: string | null;
  was: string | null;
  becomes: string | null;
}

/** A set with its lines, or null where the journal has none of this id. */
export async function findBatch(db: Db, school: string, book: string, id: string): Promise<FoundBatch | null> {
  const { rows: lines } = await db.query<BatchLine & { person: string; at: string }>(
    `select seq, kind, assessment, enrolment, was, becomes, person, at from journal
     where school = $1 and book = $2 and batch = $3 order by seq`,
    [school, book, id],
  );
  if (!lines[0]) return null;
  const { rows } = await db.query<{ kind: BatchKind; title: string; undoes: string | null }>(
    'select kind, title, undoes from batch where school = $1 and book = $2 and id = $3',
    [school, book, id],
  );
  const { rows: state } = await db.query<{ undone: boolean }>(`select ${isUndone('$3')} as undone`, [school, book, id]);
  return {
    id,
    kind: rows[0]?.kind ?? null,
    title: rows[0]?.title ?? '',
    undoes: rows[0]?.undoes ?? null,
    undone: state[0]!.undone,
    person: lines[0].person,
    at: lines[0].at,
    lines,
  };
}

/** Kinds of lines that undo and redo go over: what a person does in the ledger. */
const LEDGER_KINDS = `('cell', 'note')`;

export interface LastBatch {
  batch: string;
  at: string;
}

/** The person's latest set of changes in the ledger that is not put back. */
export async function lastDoneBatch(db: Db, who: Who): Promise<LastBatch | null> {
  const { rows } = await db.query<LastBatch>(
    `select j.batch, j.at from journal j left join batch b on b.school = j.school and b.book = j.book and b.id = j.batch
     where j.school = $1 and j.book = $2 and j.person = $3 and j.kind in ${LEDGER_KINDS}
       and coalesce(b.kind, '') not in ('undo', 'redo') and not ${isUndone('j.batch')}
     order by j.seq desc limit 1`,
    [who.school, who.book, who.person],
  );
  return rows[0] ?? null;
}

/**
 * The undo that a redo takes back: the person's latest one that is not taken back, where they have made no other change
 * in the ledger since.
 */
export async function lastUndoneBatch(db: Db, who: Who): Promise<LastBatch | null> {
  const { rows } = await db.query<LastBatch & { kind: BatchKind | null; undone: boolean }>(
    `select j.batch, j.at, b.kind, ${isUndone('j.batch')} as undone
     from journal j left join batch b on b.school = j.school and b.book = j.book and b.id = j.batch
     where j.school = $1 and j.book = $2 and j.person = $3 and j.kind in ${LEDGER_KINDS}
       and (coalesce(b.kind, '') not in ('undo', 'redo')
         or b.kind = 'undo' and not ${isUndone('b.id')})
     order by j.seq desc limit 1`,
    [who.school, who.book, who.person],
  );
  return rows[0]?.kind === 'undo' ? rows[0] : null;
}

/** A later line, and the line it stands on. */
export interface LaterLine {
  on: number;
  seq: number;
  at: string;
  family: string;
  given: string;
  becomes: string | null;
}

/** The last line after each of these on the same cell (or, of lines of no student, on the same assessment or of the same kind). */
export async function laterLines(db: Db, school: string, book: string, lines: BatchLine[]): Promise<LaterLine[]> {
  const find = async (some: BatchLine[], same: string): Promise<LaterLine[]> => {
    if (some.length === 0) return [];
    const { rows } = await db.query<LaterLine>(
      `select l.seq as on, x.seq, x.at, p.family, p.given, x.becomes
       from unnest($3::int[], $4::text[], $5::text[], $6::text[]) as l (seq, kind, assessment, enrolment)
       cross join lateral (
         select j.seq, j.at, j.person, j.becomes from journal j
         where j.school = $1 and j.book = $2 and j.seq > l.seq and j.kind = l.kind and ${same}
         order by j.seq desc limit 1) x
       join person p on p.school = $1 and p.id = x.person
       order by l.seq`,
      [
        school,
        book,
        some.map((l) => l.seq),
        some.map((l) => l.kind),
        some.map((l) => l.assessment),
        some.map((l) => l.enrolment),
      ],
    );
    return rows;
  };
  return [
    ...(await find(
      lines.filter((l) => l.enrolment !== null),
      `j.enrolment = l.enrolment and coalesce(j.assessment, '') = coalesce(l.assessment, '')`,
    )),
    ...(await find(
      lines.filter((l) => l.enrolment === null),
      `coalesce(j.assessment, '') = coalesce(l.assessment, '')`,
    )),
  ];
}
