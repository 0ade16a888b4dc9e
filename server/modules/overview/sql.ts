import type { Db } from '../../kernel/database';
import type { BookSummary, Summarised } from './book-summary';

/** Another number with every change of a summary's shape or of how it is worked out. */
const FORMAT = 3;

/** What holds now: of this state of the book, by the school's clock. */
const HOLDS = `k.format = ${FORMAT} and k.stamp = b.xmin::text and k.made_at <= m.now and (k.valid_until is null or m.now < k.valid_until)`;
const NOW = `cross join lateral (select school_now(b.school) as now) m`;

/** The summaries of these books that hold, by book. */
export async function keptSummaries(
  db: Db,
  school: string,
  books: readonly string[],
): Promise<Map<string, BookSummary>> {
  const { rows } = await db.query<{ book: string; body: string }>(
    `select k.book, k.body from book_summary k join book b on b.school = k.school and b.id = k.book ${NOW}
     where k.school = $1 and k.book = any($2) and ${HOLDS}`,
    [school, books],
  );
  return new Map(rows.map((r) => [r.book, JSON.parse(r.body) as BookSummary]));
}

/** Seconds without a change after which a book is at rest: while somebody scores in it, each summary would be the next one's. */
const AT_REST = 20;

/** Books at rest whose summary does not hold, or is not there. */
export async function staleBooks(db: Db): Promise<{ school: string; book: string }[]> {
  const { rows } = await db.query<{ school: string; book: string }>(
    `select b.school, b.id as book from book b ${NOW}
     where b.archived_at is null
       and not exists (select 1 from journal j where j.school = b.school and j.book = b.id and j.seq = b.seq
         and j.at <= m.now and j.at > m.now - make_interval(secs => ${AT_REST}))
       and not exists (select 1 from book_summary k where k.school = b.school and k.book = b.id and ${HOLDS})`,
  );
  return rows;
}

export async function putSummary(
  db: Db,
  school: string,
  book: string,
  stamp: string,
  { summary, madeAt, validUntil }: Summarised,
): Promise<void> {
  await db.query(
    `insert into book_summary (school, book, format, stamp, made_at, valid_until, body)
     values ($1, $2, ${FORMAT}, $3, $4, $5, $6)
     on conflict (school, book) do update set format = excluded.format, stamp = excluded.stamp,
       made_at = excluded.made_at, valid_until = excluded.valid_until, body = excluded.body`,
    [school, book, stamp, madeAt, validUntil, JSON.stringify(summary)],
  );
}

/** Family names by enrolment. */
export async function familiesOf(
  db: Db,
  school: string,
  places: readonly { book: string; enrolment: string }[],
): Promise<Map<string, string>> {
  if (places.length === 0) return new Map();
  const { rows } = await db.query<{ id: string; family: string }>(
    `select e.id, p.family from unnest($2::text[], $3::text[]) as n (book, enrolment)
       join enrolment e on e.school = $1 and e.book = n.book and e.id = n.enrolment
       join person p on p.school = e.school and p.id = e.person`,
    [school, places.map((p) => p.book), places.map((p) => p.enrolment)],
  );
  return new Map(rows.map((r) => [r.id, r.family]));
}

/** Titles of sections by book, in their order. */
export async function sectionTitles(db: Db, school: string, books: readonly string[]): Promise<Map<string, string[]>> {
  const { rows } = await db.query<{ book: string; titles: string[] }>(
    `select book, array_agg(title order by position) as titles from section where school = $1 and book = any($2) group by book`,
    [school, books],
  );
  return new Map(rows.map((r) => [r.book, r.titles]));
}

export interface StaffName {
  person: string;
  family: string;
  given: string;
}

/** Who is on the staff of each book, teachers first. */
export async function staffNames(db: Db, school: string, books: readonly string[]): Promise<Map<string, StaffName[]>> {
  const { rows } = await db.query<StaffName & { book: string }>(
    `select w.book, w.person, p.family, p.given from book_staff w join person p on p.school = w.school and p.id = w.person
     where w.school = $1 and w.book = any($2) order by w.role desc, p.family`,
    [school, books],
  );
  const byBook = new Map<string, StaffName[]>();
  for (const { book, ...name } of rows) byBook.set(book, [...(byBook.get(book) ?? []), name]);
  return byBook;
}

/** When each book was last changed. */
export async function lastChanges(db: Db, school: string, books: readonly string[]): Promise<Map<string, string>> {
  const { rows } = await db.query<{ book: string; at: string }>(
    `select j.book, j.at from book b join journal j on j.school = b.school and j.book = b.id and j.seq = b.seq
     where b.school = $1 and b.id = any($2)`,
    [school, books],
  );
  return new Map(rows.map((r) => [r.book, r.at]));
}
