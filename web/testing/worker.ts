import { checkBook } from '@core/book/checks/check';
import type { Sheet } from '@contract/books';
import { faultsOf, hiddenOf, WorkerBook } from '../worker/compiled-book';
import { IntakeTables } from '../worker/intake-tables';
import type { OpenedSheet, SheetWorker } from '../worker/protocol';

/** The calculation worker's own code on the page's thread: jsdom has no Worker. The book comes from the caller. */
export function workerOf(sheet: () => Sheet): SheetWorker {
  let kept: WorkerBook;
  const tables = new IntakeTables();
  const open = (): OpenedSheet => {
    const s = sheet();
    if (!checkBook(s.document).ok) throw new Error('the test book is not sound');
    kept = new WorkerBook(structuredClone(s));
    return {
      seq: s.seq,
      students: kept.students,
      items: kept.items,
      cells: kept.cells(),
      rules: kept.rules,
      faults: faultsOf(s),
      hidden: hiddenOf(s),
      recalculated: s.recalculated?.students ?? null,
    };
  };
  return {
    open: async () => open(),
    openAsOf: async () => open(),
    standings: async () => kept.standings(),
    change: async (cells) => kept.change(cells),
    settle: async (cells) => kept.settle(cells),
    atClosing: async (on) => kept.atClosing(on),
    totals: async (group) => kept.totals(group),
    overTerm: async (student) => kept.overTerm(student),
    content: async (student, item) => kept.content(student, item),
    column: async (item) => kept.column(item),
    contents: async (student) => kept.contents(student),
    explainItem: async (student, item, titles) => ({
      lines: kept.explainItem(student, item, titles),
      content: kept.content(student, item),
    }),
    explainGroup: async (student, group, titles) => ({
      lines: kept.explainGroup(student, group, titles),
      content: null,
    }),
    explainStanding: async (student, titles) => ({ lines: kept.explainStanding(student, titles), content: null }),
    trial: async (wish) => kept.trial(wish),
    causes: async (wish) => kept.causes(wish),
    rulesFile: async (wish) => kept.rulesFile(wish),
    warnings: async (wish) => kept.warnings(wish),
    whatIfCells: async (cells) => kept.tryCells(cells),
    whatIfOverride: async (students, grade) => kept.tryOverride(students, grade),
    without: async (held) => kept.without(held),
    placed: async () => kept.placed(),
    whatIfItems: async (tried) => kept.tryItems(tried),
    readFile: async (bytes) => tables.readFile(bytes),
    readText: async (text, encoding) => tables.read(text, encoding),
    guess: async (table, roster, targets) => tables.guess(table, roster, targets),
    leftOut: async (table) => tables.leftOut(table),
    preview: async (table, columns, roster, targets) =>
      tables.preview(table, columns, roster, targets, (s, i) => kept.content(s, i)),
  };
}
