import type pg from 'pg';
import { assembleBook } from '@core/book/assemble';
import { checkBook } from '@core/book/checks/check';
import { validateCell } from '@core/book/checks/validate-cell';
import type { EntryContent } from '@core/book/change';
import { counted, formOf } from '@core/words/count';
import { asBookTransaction, type BookTransaction } from '../../kernel/book-transaction';
import { passBookGate } from '../../kernel/book-gate';
import { operationOf } from '../../kernel/cells/cell';
import { newId, transaction } from '../../kernel/database';
import { insertBatch, type BatchKind } from '../../kernel/journal/sql/batches';
import {
  lockBook,
  operationDone,
  reserveJournalNumbers,
  writeLines,
  type LineContent,
  type Who,
} from '../../kernel/journal/sql/lines';
import { requireBookRole, type BookPermission, type BookRole } from '../../kernel/permissions';
import { Refusal, toPointedErrors } from '../../kernel/refusal';
import { frameOf, requireMarksFit } from './assemble';
import { marksOf } from './marks';
import { assessmentsOf } from './sql/assessments';
import { findBook, rulesAt, standingIn } from './sql/books';
import { findOperation, insertOperation } from './sql/operations';
import { overridesOf, toDocumentOverrides } from './sql/overrides';
import { enrolmentsOf, toDocumentStudent } from './sql/enrolments';

/** Who changes a book, through which door, and what they sent. */
export interface Author extends Who {
  /** Asked again under the book's lock. Null: no person's act but the school's own, such as the end of an exception. */
  permission: BookPermission | 'student' | null;
  /** SHA-256 of route and canonical body: the same operation with another is refused. */
  readonly fingerprint: string;
}

/** Changes that nobody sends: each `act` of the school's own has operations of its own. */
export const systemAuthor = (school: string, book: string, person: string, act: string): Author => ({
  school,
  book,
  person,
  permission: null,
  fingerprint: `system ${act}`,
});

/** What a piece of work wrote, beside its rows. */
export interface Commit<T> {
  /** In their order; none where nothing changed. */
  lines: LineContent[];
  /** Where the lines are a set with a kind and a title. */
  set?: { kind: BatchKind; title: string; undoes?: string | null };
  reason?: string | undefined;
  /** What has to be later than the lines, such as the end of an exception that they make. */
  after?(): Promise<void>;
  /** The answer, once the lines are written. It is given again to the same operation. */
  answer(numbers: JournalNumbers): T | Promise<T>;
}

/** Where lines stand in the journal; `last` is the book's last line where there are none. */
export interface JournalNumbers {
  first: number;
  last: number;
  batch: string;
}

/** The book as its lock was got. */
export interface CommitContext {
  /** The journal's last line. */
  seq: number;
  /** What the author is to the book now; null: no person. */
  role: BookRole | 'administrator' | null;
}

/** Another wish under an id that has its answer already. */
export const operationUsed = (): Refusal =>
  new Refusal(
    'operation-used',
    'This was sent before with something else in it, so it was not taken in. Look again, and make it anew.',
  );

/**
 * The one way in which a book is changed. Under its lock: the same operation gets the same answer, and another under
 * its id is refused; the author still may; `work` looks at the versions that were seen and writes rows; what it wrote
 * can be opened again, by the checks that reading demands; lines get their numbers; the answer is kept beside them. All
 * of it in one transaction, or none.
 */
export function commitBook<T>(
  pool: pg.Pool,
  author: Author,
  operation: string,
  work: (db: BookTransaction, at: CommitContext) => Promise<Commit<T>>,
): Promise<T> {
  return passBookGate(pool, author.school, author.book, () =>
    transaction(pool, async (connection) => {
      const db = asBookTransaction(connection);
      const seq = await lockBook(db, author.school, author.book);
      if (seq === null) throw new Refusal('not-found', 'You have no such book.');
      const answered = await answerBefore(db, author, operation);
      if (answered) return JSON.parse(answered.answer) as T;
      const role = await requirePermission(db, author);
      return write(db, author, operation, seq, await work(db, { seq, role }));
    }),
  );
}

