import type { ReleasePart } from '@contract/slips';
import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';

export interface PlannedReleaseRow {
  id: string;
  assessment: string;
  enrolments: string[] | null;
  parts: ReleasePart[];
  moveRules: boolean;
  comment: string | null;
  tell: string | null;
  /** Null: when all are done. */
  at: string | null;
  person: string;
  family: string;
  given: string;
  fault: string;
  waits: boolean;
}

/** Seconds between two looks whether all of an assessment are done. */
const LOOKS = 60;

const ROWS = `select r.id, r.assessment, r.enrolments, r.parts, r.move_rules as "moveRules", r.comment, r.tell, r.at,
    r.planned_by as person, p.family, p.given, r.fault, r.done_at is null and r.called_off_at is null as waits
  from planned_release r join person p on p.school = r.school and p.id = r.planned_by`;

/** Those that wait, and those that could not be done in the last two weeks; the next first. */
export async function plannedReleasesOf(db: Db, school: string, book: string): Promise<PlannedReleaseRow[]> {
  const { rows } = await db.query<PlannedReleaseRow>(
    `${ROWS} where r.school = $1 and r.book = $2 and r.called_off_at is null
       and (r.done_at is null or (r.fault <> '' and r.done_at > school_now($1) - interval '14 days'))
     order by r.at nulls last, r.id`,
    [school, book],
  );
  return rows;
}

/** One of them, until the transaction ends nobody else's. */
export async function holdPlannedRelease(
  db: BookTransaction,
  school: string,
  book: string,
  id: string,
): Promise<PlannedReleaseRow | null> {
  const { rows } = await db.query<PlannedReleaseRow>(
    `${ROWS} where r.school = $1 and r.book = $2 and r.id = $3 for update of r`,
    [school, book, id],
  );
  return rows[0] ?? null;
}

export async function insertPlannedRelease(
  db: BookTransaction,
  of: { school: string; book: string; person: string },
  r: Omit<PlannedReleaseRow, 'person' | 'family' | 'given' | 'fault' | 'waits'>,
): Promise<void> {
  await db.query(
    `insert into planned_release (school, book, id, assessment, enrolments, parts, move_rules, comment, tell, at, planned_by)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
    [
      ...[of.school, of.book, r.id, r.assessment, r.enrolments, r.parts, r.moveRules, r.comment, r.tell, r.at],
      of.person,
    ],
  );
}

/** It waits no more: it was done, could not be (`fault`), or was called off. */
export async function endPlannedRelease(
  db: BookTransaction,
  of: { school: string; book: string; id: string },
  how: { calledOff: true } | { fault: string },
): Promise<void> {
  const off = 'calledOff' in how;
  await db.query(
    `update planned_release set called_off_at = case when $4 then school_now($1) end,
       done_at = case when $4 then null else school_now($1) end, fault = $5
     where school = $1 and book = $2 and id = $3`,
    [of.school, of.book, of.id, off, off ? '' : how.fault],
  );
}

/** Those whose moment has come, of books that are not put away. */
export async function duePlannedReleases(
  db: Db,
): Promise<{ school: string; book: string; id: string; person: string }[]> {
  const { rows } = await db.query<{ school: string; book: string; id: string; person: string }>(
    `select r.school, r.book, r.id, r.planned_by as person from planned_release r
       join book b on b.school = r.school and b.id = r.book and b.archived_at is null
     where r.done_at is null and r.called_off_at is null
       and case when r.at is null then not exists (select 1 from planned_release_look l where l.school = r.school
           and l.book = r.book and l.id = r.id and l.at > now() - make_interval(secs => $1))
         else r.at <= school_now(r.school) end
     order by r.at`,
    [LOOKS],
  );
  return rows;
}

export async function notePlannedLook(db: Db, of: { school: string; book: string; id: string }): Promise<void> {
  await db.query(
    `insert into planned_release_look (school, book, id) values ($1, $2, $3)
     on conflict (school, book, id) do update set at = now()`,
    [of.school, of.book, of.id],
  );
}

/** Whether somebody who is in the book has begun work for an assessment, or somebody did anything there in so many minutes. */
export async function isUnsettled(
  db: Db,
  p: { school: string; book: string; assessment: string },
  minutes: number,
): Promise<boolean> {
  const { rows } = await db.query<{ is: boolean }>(
    `select exists (select 1 from submission s join enrolment e on e.school = s.school and e.book = s.book
           and e.id = s.enrolment and e.left_at is null
         where s.school = $1 and s.book = $2 and s.assessment = $3 and s.state = 'begun'
           and (s.typed <> '' or s.link <> '' or exists (select 1 from submission_file f
             where f.school = s.school and f.book = s.book and f.submission = s.id)))
       or exists (select 1 from journal where school = $1 and book = $2 and assessment = $3
         and kind <> 'planned-release' and at > school_now($1) - make_interval(mins => $4))
       or exists (select 1 from end_note where school = $1 and book = $2 and assessment = $3
         and changed_at > now() - make_interval(mins => $4))
       or exists (select 1 from feedback_attachment where school = $1 and book = $2 and assessment = $3
         and changed_at > now() - make_interval(mins => $4))
       or exists (select 1 from marked_work w join submission s on s.school = w.school and s.book = w.book
           and s.id = w.submission
         where w.school = $1 and w.book = $2 and s.assessment = $3 and w.changed_at > now() - make_interval(mins => $4)) as is`,
    [p.school, p.book, p.assessment, minutes],
  );
  return rows[0]!.is;
}
