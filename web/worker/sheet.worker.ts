/// <reference lib="webworker" />
import { expose, transfer } from 'comlink';
import type { Sheet } from '@contract/books';
import { buffersOf } from './columns';
import { faultsOf, hiddenOf, WorkerBook } from './compiled-book';
import { IntakeTables } from './intake-tables';
import { Latest } from './latest';
import type { BookQuestions, OpenedSheet, SheetHost } from './protocol';

/** The book that is open, and the session that opened it. */
let kept: { session: number; book: WorkerBook } | null = null;
/** A book that is being opened, and by which session. */
let coming: { session: number; opened: Promise<unknown> } | null = null;
const latest = new Latest();
const tables = new IntakeTables();

/** The book of a session: what is asked while it is being opened waits for it, what is late finds none. */
async function bookOf(session: number): Promise<WorkerBook> {
  if (kept?.session !== session && coming?.session === session) await coming.opened;
  if (kept?.session !== session) throw new Error('Another book was opened meanwhile.');
  return kept.book;
}

async function fetchSheet(path: string): Promise<Sheet> {
  let response: Response;
  try {
    response = await fetch(`/api/v1/books/${path}`);
  } catch {
    throw new Error('The server does not answer. Check the line and try again.');
  }
  if (response.ok) return (await response.json()) as Sheet;
  const problem = (await response.json().catch(() => null)) as { detail?: string } | null;
  throw new Error(problem?.detail ?? 'The server could not give the book.');
}

function openSheet(session: number, path: string): Promise<OpenedSheet> {
  const opened = latest.take(fetchSheet(path)).then((sheet) => {
    const book = new WorkerBook(sheet);
    kept = { session, book };
    const all: OpenedSheet = {
      seq: sheet.seq,
      students: book.students,
      items: book.items,
      cells: book.cells(),
      rules: book.rules,
      faults: faultsOf(sheet),
      hidden: hiddenOf(sheet),
      recalculated: sheet.recalculated?.students ?? null,
    };
    return transfer(all, buffersOf(all.cells));
  });
  coming = { session, opened };
  return opened;
}

/** What is asked of an open book. */
const asked = (book: WorkerBook): BookQuestions => ({
  async standings() {
    const all = book.standings();
    return transfer(all, [all.dropped.buffer as ArrayBuffer]);
  },
  async change(cells) {
    return book.change(cells);
  },
  async settle(cells) {
    return book.settle(cells);
  },
  async atClosing(on) {
    const all = book.atClosing(on);
    return transfer(all, buffersOf(all.cells));
  },
  async totals(group) {
    const all = book.totals(group);
    return transfer(all, [all.buffer as ArrayBuffer]);
  },
  async overTerm(student) {
    return book.overTerm(student);
  },
  async content(student, item) {
    return book.content(student, item);
  },
  async column(item) {
    return book.column(item);
  },
  async contents(student) {
    return book.contents(student);
  },
  async explainItem(student, item, titles) {
    return { lines: book.explainItem(student, item, titles), content: book.content(student, item) };
  },
  async explainGroup(student, group, titles) {
    return { lines: book.explainGroup(student, group, titles), content: null };
  },
  async explainStanding(student, titles) {
    return { lines: book.explainStanding(student, titles), content: null };
  },
  async trial(wish) {
    return book.trial(wish);
  },
  async causes(wish) {
    return book.causes(wish);
  },
  async rulesFile(wish) {
    return book.rulesFile(wish);
  },
  async warnings(wish) {
    return book.warnings(wish);
  },
  async whatIfCells(cells) {
    return book.tryCells(cells);
  },
  async whatIfOverride(students, grade) {
    return book.tryOverride(students, grade);
  },
  async without(held) {
    return book.without(held);
  },
  async placed() {
    return book.placed();
  },
  async whatIfItems(tried) {
    return book.tryItems(tried);
  },
  async preview(table, columns, roster, targets) {
    return tables.preview(table, columns, roster, targets, (student, item) => book.content(student, item));
  },
});

const host: SheetHost = {
  open: (session, id) => openSheet(session, `${encodeURIComponent(id)}/sheet`),
  openAsOf: (session, id, at) => openSheet(session, `${encodeURIComponent(id)}/as-of?at=${encodeURIComponent(at)}`),
  async ask(session, question, args) {
    const answer = asked(await bookOf(session))[question] as (...all: unknown[]) => unknown;
    return answer(...args);
  },
  async readFile(bytes) {
    return tables.readFile(bytes);
  },
  async readText(text, encoding) {
    return tables.read(text, encoding);
  },
  async guess(table, roster, targets) {
    return tables.guess(table, roster, targets);
  },
  async leftOut(table) {
    return tables.leftOut(table);
  },
};

expose(host);