/** What a piece of work wrote in each of several books, and its one answer. */
export interface CommitOfBooks<T> {
  /** By book: lines and reason. */
  commits: ReadonlyMap<string, Pick<Commit<T>, 'lines' | 'reason'>>;
  answer(): T | Promise<T>;
}

/**
 * The same for one act that concerns `author.book` and another: both are locked, in one order whoever asks; the author is
 * asked for in both; there are lines in each, and one answer.
 */
export function commitBooks<T>(
  pool: pg.Pool,
  author: Author,
  other: string,
  operation: string,
  work: (db: BookTransaction) => Promise<CommitOfBooks<T>>,
): Promise<T> {
  const { school, book } = author;
  return passBookGate(pool, school, book, () =>
    transaction(pool, async (connection) => {
      const db = asBookTransaction(connection);
      const lastLines = new Map<string, number>();
      for (const each of [book, other].sort()) {
        const seq = await lockBook(db, school, each);
        if (seq === null) throw new Refusal('not-found', 'You have no such book.');
        lastLines.set(each, seq);
      }
      const answered = await answerBefore(db, author, operation);
      if (answered) return JSON.parse(answered.answer) as T;
      for (const each of lastLines.keys()) await requirePermission(db, { ...author, book: each });
      const { commits, answer } = await work(db);
      for (const [each, commit] of commits) {
        const who: Who = { school, book: each, person: author.person };
        await writeJournal(db, each === book ? author : who, operation, lastLines.get(each)!, { ...commit, answer });
      }
      return keepAnswer(db, author, operation, await answer());
    }),
  );
}

/** The same for a book that is just being made: `work` makes it. */
export function commitNewBook(
  pool: pg.Pool,
  author: Who,
  work: (db: BookTransaction) => Promise<Commit<void> | null>,
): Promise<void> {
  return transaction(pool, async (connection) => {
    const db = asBookTransaction(connection);
    const made = await work(db);
    if (made) await writeJournal(db, author, `made-${author.book}`, 0, made);
  });
}

async function write<T>(
  db: BookTransaction,
  author: Author,
  operation: string,
  seq: number,
  commit: Commit<T>,
): Promise<T> {
  const numbers = await writeJournal(db, author, operation, seq, commit);
  await commit.after?.();
  return keepAnswer(db, author, operation, await commit.answer(numbers));
}

async function keepAnswer<T>(db: BookTransaction, author: Author, operation: string, answer: T): Promise<T> {
  const { school, book, person, fingerprint } = author;
  const kept = { id: operation, book, person, fingerprint, answer: JSON.stringify(answer) };
  if (!(await insertOperation(db, school, kept))) throw operationUsed();
  return answer;
}

async function writeJournal<T>(
  db: BookTransaction,
  who: Who | Author,
  operation: string,
  seq: number,
  { lines, set, reason }: Commit<T>,
): Promise<JournalNumbers> {
  const batch = newId('b');
  if (lines.length === 0) return { first: seq + 1, last: seq, batch };
  await requireOpenable(db, who, lines);
  const first = await reserveJournalNumbers(db, who.school, who.book, lines.length);
  if (set) await insertBatch(db, who, { id: batch, cells: lines.length, ...set });
  const why = reason?.trim();
  const numbered = lines.map((l, i) => ({
    ...l,
    operation: operationOf(operation, i),
    // A single cell under the same id is known by it for something else.
    ...(i === 0 && 'fingerprint' in who ? { fingerprint: who.fingerprint } : {}),
  }));
  await writeLines(db, who, first, numbered, { batch, ...(why ? { reason: why } : {}) });
  return { first, last: first + lines.length - 1, batch };
}

