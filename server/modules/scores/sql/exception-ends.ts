import type { BookTransaction } from '../../../kernel/book-transaction';
import type { ExceptionKind } from '@core/book/exceptions';
import type { Db } from '../../../kernel/database';

/** Stands for the student as a whole, in the place of an assessment. */
export const WHOLE = '*';

export interface ExceptionEnd {
  enrolment: string;
  place: string;
  kind: ExceptionKind;
  until: string;
  /** When it was said; an exception made anew since has another end, or none. */
  setAt: string;
}

export async function endsOf(db: Db, school: string, book: string): Promise<ExceptionEnd[]> {
  const { rows } = await db.query<ExceptionEnd>(
    'select enrolment, place, kind, until, set_at as "setAt" from exception_end where school = $1 and book = $2',
    [school, book],
  );
  return rows;
}

/** Says when exceptions end; null: not by themselves. */
export async function putEnds(
  db: BookTransaction,
  who: { school: string; book: string; person: string },
  places: { enrolment: string; place: string }[],
  kind: ExceptionKind,
  until: string | null,
): Promise<void> {
  const values = [who.school, who.book, kind, places.map((p) => p.enrolment), places.map((p) => p.place)];
  if (until === null)
    await db.query(
      `delete from exception_end x using unnest($4::text[], $5::text[]) as n (enrolment, place)
       where x.school = $1 and x.book = $2 and x.kind = $3 and x.enrolment = n.enrolment and x.place = n.place`,
      values,
    );
  else
    await db.query(
      `insert into exception_end (school, book, enrolment, place, kind, until, set_by, set_at)
       select $1, $2, n.enrolment, n.place, $3, $6, $7, (select school_now($1)) from unnest($4::text[], $5::text[]) as n (enrolment, place)
       on conflict (school, book, enrolment, place, kind) do update set until = excluded.until, set_by = excluded.set_by,
         set_at = excluded.set_at`,
      [...values, until, who.person],
    );
}

type EndedIn = { school: string; book: string; setBy: string };

/** Books with exceptions whose end has come, at each school's own moment, and who set it. A book put away stands still. */
export async function booksWithEnded(db: Db): Promise<EndedIn[]> {
  const { rows } = await db.query<EndedIn>(
    `select distinct x.school, x.book, x.set_by as "setBy" from exception_end x join book b on b.school = x.school and b.id = x.book and b.archived_at is null
     where x.until <= school_now(x.school)`,
  );
  return rows;
}

/** The ended ones of one book whose end this person set; they are taken off the list. */
export async function takeEnded(
  db: BookTransaction,
  school: string,
  book: string,
  setBy: string,
  now: string,
): Promise<ExceptionEnd[]> {
  const { rows } = await db.query<ExceptionEnd>(
    `delete from exception_end where school = $1 and book = $2 and set_by = $3 and until <= $4
     returning enrolment, place, kind, until, set_at as "setAt"`,
    [school, book, setBy, now],
  );
  return rows;
}

/** Since when, by whom and why a part of a cell, or of a student, is as it is. */
export interface Since {
  i: number;
  at: string;
  family: string;
  given: string;
  reason: string | null;
}

/**
 * Of each place the last line of the journal in which a part of it changed. `part` is a path into the line's text: the
 * key of the cell's content, or `onTime` of its attempts.
 */
export async function sincesOf(
  db: Db,
  school: string,
  book: string,
  places: { enrolment: string; assessment: string | null; kind: 'cell' | 'override' | 'enrol'; parts: string[] }[],
): Promise<Since[]> {
  if (places.length === 0) return [];
  const part = (text: string): string =>
    `case when n.part = 'onTime' then jsonb_path_query_array(coalesce(${text}, '{}')::jsonb, '$.attempts[*].onTime')
       else coalesce(${text}, '{}')::jsonb -> n.part end`;
  const flat = places.flatMap((p, i) => p.parts.map((name) => ({ ...p, i, name })));
  const { rows } = await db.query<Since>(
    `select distinct on (n.i) n.i, x.at, p.family, p.given, r.reason
     from unnest($3::int[], $4::text[], $5::text[], $6::text[], $7::text[]) as n (i, enrolment, assessment, kind, part)
       cross join lateral (select j.at, j.seq, j.person, j.batch from journal j
         where j.school = $1 and j.book = $2 and j.enrolment = n.enrolment and j.kind = n.kind
           and j.assessment is not distinct from n.assessment and ${part('j.was')} is distinct from ${part('j.becomes')}
         order by j.seq desc limit 1) x
       join person p on p.school = $1 and p.id = x.person
       left join journal_reason r on r.school = $1 and r.book = $2 and r.batch = x.batch
     order by n.i, x.seq desc`,
    [
      school,
      book,
      flat.map((f) => f.i),
      flat.map((f) => f.enrolment),
      flat.map((f) => f.assessment),
      flat.map((f) => f.kind),
      flat.map((f) => f.name),
    ],
  );
  return rows;
}
