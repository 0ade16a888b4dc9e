import type { NoticeKind } from '@contract/notices';
import type { Db } from '../../kernel/database';
import { putMails } from '../mail';
import { insertNoticeRows, personsOf } from './sql';

/** What is told, of one book. Students read it within the application; the mail says only that it is there. */
interface Told {
  kind?: NoticeKind;
  text: string;
  /** The assessment it is about; its page is where the notice leads. */
  assessment?: string;
  /** Or the assessment whose slip it is about. */
  slip?: string;
  /** Whose words they are, where they are somebody's. */
  writtenBy?: string;
}

/** Tells these students something about their book, here and by mail. */
export async function tellStudents(
  db: Db,
  school: string,
  book: string,
  enrolments: string[],
  told: string | Told,
): Promise<void> {
  const {
    kind = 'told',
    text,
    assessment,
    slip,
    writtenBy = null,
  } = typeof told === 'string' ? ({ text: told } as Told) : told;
  const to = await personsOf(db, school, book, enrolments);
  const path = slip ? slipPath(book, slip) : `/my/${book}${assessment ? `/${assessment}` : ''}`;
  const mails = await putMails(
    db,
    school,
    to.map(({ person, bookTitle }) => ({ person, kind: 'told', ...toldByMail(bookTitle, kind), path })),
  );
  await insertNoticeRows(
    db,
    school,
    book,
    to.map(({ person, enrolment }, n) => ({ person, enrolment, kind, text, path, writtenBy, mail: mails[n]! })),
  );
}

/** Where a student reads what came back of one assessment. */
export const slipPath = (book: string, assessment: string): string => `/my/${book}?slip=${assessment}`;

/** That there is something to read, never what. */
function toldByMail(bookTitle: string, kind: NoticeKind): { subject: string; body: string } {
  const what = kind === 'answer' ? 'an answer to read' : 'something new to read';
  return { subject: `${bookTitle}: ${what}`, body: `There is ${what} in ${bookTitle}.` };
}

/** Tells these of a book's staff something; by mail at once, or gathered with the rest, where that is said. */
export async function tellStaff(
  db: Db,
  of: { school: string; book: string; bookTitle: string },
  persons: readonly string[],
  told: { kind: 'question' | 'arrival'; text: string; path: string; writtenBy: string | null },
): Promise<void> {
  const { school, book, bookTitle } = of;
  const { kind, text, path, writtenBy } = told;
  const mails =
    kind === 'arrival'
      ? []
      : await putMails(
          db,
          school,
          persons.map((person) => ({
            ...{ person, kind: 'told' as const, path },
            subject: `${bookTitle}: a question to answer`,
            body: `A student asks something in ${bookTitle}.`,
          })),
        );
  await insertNoticeRows(
    db,
    school,
    book,
    persons.map((person, n) => ({ person, enrolment: null, kind, text, path, writtenBy, mail: mails[n] ?? null })),
  );
}
