import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';

/** What of an assessment stands beside its score. */
export type FeedbackPart = 'rubric' | 'feedback';

export interface ReleasedPart {
  enrolment: string;
  part: FeedbackPart;
  /** Canonical text (contract/slips). */
  body: string;
  comment: string;
  releasedAt: string;
  family: string;
  given: string;
}

interface AssessmentPlace {
  school: string;
  book: string;
  assessment: string;
}

/** What students see now of one assessment, of some students or of all. */
export async function releasedPartsOf(
  db: Db,
  p: AssessmentPlace,
  enrolments: readonly string[] | null = null,
): Promise<ReleasedPart[]> {
  const { rows } = await db.query<ReleasedPart>(
    `select r.enrolment, r.part, r.body, r.comment, r.released_at as "releasedAt", p.family, p.given
     from released_part r join person p on p.school = r.school and p.id = r.released_by
     where r.school = $1 and r.book = $2 and r.assessment = $3 and r.withdrawn_at is null
       and ($4::text[] is null or r.enrolment = any($4)) order by r.enrolment, r.part`,
    [p.school, p.book, p.assessment, enrolments],
  );
  return rows;
}

export async function writeReleasedParts(
  db: BookTransaction,
  p: AssessmentPlace & { at: string; by: string },
  parts: readonly { enrolment: string; part: FeedbackPart; body: string; comment: string }[],
): Promise<void> {
  if (parts.length === 0) return;
  await db.query(
    `insert into released_part (school, book, assessment, released_at, released_by, enrolment, part, body, comment)
     select $1, $2, $3, $4, $5, x.enrolment, x.part, x.body, x.comment
       from json_to_recordset($6::json) x (enrolment text, part text, body text, comment text)
     on conflict (school, book, enrolment, assessment, part) do update set body = excluded.body, comment = excluded.comment,
       released_at = excluded.released_at, released_by = excluded.released_by, withdrawn_at = null`,
    [p.school, p.book, p.assessment, p.at, p.by, JSON.stringify(parts)],
  );
}

/** Hides parts again from those of the students who had them. */
export async function withdrawReleasedParts(
  db: BookTransaction,
  p: AssessmentPlace & { at: string },
  enrolments: readonly string[],
  parts: readonly FeedbackPart[],
): Promise<void> {
  await db.query(
    `update released_part set withdrawn_at = $6 where school = $1 and book = $2 and assessment = $3
       and enrolment = any($4) and part = any($5) and withdrawn_at is null`,
    [p.school, p.book, p.assessment, enrolments, parts, p.at],
  );
}

/** Whether students see rubric or feedback of this work’s student for this assessment. */
export async function isPartReleased(db: Db, p: AssessmentPlace & { enrolment: string }): Promise<boolean> {
  const { rowCount } = await db.query(
    `select 1 from released_part where school = $1 and book = $2 and assessment = $3 and enrolment = $4
       and withdrawn_at is null limit 1`,
    [p.school, p.book, p.assessment, p.enrolment],
  );
  return rowCount !== 0;
}

/** Assessments of which one student sees rubric or feedback. */
export async function withFeedback(
  db: Db,
  p: { school: string; book: string; enrolment: string },
): Promise<Set<string>> {
  const { rows } = await db.query<{ assessment: string }>(
    `select distinct assessment from released_part where school = $1 and book = $2 and enrolment = $3 and withdrawn_at is null`,
    [p.school, p.book, p.enrolment],
  );
  return new Set(rows.map((r) => r.assessment));
}
