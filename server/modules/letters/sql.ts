import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';

export interface LetterRow {
  id: string;
  assessment: string | null;
  subject: string;
  body: string;
}

/** Writes a letter down, as it was before what differs was filled in, and whom it went to by which mail. */
export async function insertLetter(
  db: BookTransaction,
  who: { school: string; book: string; person: string },
  letter: LetterRow,
  copies: readonly { enrolment: string; mail: string }[],
): Promise<void> {
  const { school, book, person } = who;
  await db.query(
    `insert into letter (school, book, id, assessment, person, subject, body, at)
     values ($1, $2, $3, $4, $5, $6, $7, school_now($1))`,
    [school, book, letter.id, letter.assessment, person, letter.subject, letter.body],
  );
  await db.query(
    `insert into letter_copy (school, book, letter, enrolment, mail)
     select $1, $2, $3, * from unnest($4::text[], $5::text[])`,
    [school, book, letter.id, copies.map((c) => c.enrolment), copies.map((c) => c.mail)],
  );
}

export interface LetterCopyRow extends LetterRow {
  at: string;
  family: string;
  given: string;
  enrolment: string;
  state: 'waiting' | 'sent' | 'refused' | 'given-up';
  fault: string;
}

/**
 * The latest letters of a book, a row for each copy; of one assessment where that is said. Those of the last day are all
 * there: who was written to in it is not written to again unasked.
 */
export async function letterCopies(
  db: Db,
  school: string,
  book: string,
  assessment: string | null,
  most: number,
): Promise<LetterCopyRow[]> {
  const { rows } = await db.query<LetterCopyRow>(
    `select l.id, l.assessment, l.subject, l.body, l.at, w.family, w.given, c.enrolment, m.state, m.fault
     from (select *, row_number() over (order by at desc, id) as latest from letter
         where school = $1 and book = $2 and ($3::text is null or assessment = $3)) l
       join person w on w.school = l.school and w.id = l.person
       join letter_copy c on c.school = l.school and c.book = l.book and c.letter = l.id
       join mail m on m.school = c.school and m.id = c.mail
     where l.latest <= $4 or l.at > school_now($1) - interval '1 day'
     order by l.at desc, l.id, c.enrolment`,
    [school, book, assessment, most],
  );
  return rows;
}
