import type { CriterionMark } from '@core/rubric/document';
import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';
import { personName } from '../../accounts';
import type { AssessmentPlace } from './rubrics';

/** What one criterion of one piece of work was given, as it is kept; `mark` null: taken back. */
export interface CriterionMarkRow {
  enrolment: string;
  work: string;
  criterion: string;
  version: number;
  /** The version of the rubric that it was given by. */
  rubric: number;
  mark: CriterionMark | null;
  by: string;
  person: string;
  /** By the school's clock. */
  at: string;
}

type Kept = Omit<CriterionMarkRow, 'mark' | 'by'> & {
  points: string | null;
  leftOut: boolean;
  family: string;
  given: string;
};

/** Of one student or of everybody, by student and work. */
export async function criterionMarksOf(
  db: Db,
  p: AssessmentPlace,
  enrolment: string | null = null,
): Promise<CriterionMarkRow[]> {
  const { rows } = await db.query<Kept>(
    `select m.enrolment, m.work, m.criterion, m.version, m.rubric, m.points, m.left_out as "leftOut", m.person, m.at, p.family, p.given
     from criterion_mark m join person p on p.school = m.school and p.id = m.person
     where m.school = $1 and m.book = $2 and m.assessment = $3 and ($4::text is null or m.enrolment = $4)
     order by m.enrolment, m.work, m.criterion`,
    [p.school, p.book, p.assessment, enrolment],
  );
  return rows.map(({ points, leftOut, family, given, ...r }) => ({
    ...r,
    mark: leftOut ? { leftOut: true } : points === null ? null : { points: Number(points) },
    by: personName({ family, given }),
  }));
}

export type CriterionMarkWrite = Omit<CriterionMarkRow, 'by' | 'person' | 'at'>;

/** Writes marks over what was there. */
export async function putCriterionMarks(
  db: BookTransaction,
  p: AssessmentPlace,
  person: string,
  marks: readonly CriterionMarkWrite[],
): Promise<void> {
  if (marks.length === 0) return;
  await db.query(
    `insert into criterion_mark (school, book, assessment, enrolment, work, criterion, version, rubric, points, left_out, person, at)
     select $1, $2, $3, m.enrolment, m.work, m.criterion, m.version, m.rubric, m.points, m.left_out, $11, (select school_now($1))
     from unnest($4::text[], $5::text[], $6::text[], $7::integer[], $8::integer[], $9::numeric[], $10::boolean[])
       as m (enrolment, work, criterion, version, rubric, points, left_out)
     on conflict (school, book, assessment, enrolment, work, criterion) do update set version = excluded.version,
       rubric = excluded.rubric, points = excluded.points, left_out = excluded.left_out, person = excluded.person, at = excluded.at`,
    [
      ...[p.school, p.book, p.assessment],
      ...[marks.map((m) => m.enrolment), marks.map((m) => m.work), marks.map((m) => m.criterion)],
      ...[marks.map((m) => m.version), marks.map((m) => m.rubric)],
      marks.map((m) => (m.mark && 'points' in m.mark ? m.mark.points : null)),
      marks.map((m) => m.mark !== null && 'leftOut' in m.mark),
      person,
    ],
  );
}

/** Marks of some criteria are worth the same by a later version of the rubric: they name that one. */
export async function renameRubric(
  db: BookTransaction,
  p: AssessmentPlace,
  version: number,
  criteria: readonly string[],
): Promise<void> {
  await db.query(
    `update criterion_mark set rubric = $4 where school = $1 and book = $2 and assessment = $3 and criterion = any($5)`,
    [p.school, p.book, p.assessment, version, criteria],
  );
}

/** Which attempt came by which submission, counted from 1; of one attempt the last that came. */
export async function attemptsBySubmission(
  db: Db,
  p: AssessmentPlace,
  enrolment: string | null = null,
): Promise<{ enrolment: string; submission: string; attempt: number }[]> {
  const { rows } = await db.query<{ enrolment: string; submission: string; attempt: number }>(
    `select distinct on (enrolment, attempt) enrolment, id as submission, attempt from submission
     where school = $1 and book = $2 and assessment = $3 and state = 'handed-in' and attempt is not null
       and ($4::text is null or enrolment = $4)
     order by enrolment, attempt, handed_in_at desc, id desc`,
    [p.school, p.book, p.assessment, enrolment],
  );
  return rows;
}
