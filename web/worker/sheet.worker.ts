/// <reference lib="webworker" />
import { expose, transfer } from 'comlink';
import type { Sheet } from '@contract/books';
import { decode, readTable } from '@core/import/table';
import { guessColumns, reconcile } from '@core/import/reconcile';
import { buffersOf } from './columns';
import { WorkerBook } from './compiled-book';
import type { OpenedSheet, SheetWorker } from './protocol';

let kept: WorkerBook | null = null;

function book(): WorkerBook {
  if (!kept) throw new Error('The book is not open yet.');
  return kept;
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

function openSheet(sheet: Sheet): OpenedSheet {
  kept = new WorkerBook(sheet);
  const opened: OpenedSheet = {
    seq: sheet.seq,
    students: kept.students,
    items: kept.items,
    cells: kept.cells(),
    rules: kept.rules,
  };
  return transfer(opened, buffersOf(opened.cells));
}

const worker: SheetWorker = {
  async open(id) {
    return openSheet(await fetchSheet(`${encodeURIComponent(id)}/sheet`));
  },
  async openAsOf(id, at) {
    return openSheet(await fetchSheet(`${encodeURIComponent(id)}/as-of?at=${encodeURIComponent(at)}`));
  },
  async standings() {
    const all = book().standings();
    return transfer(all, [all.dropped.buffer as ArrayBuffer]);
  },
  async change(cells) {
    return book().change(cells);
  },
  async settle(cells) {
    return book().settle(cells);
  },
  async atClosing(on) {
    const all = book().atClosing(on);
    return transfer(all, buffersOf(all.cells));
  },
  async totals(group) {
    const all = book().totals(group);
    return transfer(all, [all.buffer as ArrayBuffer]);
  },
  async overTerm(student) {
    return book().overTerm(student);
  },
  async content(student, item) {
    return book().content(student, item);
  },
  async column(item) {
    return book().column(item);
  },
  async contents(student) {
    return book().contents(student);
  },
  async explainItem(student, item, titles) {
    return { lines: book().explainItem(student, item, titles), content: book().content(student, item) };
  },
  async explainGroup(student, group, titles) {
    return { lines: book().explainGroup(student, group, titles), content: null };
  },
  async explainStanding(student, titles) {
    return { lines: book().explainStanding(student, titles), content: null };
  },
  async trial(wish) {
    return book().trial(wish);
  },
  async causes(wish) {
    return book().causes(wish);
  },
  async rulesFile(wish) {
    return book().rulesFile(wish);
  },
  async warnings(wish) {
    return book().warnings(wish);
  },
  async whatIfCells(cells) {
    return book().tryCells(cells);
  },
  async without(held) {
    return book().without(held);
  },
  async placed() {
    return book().placed();
  },
  async whatIfItems(tried) {
    return book().tryItems(tried);
  },
  async readFile(bytes) {
    const { text, encoding } = decode(bytes);
    return readTable(text, encoding);
  },
  async readText(text) {
    return readTable(text);
  },
  async guess(table, roster, targets) {
    return guessColumns(table, roster, targets);
  },
  async preview(table, columns, roster, targets) {
    return reconcile(table, columns, roster, targets, (student, item) => book().content(student, item));
  },
};

expose(worker);
