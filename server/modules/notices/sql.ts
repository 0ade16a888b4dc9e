import { newId, type Db } from '../../kernel/database';
import type { NoticeKind, Notices } from '@contract/notices';
import { personName } from '../accounts';

/** One person told one thing about one book. `enrolment`: as whose student; null: as one of its staff. */
export interface NewNotice {
  person: string;
  enrolment: string | null;
  kind: NoticeKind;
  text: string;
  path: string;
  writtenBy: string | null;
  /** The mail that tells it; null: none, or none yet. */
  mail: string | null;
}

export async function insertNoticeRows(
  db: Db,
  school: string,
  book: string,
  notices: readonly NewNotice[],
): Promise<void> {
  await db.query(
    `insert into notice (school, book, id, person, enrolment, kind, body, path, written_by, mail, at)
     select $1, $2, n.*, (select school_now($1)) from unnest($3::text[], $4::text[], $5::text[], $6::text[], $7::text[],
       $8::text[], $9::text[], $10::text[]) as n`,
    [
      school,
      book,
      notices.map(() => newId('n')),
      notices.map((n) => n.person),
      notices.map((n) => n.enrolment),
      notices.map((n) => n.kind),
      notices.map((n) => n.text),
      notices.map((n) => n.path),
      notices.map((n) => n.writtenBy),
      notices.map((n) => n.mail),
    ],
  );
}

/** Who these students are, and what their book is called. */
export async function personsOf(
  db: Db,
  school: string,
  book: string,
  enrolments: readonly string[],
): Promise<{ enrolment: string; person: string; bookTitle: string }[]> {
  const { rows } = await db.query<{ enrolment: string; person: string; bookTitle: string }>(
    `select e.id as enrolment, e.person, b.title as "bookTitle" from enrolment e
       join book b on b.school = e.school and b.id = e.book
     where e.school = $1 and e.book = $2 and e.id = any($3)`,
    [school, book, enrolments],
  );
  return rows;
}

/** What one person was told, the latest first. */
export async function noticesOf(db: Db, school: string, person: string): Promise<Notices> {
  const { rows } = await db.query<Omit<Notices[number], 'by'> & { family: string | null; given: string }>(
    `select n.id, n.book, b.title as "bookTitle", coalesce(b.time_zone, s.time_zone) as "timeZone", n.at, n.kind, n.body as text, n.path,
       w.family, w.given, n.seen_at is not null as seen
     from notice n join book b on b.school = n.school and b.id = n.book join school s on s.id = n.school
       left join person w on w.school = n.school and w.id = n.written_by
     where n.school = $1 and n.person = $2 order by n.at desc, n.id limit 100`,
    [school, person],
  );
  return rows.map(({ family, given, ...n }) => ({ ...n, by: family === null ? null : personName({ family, given }) }));
}

export async function countUnread(db: Db, school: string, person: string): Promise<number> {
  const { rows } = await db.query<{ n: number }>(
    `select count(*)::int as n from (select 1 from notice where school = $1 and person = $2 and seen_at is null
       order by at desc limit 100) as x`,
    [school, person],
  );
  return rows[0]!.n;
}

export async function markSeen(db: Db, school: string, person: string, ids: readonly string[]): Promise<void> {
  await db.query(
    `update notice set seen_at = coalesce(seen_at, school_now($1)) where school = $1 and id = any($3) and person = $2`,
    [school, person, ids],
  );
}

/** Hours between two mails to one person that gather what came in. */
const GATHERED_HOURS = 1;
/** Arrivals that no mail told yet, of persons who may be written to now. */
const UNGATHERED = `n.kind = 'arrival' and n.mail is null and n.seen_at is null and not exists (
  select 1 from mail m where m.school = n.school and m.person = n.person and m.kind = 'gathered'
    and m.made_at > now() - make_interval(hours => ${GATHERED_HOURS}))`;

export async function schoolsWithArrivals(db: Db): Promise<{ school: string }[]> {
  const { rows } = await db.query<{ school: string }>(`select distinct n.school from notice n where ${UNGATHERED}`);
  return rows;
}

/** What is to be told by one mail to each, by person. Held until the transaction ends. */
export async function ungatheredOf(
  db: Db,
  school: string,
): Promise<{ id: string; person: string; bookTitle: string; path: string }[]> {
  const { rows } = await db.query<{ id: string; person: string; bookTitle: string; path: string }>(
    `select n.id, n.person, b.title as "bookTitle", n.path from notice n
       join book b on b.school = n.school and b.id = n.book
     where n.school = $1 and ${UNGATHERED} order by n.person, n.at for update of n`,
    [school],
  );
  return rows;
}

export async function nameMail(db: Db, school: string, ids: readonly string[], mail: string): Promise<void> {
  await db.query('update notice set mail = $3 where school = $1 and id = any($2)', [school, ids, mail]);
}

/** What a student was told of one page of theirs was read there. */
export async function markPathSeen(
  db: Db,
  of: { school: string; book: string; enrolment: string },
  path: string,
): Promise<void> {
  await db.query(
    `update notice set seen_at = school_now($1) where school = $1 and book = $2 and enrolment = $3 and path = $4
       and seen_at is null`,
    [of.school, of.book, of.enrolment, path],
  );
}
