import type { Db } from '../../../kernel/database';

/** What happens to a submission beside the journal: ids, numbers and moments only. */
export type TraceKind =
  | 'begun'
  | 'file-came'
  | 'file-left'
  | 'handed-in'
  | 'accepted'
  | 'taken-back'
  | 'fetched'
  | 'opened'
  | 'looked-through'
  | 'moved'
  | 'moved-in';

export async function insertTrace(
  db: Db,
  school: string,
  book: string,
  t: { submission: string; person: string; kind: TraceKind; detail?: Record<string, string | number> },
): Promise<void> {
  await db.query(
    `insert into submission_trace (school, book, submission, at, person, kind, detail)
     values ($1, $2, $3, school_now($1), $4, $5, $6)`,
    [school, book, t.submission, t.person, t.kind, JSON.stringify(t.detail ?? {})],
  );
}

/** That somebody opened it or looked it through, once for each; told to every server where it is new. */
export async function insertOpened(
  db: Db,
  t: {
    school: string;
    book: string;
    submission: string;
    assessment: string;
    enrolment: string;
    person: string;
    through: boolean;
  },
): Promise<void> {
  const kind: TraceKind = t.through ? 'looked-through' : 'opened';
  await db.query(
    `with new as (
       insert into submission_trace (school, book, submission, at, person, kind, detail)
       select $1, $2, $3, school_now($1), $4, $5, '{}' where not exists (select 1 from submission_trace
         where school = $1 and book = $2 and submission = $3 and person = $4 and kind = $5)
       returning 1
     ) select pg_notify('opened', $6) from new`,
    [
      ...[t.school, t.book, t.submission, t.person, kind],
      [t.school, t.book, t.assessment, t.enrolment, t.submission, t.person, t.through ? 'through' : 'opened'].join(' '),
    ],
  );
}

export interface TraceRow {
  at: string;
  person: string;
  family: string;
  given: string;
  role: 'student' | 'staff' | 'administrator';
  kind: TraceKind;
  detail: string;
}

export async function tracesOf(db: Db, school: string, book: string, submission: string): Promise<TraceRow[]> {
  const { rows } = await db.query<TraceRow>(
    `select t.at, t.person, p.family, p.given, p.role, t.kind, t.detail from submission_trace t
       join person p on p.school = t.school and p.id = t.person
     where t.school = $1 and t.book = $2 and t.submission = $3 order by t.number`,
    [school, book, submission],
  );
  return rows;
}

/** Who of the staff opened each submission of an assessment, and who looked it through. */
export async function openedIn(
  db: Db,
  school: string,
  book: string,
  assessment: string,
): Promise<{ submission: string; person: string; family: string; given: string; through: boolean }[]> {
  const { rows } = await db.query<{
    submission: string;
    person: string;
    family: string;
    given: string;
    through: boolean;
  }>(
    `select t.submission, t.person, p.family, p.given, bool_or(t.kind = 'looked-through') as through from submission s
       join submission_trace t on t.school = s.school and t.book = s.book and t.submission = s.id
         and t.kind in ('opened', 'looked-through')
       join person p on p.school = t.school and p.id = t.person
     where s.school = $1 and s.book = $2 and s.assessment = $3
     group by t.submission, t.person, p.family, p.given order by p.family, p.given, t.submission`,
    [school, book, assessment],
  );
  return rows;
}

/** Whether one of the staff has opened it. */
export async function wasOpened(db: Db, school: string, book: string, submission: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `select 1 from submission_trace where school = $1 and book = $2 and submission = $3 and kind in ('opened', 'looked-through') limit 1`,
    [school, book, submission],
  );
  return rowCount === 1;
}
