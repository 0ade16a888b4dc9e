import type pg from 'pg';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import type { MessageKind, MessageWrite, SetAsideWrite, Thread, UnansweredQuestion } from '@contract/work/threads';
import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { managesBook } from '../../kernel/permissions';
import { personName } from '../accounts';
import { commitBook, findBook, staffOf, type Author, type Commit } from '../books';
import { hiddenIn, nameless } from '../hidden-names';
import { tellStaff, tellStudents } from '../notices';
import { ownPlace, placeOf } from '../submissions';
import { insertMessage, messagesOf, unansweredIn, type MessageRow, type ThreadPlace } from './sql';

/** A thread as one of those who may read it does. */
function threadView(rows: readonly MessageRow[], reader: string): Thread {
  const answered = rows.findLastIndex((m) => m.kind === 'answer' || m.kind === 'set-aside');
  return {
    messages: rows.map((m) => ({
      ...{ id: m.id, kind: m.kind, at: m.at, text: m.text },
      by: personName(m),
      own: m.person === reader,
    })),
    unansweredSince: rows.slice(answered + 1).find((m) => m.kind === 'question')?.at ?? null,
  };
}

/** What students read: that a question was set aside, and what was drafted, is the staff's affair. */
const ofStudent = (rows: readonly MessageRow[]): MessageRow[] =>
  rows.filter((m) => m.kind === 'question' || m.kind === 'answer');

interface Student {
  school: string;
  person: string;
  book: string;
  assessment: string;
}

/** `afterLeaving`: they may have left the book, and read. */
async function ownThread(
  db: Db,
  who: Student,
  afterLeaving = false,
): Promise<{ place: ThreadPlace; title: string; name: string }> {
  const own = await ownPlace(db, who.school, who.person, who.book, who.assessment, afterLeaving);
  const { school, book, assessment } = who;
  return {
    place: { school, book, assessment, enrolment: own.student.id },
    title: own.assessment.title,
    name: personName(own.student),
  };
}

/** A student's own thread. */
export async function studentThread(db: Db, who: Student): Promise<Thread> {
  const { place } = await ownThread(db, who, true);
  return threadView(ofStudent(await messagesOf(db, place)), who.person);
}

/** A student's thread as the staff read it. */
export async function staffThread(db: Db, place: ThreadPlace, reader: string): Promise<Thread> {
  await requirePlace(db, place);
  return threadView(await messagesOf(db, place), reader);
}

async function requirePlace(db: Db, { school, book, assessment, enrolment }: ThreadPlace): Promise<{ title: string }> {
  const found = await placeOf(db, school, book, enrolment, assessment);
  if (!found) throw new Refusal('not-found', 'There is no such student or assessment in this book.');
  return found.assessment;
}

/** A student asks: the teachers of the book are told. */
export function ask(pool: pg.Pool, author: Author, who: Student, write: MessageWrite): Promise<Thread> {
  return commitBook(pool, author, write.operation, async (db) => {
    const { place, title, name } = await ownThread(db, who);
    const { school, book } = who;
    const bookTitle = (await findBook(db, school, book))!.title;
    const teachers = (await staffOf(db, school, book)).filter((s) => managesBook(s.role)).map((s) => s.person);
    const hidden = (await hiddenIn(db, school, book)).has(who.assessment);
    await tellStaff(db, { school, book, bookTitle }, teachers, {
      kind: 'question',
      text: `${hidden ? 'Somebody' : name} asks about ${title}.`,
      path: hidden
        ? `/book/${book}/marking/${who.assessment}`
        : `/book/${book}/assessments/${who.assessment}/arrivals?student=${place.enrolment}`,
      writtenBy: hidden ? null : who.person,
    });
    return said(db, place, { person: who.person, kind: 'question', text: write.text }, true);
  });
}

/** The staff answer: the student is told. */
export function answer(
  pool: pg.Pool,
  author: Author,
  at: { assessment: string; enrolment: string },
  write: MessageWrite,
): Promise<Thread> {
  return commitBook(pool, author, write.operation, async (db) => {
    const { school, book, person } = author;
    const place = { school, book, ...at };
    const { title } = await requirePlace(db, place);
    await requireSeen(db, place, person, write.seen);
    await tellStudents(db, school, book, [at.enrolment], {
      ...{ kind: 'answer', text: `Your question about ${title} was answered.` },
      assessment: at.assessment,
      writtenBy: person,
    });
    return said(db, place, { person, kind: 'answer', text: write.text });
  });
}

/** Staff say something of a question that waits, of which the student is told nothing. */
function sayAmongStaff(
  pool: pg.Pool,
  author: Author,
  at: { assessment: string; enrolment: string },
  write: SetAsideWrite,
  m: { kind: 'draft' | 'set-aside'; text: string },
): Promise<Thread> {
  return commitBook(pool, author, write.operation, async (db) => {
    const { school, book, person } = author;
    const place = { school, book, ...at };
    await requirePlace(db, place);
    const { unansweredSince } = threadView(await requireSeen(db, place, person, write.seen), person);
    if (unansweredSince === null) throw new Refusal('stale', 'No question waits here any more.');
    return said(db, place, { person, ...m });
  });
}

/** A marker leaves in the thread what they would answer: the question waits on, until a teacher answers. */
export const draftAnswer = (
  pool: pg.Pool,
  author: Author,
  at: { assessment: string; enrolment: string },
  write: MessageWrite,
): Promise<Thread> => sayAmongStaff(pool, author, at, write, { kind: 'draft', text: write.text });

/** A question needs no answer: it waits no longer. */
export const setAside = (
  pool: pg.Pool,
  author: Author,
  at: { assessment: string; enrolment: string },
  write: SetAsideWrite,
): Promise<Thread> => sayAmongStaff(pool, author, at, write, { kind: 'set-aside', text: '' });

/** Refuses an answer to a thread in which something was said that its writer had not read. */
async function requireSeen(db: Db, place: ThreadPlace, reader: string, seen: number): Promise<MessageRow[]> {
  const rows = await messagesOf(db, place);
  if (rows.length !== seen)
    throw new Refusal('stale', 'Something was said here meanwhile. Read it first; what you wrote stays.', {
      now: threadView(rows, reader),
    });
  return rows;
}

/** Writes one message, its journal line, and gives the thread after it. The journal holds its hash, not its words. */
async function said(
  db: BookTransaction,
  place: ThreadPlace,
  m: { person: string; kind: MessageKind; text: string },
  asStudent = false,
): Promise<Commit<Thread>> {
  const id = await insertMessage(db, place, m);
  const sha256 = createHash('sha256').update(m.text).digest('hex');
  const { assessment, enrolment } = place;
  const becomes = canonical({ id, kind: m.kind, sha256 });
  return {
    lines: [{ kind: 'question', assessment, enrolment, was: null, becomes }],
    answer: async () => {
      const rows = await messagesOf(db, place);
      return threadView(asStudent ? ofStudent(rows) : rows, m.person);
    },
  };
}

/** Questions of these books that nobody has answered, the longest waiting first. */
export async function unanswered(db: Db, school: string, books: readonly string[]): Promise<UnansweredQuestion[]> {
  if (books.length === 0) return [];
  const waiting = (await unansweredIn(db, school, books)).map(({ family, given, ...q }) => ({
    ...q,
    whose: personName({ family, given }),
  }));
  return nameless(db, school, waiting, (q, whose) => ({ ...q, whose }));
}
