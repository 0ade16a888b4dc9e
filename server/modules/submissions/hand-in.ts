import type pg from 'pg';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { counted, formOf } from '@core/words/count';
import { isTaken, oddAboutFile } from '@core/work/file-kinds';
import type { AcceptWrite, HandedIn, HandInWrite, TakeBackWrite, WorkSettings } from '@contract/work/submissions';
import type { BookTransaction } from '../../kernel/book-transaction';
import { cellLine, emptyCell, nextCell } from '../../kernel/cells/cell';
import { writeCells, type CellRow } from '../../kernel/cells/sql';
import type { FileStore } from '../../kernel/files/file-store';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { Refusal } from '../../kernel/refusal';
import { type Author, commitBook } from '../books';
import { handedOf, ownPlace, placeOf, statementOf, type OwnPlace } from './facts';
import { requireOpen, settleAll, type Student } from './uploads/parts';
import { newReceipt } from './receipt';
import { tellHandedIn } from './tell-handed-in';
import { findSubmission, holdSubmission, markHandedIn, markTakenBack, type SubmissionRow } from './sql/submissions';
import { insertTrace, wasOpened } from './sql/traces';
import { openReopening, viewOf } from './view';

const NOT_THERE = 'There is nothing begun here. Look again.';

/** Hands in all that lies there: one attempt, one receipt, one moment, in one transaction. */
export async function handIn(
  pool: pg.Pool,
  files: FileStore,
  author: Author,
  who: Student,
  write: HandInWrite,
): Promise<HandedIn> {
  const { school, book, person } = who;
  const lying = await findSubmission(pool, school, book, write.submission);
  if (lying) await settleAll(pool, files, { school, person }, lying);
  return commitBook(pool, author, write.operation, async (db) => {
    const own = await ownPlace(db, school, person, book, who.assessment);
    const s = await ownSubmission(db, own, write.submission);
    if (s.state !== 'begun')
      throw new Refusal('stale', 'This is handed in already.', { now: viewOf(s, own.assessment.work) });
    if (s.version !== write.version)
      throw new Refusal('stale', 'What lies here was changed in another window. Look at it, then hand in.', {
        now: viewOf(s, own.assessment.work),
      });
    await requireOpen(db, own);
    requireWhole(s);
    requireTaken(s, own.assessment.work);
    const statement = statementOf(own);
    if (write.statement !== statement)
      throw new Refusal(
        'bad-request',
        statement === null ? 'There is nothing to tick here. Look again.' : `Tick this first: “${statement}”`,
      );
    const lines = await writeHandedIn(db, own, s, { statement, pressedAt: write.pressedAt });
    await insertTrace(db, school, book, { submission: s.id, person, kind: 'handed-in' });
    return { lines, answer: () => answerOf(db, own, s.id) };
  });
}

/** One attempt more in the student's cell, and the receipt of what came; gives their lines. */
async function writeHandedIn(
  db: BookTransaction,
  own: OwnPlace,
  s: SubmissionRow,
  how: { statement: string | null; pressedAt: string | null },
): Promise<LineContent[]> {
  const { school, id: book } = own.book.row;
  const was = own.cells.get(own.student.id) ?? emptyCell(cellOf(s));
  const reopening = openReopening(await handedOf(db, own));
  const is =
    reopening?.same && was.content.attempts ? receivedInPlace(was, own.book.asOf) : received(was, own.book.asOf);
  const attempt = is.content.attempts!.length;
  await writeCells(db, school, book, [is]);
  const receipt = await giveReceipt(db, own, { ...how, id: s.id, attempt, at: own.book.asOf });
  await tellHandedIn(db, own, { ...s, ...how, receipt, attempt, handedInAt: own.book.asOf });
  const becomes = canonical({ id: s.id, state: 'handed-in', attempt, receipt, content: contentHashes(s) });
  return [cellLine(was, is), { kind: 'submission', ...cellOf(s), was: null, becomes }];
}

/** The staff take in what lies there of a student, without what is not all there; the student never pressed "Hand in". */
export async function acceptWork(
  pool: pg.Pool,
  files: FileStore,
  author: Author,
  submission: string,
  write: AcceptWrite,
): Promise<HandedIn> {
  const { school, book, person } = author;
  const lying = await findSubmission(pool, school, book, submission);
  if (lying) await settleAll(pool, files, { school, person }, lying);
  return commitBook(pool, author, write.operation, async (db) => {
    await holdSubmission(db, school, book, submission);
    const s = await findSubmission(db, school, book, submission);
    const own = s && (await placeOf(db, school, book, s.enrolment, s.assessment));
    if (!s || !own) throw new Refusal('not-found', 'There is no such work in this book.');
    if (s.state !== 'begun' || s.version !== write.version)
      throw new Refusal('stale', 'The student changed this meanwhile. Look again before you take it in.', {
        now: viewOf(s, own.assessment.work),
      });
    const here = { ...s, files: s.files.filter((f) => f.sha256 !== null) };
    requireWhole(here);
    const lines = await writeHandedIn(db, own, here, { statement: null, pressedAt: null });
    await insertTrace(db, school, book, { submission: s.id, person, kind: 'accepted' });
    return { lines, reason: write.reason, answer: () => answerOf(db, own, s.id) };
  });
}

const cellOf = ({ assessment, enrolment }: SubmissionRow) => ({ assessment, enrolment });

async function answerOf(db: BookTransaction, own: OwnPlace, id: string): Promise<HandedIn> {
  const { school, id: book } = own.book.row;
  return { submission: viewOf((await findSubmission(db, school, book, id))!, own.assessment.work) };
}

