import { checkBook } from '@core/book/checks/check';
import type { BookDocument, Entry } from '@core/book/document';
import { valueCell } from '@core/calculation/cells/cells';
import { compileBook, compileRules, type CompiledBook } from '@core/calculation/compiled/compile';
import { standingsOf } from '@core/estimate/standings';
import { generatedBook } from './generated';
import { median, time, type Figure } from './figure';

/** Students × items, from a thousand entries to a million, and a course of 100,000 students built directly. */
const SIZES = [
  [20, 60],
  [65, 60],
  [200, 60],
  [650, 60],
  [2_000, 60],
  [6_500, 60],
  [20_000, 60],
] as const;

/** Figures of how time and memory grow with a book. */
export function growthFigures(text: string): Figure[] {
  const points = SIZES.map(([students, items]) => {
    const book = generatedBook(students, items);
    const runs = students <= 650 ? 9 : 3;
    const ms = time(() => {
      const checked = checkBook(book);
      if (checked.ok) standingsOf(compileBook(checked.book));
    }, runs);
    return { entries: book.entries.length, ms };
  });
  const course = directly(100_000, 100);
  points.push(course);
  for (const p of points)
    process.stderr.write(
      `${p.entries} entries in ${p.ms.toFixed(1)} ms, ${((1000 * p.ms) / p.entries).toFixed(2)} µs each\n`,
    );
  // Once may catch what an earlier part lets go, or the engine makes for itself.
  const bytes = median(Array.from({ length: 5 }, () => bytesPerEntry(text)));
  return [
    { name: 'core.growth.exponent', value: slope(points), unit: 'power', against: '' },
    { name: 'core.bytes-per-entry', value: Math.max(bytes, course.bytes), unit: 'bytes', against: '' },
  ];
}

/** Slope of the straight line through log entries, log time (least squares). */
function slope(points: { entries: number; ms: number }[]): number {
  const xs = points.map((p) => Math.log(p.entries));
  const ys = points.map((p) => Math.log(p.ms));
  const mean = (list: number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
  const [mx, my] = [mean(xs), mean(ys)];
  const above = xs.reduce((sum, x, i) => sum + (x - mx) * (ys[i]! - my), 0);
  return above / xs.reduce((sum, x) => sum + (x - mx) ** 2, 0);
}

/** A course that no JSON text holds: its entries are made one by one, valued and let go. */
function directly(students: number, items: number): { entries: number; ms: number; bytes: number } {
  const pattern = generatedBook(500, items);
  const byStudent = new Map<string, Entry[]>();
  for (const e of pattern.entries) byStudent.set(e.student, [...(byStudent.get(e.student) ?? []), e]);
  const rows = pattern.students.map((s) => byStudent.get(s.id) ?? []);
  const book: BookDocument = {
    ...pattern,
    students: Array.from({ length: students }, (_, i) => ({ id: `s${i}` })),
    entries: [],
  };
  const before = memory();
  const from = performance.now();
  const compiled = compileRules(book);
  const items_ = new Map(compiled.items.map((i) => [i.id, i.index]));
  let entries = 0;
  for (let s = 0; s < students; s++)
    for (const e of rows[s % rows.length]!) {
      valueCell(compiled, s, items_.get(e.item)!, e);
      entries++;
    }
  const standings = standingsOf(compiled);
  const ms = performance.now() - from;
  if (standings.percent.length !== students) throw new Error('not everybody was worked out');
  const bytes = (memory() - before) / entries;
  return { entries, ms, bytes: keep(compiled, bytes) };
}

/** Heap and buffers of the compiled 400 × 120, its entries included, once nothing else of the document is held. */
function bytesPerEntry(text: string): number {
  const before = memory();
  let book: BookDocument | null = JSON.parse(text) as BookDocument;
  const compiled = compileBook(book);
  const entries = book.entries.length;
  compiled.book = { ...book, entries: [] };
  book = null;
  return keep(compiled, (memory() - before) / entries);
}

/** The value, and the compiled book not let go before it was taken. */
function keep(compiled: CompiledBook, value: number): number {
  if (compiled.students.length === 0) throw new Error('nothing was compiled');
  return value;
}

function memory(): number {
  if (!globalThis.gc) throw new Error('the bench needs node --expose-gc');
  globalThis.gc();
  globalThis.gc();
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return heapUsed + arrayBuffers;
}
