import type { Db } from '../../../kernel/database';

/** The last line at or before a moment; 0: none. */
export async function seqAt(db: Db, school: string, book: string, at: string): Promise<number> {
  const { rows } = await db.query<{ seq: number | null }>(
    'select max(seq) as seq from journal where school = $1 and book = $2 and at <= $3',
    [school, book, at],
  );
  return rows[0]?.seq ?? 0;
}

/** What students saw of each cell then; withdrawn ones are left out. */
export async function releasedAfter(
  db: Db,
  school: string,
  book: string,
  seq: number,
): Promise<{ assessment: string; enrolment: string; becomes: string }[]> {
  const { rows } = await db.query<{ assessment: string; enrolment: string; becomes: string | null }>(
    `select distinct on (assessment, enrolment) assessment, enrolment, becomes from journal
     where school = $1 and book = $2 and kind in ('release', 'withdraw') and seq <= $3
     order by assessment, enrolment, seq desc`,
    [school, book, seq],
  );
  return rows.flatMap((r) => (r.becomes === null ? [] : [{ ...r, becomes: r.becomes }]));
}

/** The assessments' last lines up to there, in the order they were made. */
export async function assessmentsAfter(
  db: Db,
  school: string,
  book: string,
  seq: number,
): Promise<{ assessment: string; becomes: string | null }[]> {
  const { rows } = await db.query<{ assessment: string; becomes: string | null }>(
    `select assessment, becomes from (
       select distinct on (assessment) assessment, becomes, min(seq) over (partition by assessment) as made from journal
       where school = $1 and book = $2 and kind = 'assessment' and seq <= $3 order by assessment, seq desc) x
     order by made`,
    [school, book, seq],
  );
  return rows;
}

/** The order that assessments had been put in up to there; those made since come after. */
export async function orderAfter(db: Db, school: string, book: string, seq: number): Promise<string[]> {
  const { rows } = await db.query<{ becomes: string }>(
    `select becomes from journal where school = $1 and book = $2 and kind = 'order' and seq <= $3
     order by seq desc limit 1`,
    [school, book, seq],
  );
  return rows[0] ? (JSON.parse(rows[0].becomes) as string[]) : [];
}

/** Enrolments that had been made up to there, each with its last line: where the student was. */
export async function enrolledAfter(db: Db, school: string, book: string, seq: number): Promise<Map<string, string>> {
  const { rows } = await db.query<{ enrolment: string; becomes: string }>(
    `select distinct on (enrolment) enrolment, becomes from journal
     where school = $1 and book = $2 and kind = 'enrol' and seq <= $3 order by enrolment, seq desc`,
    [school, book, seq],
  );
  return new Map(rows.map((r) => [r.enrolment, r.becomes]));
}

/** The variant of the rules that each section had up to there. */
export async function sectionVariantsAfter(
  db: Db,
  school: string,
  book: string,
  seq: number,
): Promise<Map<string, string | null>> {
  const { rows } = await db.query<{ becomes: string }>(
    `select becomes from journal where school = $1 and book = $2 and kind = 'section-variant' and seq <= $3 order by seq`,
    [school, book, seq],
  );
  return new Map(
    rows.map((r) => {
      const { section, variant } = JSON.parse(r.becomes) as { section: string; variant: string | null };
      return [section, variant];
    }),
  );
}

/** What final grades people had set up to there. */
export async function overridesAfter(
  db: Db,
  school: string,
  book: string,
  seq: number,
): Promise<{ enrolment: string; becomes: string }[]> {
  const { rows } = await db.query<{ enrolment: string; becomes: string }>(
    `select distinct on (enrolment) enrolment, becomes from journal
     where school = $1 and book = $2 and kind = 'override' and seq <= $3 order by enrolment, seq desc`,
    [school, book, seq],
  );
  return rows;
}