/** The answer of the same operation, or null where it is new. */
async function answerBefore(db: BookTransaction, author: Author, operation: string) {
  const { school, book, person, fingerprint } = author;
  const before = await findOperation(db, school, operation);
  if (before) {
    if (before.person !== person || before.book !== book || before.fingerprint !== fingerprint) throw operationUsed();
    return before;
  }
  // A single cell went in by it, or it is so long ago that the answer is forgotten.
  if ((await operationDone(db, school, book, operation)) !== null) throw operationUsed();
  return null;
}

/** Whoever was let in may have been taken off the book while they waited for its lock. */
async function requirePermission(
  db: BookTransaction,
  { school, book, person, permission }: Author,
): Promise<CommitContext['role']> {
  if (permission === null) {
    if ((await findBook(db, school, book))!.archived)
      throw new Refusal('not-allowed', 'This book is put away: it is read and not changed.');
    return null;
  }
  if (permission === 'student') {
    await requireEnrolled(db, school, book, person);
    return null;
  }
  const now = await standingIn(db, school, book, person);
  if (!now) throw new Refusal('not-found', 'You have no such book.');
  return requireBookRole({ ...now, bookThere: true }, permission);
}

/** A student acts in their own books while they are enrolled there; on what, the work itself asks. */
async function requireEnrolled(db: BookTransaction, school: string, book: string, person: string): Promise<void> {
  if (!(await enrolmentsOf(db, school, person)).some((e) => e.book === book))
    throw new Refusal('not-found', 'You have no such book.');
  if ((await findBook(db, school, book))!.archived)
    throw new Refusal('not-allowed', 'This book is put away: it is read and not changed.');
}

/** Kinds of lines that leave what a book's cells stand in as it is. */
const BESIDE = [
  'note',
  'group',
  'release',
  'withdraw',
  'feedback-release',
  'planned-release',
  'staff',
  'cell',
  'submission',
  'letter',
  'question',
  'instructions',
  'rubric',
  'levels',
  'feedback',
  'feedback-attachment',
  'marks',
];

/** Refuses what could not be opened again, by the checks that reading demands. */
async function requireOpenable(
  db: BookTransaction,
  { school, book }: Who,
  lines: readonly LineContent[],
): Promise<void> {
  const cells = lines.filter((l) => l.kind === 'cell');
  const frame = lines.filter((l) => !BESIDE.includes(l.kind));
  if (cells.length === 0 && frame.length === 0) return;
  const whole = frame.length > 0 ? await frameOf(db, school, book) : null;
  const rules = whole?.rules ?? (await rulesAt(db, school, book, (await findBook(db, school, book))!.rulesVersion));
  const all = await assessmentsOf(db, school, book, true);
  const marks = new Map(all.map((a) => [a.id, marksOf(rules, a)]));
  for (const c of cells) {
    const fault = validateCell(JSON.parse(c.becomes!) as EntryContent, marks.get(c.assessment!) ?? null);
    if (fault !== null) throw new Refusal('bad-request', `${fault} Nothing was changed.`);
  }
  if (!whole) return;
  const overrides = (await overridesOf(db, school, book)).filter((o) => whole.here.has(o.enrolment));
  const students = whole.students.map(toDocumentStudent);
  const checked = checkBook(
    assembleBook(whole.skeleton, '2000-01-01T00:00:00Z', students, [], toDocumentOverrides(overrides)),
  );
  if (!checked.ok) {
    const more = checked.problems.length - 1;
    throw new Refusal(
      'bad-request',
      `${checked.problems[0]!.says}${more > 0 ? ` There ${formOf(more, 'is', 'are')} ${counted(more, 'more fault')}.` : ''} Nothing was changed.`,
      { errors: toPointedErrors(checked.problems) },
    );
  }
  if (frame.some((l) => l.kind === 'rules' || l.kind === 'assessment'))
    await requireMarksFit(db, { school, book }, rules, all);
}
