import type pg from 'pg';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { counted, formOf } from '@core/words/count';
import { fillLetter, namedPlaces, unknownPlaces, type LetterPlace } from '@core/work/letter-places';
import { moment } from '@core/working/wording';
import type { Letters, LetterWrite, LetterWritten } from '@contract/mail';
import type { BookTransaction } from '../../kernel/book-transaction';
import { newId, type Db } from '../../kernel/database';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { commitBook, findBook, studentsOf, type Author, type StudentRow } from '../books';
import { putMails } from '../mail';
import { insertNoticeRows } from '../notices';
import { datesOfStudents } from '../submissions';
import { insertLetter, letterCopies } from './sql';

/** Letters that are listed at once. */
const LISTED = 30;

/** Writes to students of a book: each reads it here and by mail, with what differs filled in. A journal line for each. */
export function writeLetter(pool: pg.Pool, author: Author, write: LetterWrite): Promise<LetterWritten> {
  return commitBook(pool, author, write.operation, async (db) => {
    const { school, book } = author;
    const assessment = write.assessment ?? null;
    const unknown = unknownPlaces(`${write.subject} ${write.body}`);
    if (unknown.length > 0)
      throw new Refusal(
        'bad-request',
        `{${unknown.join('}, {')}} cannot be filled in. What can: {given}, {family}${assessment ? ', {assessment}, {due}' : ''}. Nothing was sent.`,
      );
    const students = await recipients(db, author, write.enrolments);
    const values = await valuesOf(db, author, write, students);
    const id = newId('l');
    const words = students.map((s) => ({
      person: s.person,
      subject: fillLetter(write.subject, values.get(s.id)!),
      body: fillLetter(write.body, values.get(s.id)!),
    }));
    const path = `/my/${book}${assessment ? `/${assessment}` : ''}`;
    const mails = await putMails(
      db,
      school,
      words.map((w) => ({ ...w, kind: 'letter', path })),
    );
    const letter = { id, assessment, subject: write.subject, body: write.body };
    await insertLetter(
      db,
      author,
      letter,
      students.map((s, n) => ({ enrolment: s.id, mail: mails[n]! })),
    );
    await insertNoticeRows(
      db,
      school,
      book,
      students.map((s, n) => ({
        ...{ person: s.person, enrolment: s.id, kind: 'letter', path, writtenBy: author.person, mail: mails[n]! },
        text: `${words[n]!.subject}\n\n${words[n]!.body}`,
      })),
    );
    const sha256 = createHash('sha256').update(`${write.subject}\n${write.body}`).digest('hex');
    const lines = students.map((s): LineContent => ({
      ...{ kind: 'letter', assessment, enrolment: s.id, was: null },
      becomes: canonical({ id, sha256 }),
    }));
    return {
      lines,
      set: { kind: 'letter', title: '' },
      answer: () => ({ letter: id, written: students.length }),
    };
  });
}

/** Those that it goes to; refuses where one is not in the book any more, rather than leave somebody out unsaid. */
async function recipients(db: BookTransaction, { school, book }: Author, wanted: string[]): Promise<StudentRow[]> {
  const here = new Map((await studentsOf(db, school, book)).map((s) => [s.id, s]));
  const gone = wanted.filter((id) => !here.has(id)).length;
  if (gone > 0)
    throw new Refusal(
      'stale',
      `${counted(gone, 'student')} of these ${formOf(gone, 'is', 'are')} not in the book any more. Look again; nothing was sent.`,
    );
  return wanted.map((id) => here.get(id)!);
}

/** What differs from student to student. */
async function valuesOf(
  db: BookTransaction,
  { school, book }: Author,
  write: LetterWrite,
  students: readonly StudentRow[],
): Promise<Map<string, Record<LetterPlace, string>>> {
  const named = namedPlaces(`${write.subject} ${write.body}`);
  const about =
    write.assessment === undefined ? null : await datesOfStudents(db, school, book, write.assessment, students);
  if (!about && (named.includes('due') || named.includes('assessment')))
    throw new Refusal('bad-request', 'This letter is about no one assessment, so {assessment} and {due} cannot be filled in. Nothing was sent.'); // prettier-ignore
  const zone = (await findBook(db, school, book))!.timeZone;
  return new Map(
    students.map((s) => {
      const due = about?.due.get(s.id) ?? null;
      return [
        s.id,
        {
          given: s.given || s.family,
          family: s.family,
          assessment: about?.title ?? '',
          due: due === null ? 'no date' : moment(zone, Date.parse(due)),
        },
      ];
    }),
  );
}

/** What was written to students of a book, the latest first; about one assessment where that is said. */
export async function lettersOf(db: Db, school: string, book: string, assessment: string | null): Promise<Letters> {
  const letters = new Map<string, Letters[number]>();
  for (const { family, given, enrolment, state, fault, ...l } of await letterCopies(
    db,
    school,
    book,
    assessment,
    LISTED,
  )) {
    const letter = letters.get(l.id) ?? { ...l, by: personName({ family, given }), copies: [] };
    letter.copies.push({ enrolment, state, fault });
    letters.set(l.id, letter);
  }
  return [...letters.values()];
}