async function ownSubmission(db: BookTransaction, own: OwnPlace, id: string): Promise<SubmissionRow> {
  const { school, id: book } = own.book.row;
  await holdSubmission(db, school, book, id);
  const s = await findSubmission(db, school, book, id);
  // Somebody else's is not there.
  if (!s || s.enrolment !== own.student.id || s.assessment !== own.assessment.id)
    throw new Refusal('not-found', NOT_THERE);
  return s;
}

function requireWhole(s: SubmissionRow): void {
  if (s.files.length === 0 && s.typed.trim() === '' && s.link.trim() === '')
    throw new Refusal('bad-request', 'There is nothing here to hand in yet.');
  const coming = s.files.filter((f) => f.sha256 === null);
  if (coming.length > 0)
    throw new Refusal(
      'bad-request',
      `${counted(coming.length, 'file')} ${formOf(coming.length, 'is', 'are')} not all here yet: ${coming.map((f) => f.name).join(', ')}. Nothing is handed in yet.`,
    );
}

function requireTaken(s: SubmissionRow, work: WorkSettings): void {
  const wrong = s.files.find((f) => !isTaken(f, work.types));
  if (wrong)
    throw new Refusal('bad-request', `${oddAboutFile(wrong, work.types)} Take it out; nothing is handed in yet.`);
}

/** The cell with one attempt more, which came through the application. */
function received(was: CellRow, at: string): CellRow {
  const is = nextCell(was, { kind: 'received', at });
  return { ...is, handedIn: is.handedIn.map((h, n) => h || n === is.handedIn.length - 1) };
}

/** The cell with what came in place of its last attempt: that is marked anew, and what was released of it stays. */
function receivedInPlace(was: CellRow, at: string): CellRow {
  const attempts = [...was.content.attempts!.slice(0, -1), { receivedAt: at }];
  const is = nextCell(was, { kind: 'put', entry: { ...was.content, attempts } });
  return { ...is, handedIn: is.handedIn.map((h, n) => h || n === attempts.length - 1) };
}

/** What was handed in, by its hashes: the words themselves stand beside the line. */
function contentHashes(s: SubmissionRow): string[] {
  const hash = (text: string): string => createHash('sha256').update(text).digest('hex');
  return [
    ...s.files.map((f) => f.sha256!),
    ...(s.typed.trim() === '' ? [] : [hash(s.typed)]),
    ...(s.link.trim() === '' ? [] : [hash(s.link)]),
  ];
}

async function giveReceipt(
  db: BookTransaction,
  own: OwnPlace,
  s: { id: string; attempt: number; statement: string | null; at: string; pressedAt: string | null },
): Promise<string> {
  for (let tries = 0; tries < 20; tries++) {
    const receipt = newReceipt();
    if (await markHandedIn(db, own.book.row.school, own.book.row.id, { ...s, receipt })) return receipt;
  }
  throw new Error('no number was free for a receipt');
}

/** Takes back what was handed in and nobody has looked at; the staff still see that it was there. */
export function takeBack(pool: pg.Pool, author: Author, who: Student, write: TakeBackWrite): Promise<HandedIn> {
  return commitBook(pool, author, write.operation, async (db) => {
    const { school, book, person } = who;
    const own = await ownPlace(db, school, person, book, who.assessment);
    const s = await ownSubmission(db, own, write.submission);
    const was = own.cells.get(own.student.id) ?? emptyCell(cellOf(s));
    const reason = await whyKept(db, own, s, was);
    if (reason !== '') throw new Refusal('not-allowed', `${reason} It stays handed in.`);
    if (s.version !== write.version)
      throw new Refusal('stale', 'This was changed in another window. Look again.', {
        now: viewOf(s, own.assessment.work),
      });
    const attempts = was.content.attempts!.filter((_, n) => n !== s.attempt! - 1);
    const is = nextCell(was, { kind: 'put', entry: { ...was.content, attempts } });
    is.handedIn = was.handedIn.filter((_, n) => n !== s.attempt! - 1);
    await writeCells(db, school, book, [is]);
    await markTakenBack(db, school, book, s.id);
    await insertTrace(db, school, book, { submission: s.id, person, kind: 'taken-back' });
    const said = (state: string): string => canonical({ id: s.id, state, receipt: s.receipt });
    const line: LineContent = {
      kind: 'submission',
      ...cellOf(s),
      was: said('handed-in'),
      becomes: said('taken-back'),
    };
    return { lines: [cellLine(was, is), line], answer: () => answerOf(db, own, s.id) };
  });
}

/** Why something handed in cannot be taken back; '' where it can. */
async function whyKept(db: BookTransaction, own: OwnPlace, s: SubmissionRow, cell: CellRow): Promise<string> {
  if (s.state !== 'handed-in') return 'This is not handed in.';
  if (own.assessment.work.keepsAll) return 'What is handed in here is not taken back.';
  const attempt = cell.content.attempts?.[s.attempt! - 1];
  if (s.attempt !== cell.content.attempts?.length || !attempt?.receivedAt) return 'Another attempt came after it.';
  const { before } = await handedOf(db, own);
  if (before.some((x) => x.id !== s.id && x.state === 'handed-in' && x.attempt === s.attempt))
    return 'It came in place of an earlier one.';
  if (attempt.score !== undefined || attempt.mark !== undefined) return 'It is marked already.';
  if (await wasOpened(db, own.book.row.school, own.book.row.id, s.id)) return 'Your teacher has opened it already.';
  const due = own.due;
  if (due !== null && Date.parse(own.book.asOf) > Date.parse(due)) return 'It was due, so it is not taken back.';
  return '';
}
