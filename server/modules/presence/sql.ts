import type { DeskNews } from '@contract/overview';
import type { Db } from '../../kernel/database';

/** Minutes without a sign of somebody after which coming back is another visit. */
const AWAY = 30;
/** Seconds after which a presence that no server renews has ended. */
const PRESENT = 40;

/** Notes that a person is in a book now; gives the journal's number where their visit before this one ended. */
export async function visit(
  db: Db,
  school: string,
  book: string,
  person: string,
  seq: number,
): Promise<{ since: number; at: string } | null> {
  const { rows } = await db.query<{ since: number; at: string; first: boolean }>(
    `insert into last_visit as v (school, book, person, since_seq, since_at, at, seq)
       select $1, $2, $3, $4, m.now, m.now, $4 from (select school_now($1) as now) m
     on conflict (school, book, person) do update set
       since_seq = case when v.at < excluded.at - make_interval(mins => ${AWAY}) then v.seq else v.since_seq end,
       since_at = case when v.at < excluded.at - make_interval(mins => ${AWAY}) then v.at else v.since_at end,
       seq = greatest(v.seq, excluded.seq), at = excluded.at
     returning since_seq as since, since_at as at`,
    [school, book, person, seq],
  );
  return rows[0] ?? null;
}

/** Cells that others changed after a line. */
export async function changedSince(
  db: Db,
  school: string,
  book: string,
  person: string,
  seq: number,
): Promise<{ assessment: string; enrolment: string }[]> {
  const { rows } = await db.query<{ assessment: string; enrolment: string }>(
    `select distinct assessment, enrolment from journal where school = $1 and book = $2 and seq > $3 and person <> $4
       and kind = 'cell' and assessment is not null and enrolment is not null`,
    [school, book, seq, person],
  );
  return rows;
}

/**
 * Books in which others changed cells after the person's last visit, or the calculation changed, with how many cells and to how
 * many students it gives another figure. A book never visited has no news.
 */
export async function newsFor(db: Db, school: string, person: string): Promise<DeskNews[]> {
  const { rows } = await db.query<DeskNews>(
    `select v.book, b.title as "bookTitle", v.at as since, n.count, coalesce(c.students, 0) as recalculated
     from last_visit v join book b on b.school = v.school and b.id = v.book
       join book_staff w on w.school = v.school and w.book = v.book and w.person = v.person
       cross join lateral (select count(*)::int as count from (
         select distinct j.assessment, j.enrolment from journal j where j.school = v.school and j.book = v.book
           and j.seq > v.seq and j.person <> v.person and j.kind = 'cell') x) n
       left join lateral (select (j.becomes::jsonb ->> 'students')::int as students from journal j where j.school = v.school
         and j.book = v.book and j.seq > v.seq and j.kind = 'calculation' order by j.seq desc limit 1) c on true
     where v.school = $1 and v.person = $2 and (n.count > 0 or c.students > 0) order by b.title`,
    [school, person],
  );
  return rows;
}

export interface Present {
  connection: string;
  person: string;
  family: string;
  given: string;
  enrolment: string | null;
  assessment: string | null;
}

export async function presentIn(db: Db, school: string, book: string): Promise<Present[]> {
  const { rows } = await db.query<Present>(
    `select c.connection, c.person, p.family, p.given, c.enrolment, c.assessment
     from presence c join person p on p.school = c.school and p.id = c.person
     where c.school = $1 and c.book = $2 and c.at > clock_timestamp() - make_interval(secs => ${PRESENT})
     order by c.connection`,
    [school, book],
  );
  return rows;
}

export async function enter(
  db: Db,
  c: { connection: string; school: string; book: string; person: string },
): Promise<void> {
  await db.query(
    `insert into presence (connection, school, book, person) values ($1, $2, $3, $4) on conflict (connection) do nothing`,
    [c.connection, c.school, c.book, c.person],
  );
}

/** Where somebody is now; false where the connection is not theirs or has ended. */
export async function moveTo(
  db: Db,
  c: { connection: string; school: string; book: string; person: string },
  enrolment: string | null,
  assessment: string | null,
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update presence set enrolment = $5, assessment = $6, at = clock_timestamp()
     where connection = $1 and school = $2 and book = $3 and person = $4`,
    [c.connection, c.school, c.book, c.person, enrolment, assessment],
  );
  return rowCount === 1;
}

/** Says that these connections stand; forgets those that no server has renewed for long. */
export async function renew(db: Db, connections: string[]): Promise<void> {
  await db.query('update presence set at = clock_timestamp() where connection = any($1)', [connections]);
  await db.query(`delete from presence where at < clock_timestamp() - make_interval(secs => ${2 * PRESENT})`);
}

export async function leave(db: Db, connection: string): Promise<void> {
  await db.query('delete from presence where connection = $1', [connection]);
}

/** The connections of those who are signed in still, active, and on the book's staff or of the office. */
export async function stillHere(
  db: Db,
  all: readonly { connection: string; session: string; school: string; book: string; person: string }[],
): Promise<Set<string>> {
  const { rows } = await db.query<{ connection: string }>({
    name: 'still-here',
    text: `select n.connection from unnest($1::text[], $2::text[], $3::text[], $4::text[], $5::text[])
        as n (connection, sid, school, book, person)
      cross join lateral (select 1 from session x where x.sid = n.sid and x.expire >= now()
        and x.sess ->> 'school' = n.school and x.sess ->> 'person' = n.person offset 0) s
      cross join lateral (select x.role from person x where x.school = n.school and x.id = n.person and x.active offset 0) p
      where p.role = 'administrator' or exists (select 1 from book_staff w
        where w.school = n.school and w.book = n.book and w.person = n.person)`,
    values: [
      all.map((w) => w.connection),
      all.map((w) => w.session),
      all.map((w) => w.school),
      all.map((w) => w.book),
      all.map((w) => w.person),
    ],
  });
  return new Set(rows.map((r) => r.connection));
}

/** Of these streams of students those whose session and account still stand. */
export async function studentsStillHere(
  db: Db,
  all: readonly { connection: string; session: string; school: string; person: string }[],
): Promise<Set<string>> {
  const { rows } = await db.query<{ connection: string }>({
    name: 'students-still-here',
    text: `select n.connection from unnest($1::text[], $2::text[], $3::text[], $4::text[]) as n (connection, sid, school, person)
      cross join lateral (select 1 from session x where x.sid = n.sid and x.expire >= now()
        and x.sess ->> 'school' = n.school and x.sess ->> 'person' = n.person offset 0) s
      cross join lateral (select 1 from person x where x.school = n.school and x.id = n.person and x.active offset 0) p`,
    values: [
      all.map((w) => w.connection),
      all.map((w) => w.session),
      all.map((w) => w.school),
      all.map((w) => w.person),
    ],
  });
  return new Set(rows.map((r) => r.connection));
}

/** To whom something of an assessment was released or withdrawn at a moment. */
export async function releasedToAt(
  db: Db,
  of: { school: string; book: string; assessment: string; at: string },
): Promise<Set<string>> {
  const { rows } = await db.query<{ person: string }>(
    `select distinct e.person from (
       select enrolment, released_at, withdrawn_at from released_entry where school = $1 and book = $2 and assessment = $3
       union all select enrolment, released_at, withdrawn_at from released_part
       where school = $1 and book = $2 and assessment = $3) r
       join enrolment e on e.school = $1 and e.book = $2 and e.id = r.enrolment
     where r.released_at = $4 or r.withdrawn_at = $4`,
    [of.school, of.book, of.assessment, of.at],
  );
  return new Set(rows.map((r) => r.person));
}
