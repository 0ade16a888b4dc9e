import type { BookTransaction } from '../../kernel/book-transaction';
import { newId, type Db } from '../../kernel/database';

/** What stands beside a cell, or beside a student as a whole (`place` '*'). Version 0: nothing yet. */
export interface StaffNoteRow {
  enrolment: string;
  place: string;
  version: number;
  /** The note's text with who wrote it and when; null: none. */
  note: { id: string; text: string; by: string; at: string } | null;
  /** Who wants a second look at it. */
  secondLookBy: string | null;
}

interface Row {
  enrolment: string;
  place: string;
  version: number;
  note: string | null;
  body: string | null;
  at: string | null;
  family: string | null;
  given: string | null;
  flagFamily: string | null;
  flagGiven: string | null;
}

const shortName = (family: string | null, given: string | null): string =>
  family === null ? '' : given ? `${given[0]}. ${family}` : family;

export async function staffNotesOf(
  db: Db,
  school: string,
  book: string,
  at?: { enrolment: string; place: string },
): Promise<StaffNoteRow[]> {
  const { rows } = await db.query<Row>(
    `select r.enrolment, r.place, r.version, r.note, n.body, n.written_at as at, p.family, p.given,
       f.family as "flagFamily", f.given as "flagGiven"
     from staff_note r left join note_text n on n.school = r.school and n.book = r.book and n.id = r.note
       left join person p on p.school = n.school and p.id = n.written_by
       left join person f on f.school = r.school and f.id = r.second_look_by
     where r.school = $1 and r.book = $2 and ($3::text is null or r.enrolment = $3 and r.place = $4)`,
    [school, book, at?.enrolment ?? null, at?.place ?? null],
  );
  return rows.map((r) => ({
    enrolment: r.enrolment,
    place: r.place,
    version: r.version,
    note:
      r.note === null || r.body === null
        ? null
        : { id: r.note, text: r.body, by: shortName(r.family, r.given), at: r.at! },
    secondLookBy: r.flagFamily === null ? null : shortName(r.flagFamily, r.flagGiven),
  }));
}

/** What a journal line says of a remark. */
export interface StaffNoteContent {
  note: string | null;
  flag: string | null;
}

export async function staffNoteContent(
  db: Db,
  school: string,
  book: string,
  enrolment: string,
  place: string,
): Promise<StaffNoteContent & { version: number }> {
  const { rows } = await db.query<StaffNoteContent & { version: number }>(
    `select version, note, second_look_by as flag from staff_note where school = $1 and book = $2 and enrolment = $3 and place = $4`,
    [school, book, enrolment, place],
  );
  return rows[0] ?? { version: 0, note: null, flag: null };
}

/** Keeps a note's text and gives its id. Texts are never changed: another text is another note. */
export async function insertNoteText(
  db: BookTransaction,
  school: string,
  book: string,
  person: string,
  body: string,
): Promise<string> {
  const id = newId('n');
  await db.query(
    'insert into note_text (school, book, id, body, written_by, written_at) values ($1, $2, $3, $4, $5, school_now($1))',
    [school, book, id, body, person],
  );
  return id;
}

export async function upsertStaffNote(
  db: BookTransaction,
  school: string,
  book: string,
  r: StaffNoteContent & { enrolment: string; place: string; version: number },
): Promise<void> {
  await db.query(
    `insert into staff_note (school, book, enrolment, place, version, note, second_look_by) values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (school, book, enrolment, place) do update set version = excluded.version, note = excluded.note,
       second_look_by = excluded.second_look_by`,
    [school, book, r.enrolment, r.place, r.version, r.note, r.flag],
  );
}

export async function noteTexts(db: Db, school: string, book: string, ids: string[]): Promise<Map<string, string>> {
  const { rows } = await db.query<{ id: string; body: string }>(
    'select id, body from note_text where school = $1 and book = $2 and id = any($3)',
    [school, book, ids],
  );
  return new Map(rows.map((r) => [r.id, r.body]));
}

/** The first of what a person marked for a second look, in the books that they teach, each with how many there are in all. */
export async function secondLooksOf(
  db: Db,
  school: string,
  person: string,
): Promise<
  {
    book: string;
    bookTitle: string;
    enrolment: string;
    assessment: string | null;
    family: string;
    given: string;
    title: string | null;
    note: string;
    inAll: number;
  }[]
> {
  const { rows } = await db.query(
    `select r.book, b.title as "bookTitle", r.enrolment, nullif(r.place, '*') as assessment, p.family, p.given, a.title,
       coalesce(n.body, '') as note, count(*) over ()::int as "inAll"
     from staff_note r join book_staff w on w.school = r.school and w.book = r.book and w.person = $2
       join book b on b.school = r.school and b.id = r.book
       join enrolment e on e.school = r.school and e.book = r.book and e.id = r.enrolment
       join person p on p.school = e.school and p.id = e.person
       left join assessment a on a.school = r.school and a.book = r.book and a.id = r.place
       left join note_text n on n.school = r.school and n.book = r.book and n.id = r.note
     where r.school = $1 and r.second_look_by = $2 order by b.title, lower(p.family), r.place limit 200`,
    [school, person],
  );
  return rows as never;
}
