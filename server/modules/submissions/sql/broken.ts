import type { Db } from '../../../kernel/database';

/** Minutes without a byte after which a file that is not all there has broken off. */
export const BROKEN_AFTER = 10;

export interface BrokenRow {
  book: string;
  bookTitle: string;
  assessment: string;
  title: string;
  enrolment: string;
  family: string;
  given: string;
  files: number;
  announced: number;
  received: number;
  since: string;
}

/** What students of these books have begun and the server has not heard of any more. */
export async function brokenIn(db: Db, school: string, books: readonly string[]): Promise<BrokenRow[]> {
  const { rows } = await db.query<Omit<BrokenRow, 'announced' | 'received'> & { announced: string; received: string }>(
    `select s.book, b.title as "bookTitle", s.assessment, a.title, s.enrolment, p.family, p.given, count(*)::int as files,
       sum(u.bytes) as announced, sum(u.received) as received, max(u.heard_at) as since
     from submission s
       join submission_file f on f.school = s.school and f.book = s.book and f.submission = s.id
       join upload u on u.school = f.school and u.id = f.upload
       join book b on b.school = s.school and b.id = s.book
       join assessment a on a.school = s.school and a.book = s.book and a.id = s.assessment
       join enrolment e on e.school = s.school and e.book = s.book and e.id = s.enrolment and e.left_at is null
       join person p on p.school = e.school and p.id = e.person
     where s.school = $1 and s.book = any($2) and s.state = 'begun' and f.sha256 is null and u.received < u.bytes
     group by s.book, b.title, s.assessment, a.title, s.enrolment, p.family, p.given
     having max(u.heard_at) < school_now($1) - make_interval(mins => ${BROKEN_AFTER})
     order by since, s.enrolment`,
    [school, books],
  );
  return rows.map((r) => ({ ...r, announced: Number(r.announced), received: Number(r.received) }));
}

/** Of uploads, when the server last heard of each. */
export async function heardOf(db: Db, school: string, uploads: readonly string[]): Promise<Map<string, string>> {
  if (uploads.length === 0) return new Map();
  const { rows } = await db.query<{ id: string; at: string }>(
    'select id, heard_at as at from upload where school = $1 and id = any($2)',
    [school, uploads],
  );
  return new Map(rows.map((r) => [r.id, r.at]));
}
