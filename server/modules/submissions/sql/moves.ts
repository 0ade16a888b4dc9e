import type { BookTransaction } from '../../../kernel/book-transaction';

/** It lies elsewhere from now on; later attempts of the same cell move up by one. */
export async function markMoved(
  db: BookTransaction,
  school: string,
  book: string,
  id: string,
  to: { book: string; submission: string },
): Promise<void> {
  await db.query(
    `update submission x set attempt = x.attempt - 1 from submission s
     where s.school = $1 and s.book = $2 and s.id = $3 and x.school = s.school and x.book = s.book
       and x.assessment = s.assessment and x.enrolment = s.enrolment and x.state = 'handed-in' and x.attempt > s.attempt`,
    [school, book, id],
  );
  await db.query(
    `update submission set state = 'moved', attempt = null, moved_book = $4, moved_submission = $5, version = version + 1
     where school = $1 and book = $2 and id = $3`,
    [school, book, id, to.book, to.submission],
  );
}

/** The same work at its new place: words, files, receipt and times as they were. Its files' bytes stand once. */
export async function insertMoved(
  db: BookTransaction,
  school: string,
  from: { book: string; id: string },
  to: { book: string; id: string; assessment: string; enrolment: string; attempt: number },
): Promise<void> {
  // The receipt is free once its first place says that it moved on.
  await db.query(`update submission set state = 'moved' where school = $1 and book = $2 and id = $3`, [
    school,
    from.book,
    from.id,
  ]);
  await db.query(
    `insert into submission (school, book, id, assessment, enrolment, state, typed, link, statement, receipt, attempt,
       begun_at, handed_in_at, pressed_at, moved_book, moved_submission)
     select school, $4, $5, $6, $7, 'handed-in', typed, link, statement, receipt, $8, begun_at, handed_in_at, pressed_at,
       $2, $3
     from submission where school = $1 and book = $2 and id = $3`,
    [school, from.book, from.id, to.book, to.id, to.assessment, to.enrolment, to.attempt],
  );
  await db.query(
    `insert into submission_file (school, book, submission, id, name, bytes, upload, sha256, media_type, added_at)
     select school, $4, $5, id, name, bytes, upload, sha256, media_type, added_at
     from submission_file where school = $1 and book = $2 and submission = $3`,
    [school, from.book, from.id, to.book, to.id],
  );
}
