import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { checkBook } from '@core/book/checks/check';
import { groupsOf, itemsOf, type BookDocument, type Item } from '@core/book/document';
import { compileBook } from '@core/calculation/compiled/compile';
import { standingsOf } from '@core/estimate/standings';
import { median, time, type Figure } from './figure';

/** HyperFormula is under the GPL: it is installed for the comparison, outside of the project, and used in nothing else. */
const ENGINE = 'hyperformula@3.1.0';

type Cell = number | string | null;
interface Engine {
  HyperFormula: {
    buildFromArray(
      sheet: Cell[][],
      options: object,
    ): { getCellValue(at: { sheet: number; row: number; col: number }): unknown; destroy(): void };
  };
}

function loadEngine(): Engine {
  const folder = join(tmpdir(), 'last-tally-bench-engine');
  const installed = join(folder, 'node_modules', 'hyperformula', 'package.json');
  if (!existsSync(installed)) {
    mkdirSync(folder, { recursive: true });
    const { status, stderr } = spawnSync(
      'npm',
      ['install', '--prefix', folder, '--no-save', '--ignore-scripts', '--no-audit', '--no-fund', ENGINE],
      { encoding: 'utf8' },
    );
    if (status !== 0) throw new Error(`the sheet engine to compare with could not be installed: ${stderr}`);
  }
  return createRequire(join(folder, 'here.js'))('hyperformula') as Engine;
}

/** A general sheet engine on an equivalent sheet, against our whole book from its parsed document. */
export async function sheetEngineFigure(book: BookDocument): Promise<Figure> {
  const { HyperFormula } = loadEngine();
  const { sheet, total } = sheetOf(book);
  const theirs: number[] = [];
  for (let run = 0; run < 4; run++) {
    const from = performance.now();
    const engine = HyperFormula.buildFromArray(sheet, { licenseKey: 'gpl-v3' });
    let sum = 0;
    for (let row = 0; row < sheet.length; row++) sum += Number(engine.getCellValue({ sheet: 0, row, col: total }));
    const ms = performance.now() - from;
    engine.destroy();
    if (!(sum > 0)) throw new Error('the sheet engine worked nothing out');
    if (run > 0) theirs.push(ms);
  }
  const ours = time(() => {
    const checked = checkBook(book);
    if (!checked.ok) throw new Error('the generated book is not sound');
    return standingsOf(compileBook(checked.book));
  }, 9);
  const engine = median(theirs);
  process.stderr.write(`sheet engine ${engine.toFixed(0)} ms, our whole book ${ours.toFixed(1)} ms\n`);
  return {
    name: 'core.whole-book.ratio-to-sheet-engine',
    value: engine / ours,
    unit: 'ratio',
    against: 'our whole book',
  };
}

const columnName = (n: number): string =>
  (n >= 26 ? columnName(Math.floor(n / 26) - 1) : '') + String.fromCharCode(65 + (n % 26));

/**
 * One row a student: a score and the days late of every item, what the score counts after a flat deduction, for each
 * group the mean of its items with the lowest dropped where the book drops, and the weighted mean of the groups.
 */
function sheetOf(book: BookDocument): { sheet: Cell[][]; total: number } {
  const items = itemsOf(book.tree);
  const at = new Map(items.map((item, i) => [item.id, i]));
  const scores = new Map(
    book.entries.map((e) => [`${e.student} ${e.item}`, Math.max(...(e.attempts ?? []).map((a) => a.score ?? 0))]),
  );
  const leaves = groupsOf(book.tree).filter((g) => g.children.every((c) => c.type === 'item'));
  const n = items.length;
  const sheet = book.students.map((student, row): Cell[] => {
    const name = (col: number): string => `${columnName(col)}${row + 1}`;
    const own = items.map((item) => scores.get(`${student.id} ${item.id}`) ?? 0);
    const late = items.map((item, i) => (item.late ? (row + i) % 3 : 0));
    const counts = items.map((item, i) =>
      item.late ? `=MAX(0,${name(i)}-MIN(50,10*${name(n + i)})/100*${item.points})` : `=${name(i)}`,
    );
    const groups = leaves.map((g) => {
      const cells = (g.children as Item[]).map((c) => name(2 * n + at.get(c.id)!));
      const range = `${cells[0]!}:${cells[cells.length - 1]!}`;
      const points = (g.children as Item[]).reduce((sum, c) => sum + c.points, 0);
      return g.drop
        ? `=(SUM(${range})-MIN(${range}))/${(points * (cells.length - 1)) / cells.length}`
        : `=SUM(${range})/${points}`;
    });
    const weights = leaves.map((g) => g.weight ?? 1);
    const sum = leaves.map((_, i) => `${name(3 * n + i)}*${weights[i]!}`).join('+');
    return [...own, ...late, ...counts, ...groups, `=(${sum})/${weights.reduce((a, b) => a + b, 0)}`];
  });
  return { sheet, total: 3 * n + leaves.length };
}
