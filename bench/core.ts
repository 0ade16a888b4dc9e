import { spawnSync } from 'node:child_process';
import { checkBook } from '@core/book/check';
import { changeCell, contentOf } from '@core/book/change';
import { compileBook } from '@core/calculation/compile';
import { workOutStudent } from '@core/calculation/final';
import { generatedBook } from './generated';
import { time, type Figure } from './figure';

/** Three weighted sums over typed arrays: standing, low and high of the same scores, with no rule at all. */
function bareLoops(scores: Float64Array, weights: Float64Array, students: number, items: number): number {
  let sum = 0;
  for (let pass = 0; pass < 3; pass++)
    for (let s = 0; s < students; s++) {
      let earned = 0;
      let share = 0;
      for (let i = 0; i < items; i++) {
        const score = scores[s * items + i]!;
        earned += score * weights[i]!;
        share += weights[i]!;
      }
      sum += earned / share;
    }
  return sum;
}

/** Figures of the calculation alone. */
export function coreFigures(): Figure[] {
  const [students, items] = [400, 120];
  const book = generatedBook(students, items);
  const compiled = compileBook(book);
  const scores = Float64Array.from({ length: students * items }, (_, i) => (i * 7919) % 25);
  const weights = Float64Array.from({ length: items }, (_, i) => 1 + (i % 5));
  const bare = time(() => bareLoops(scores, weights, students, items), 25);
  const whole = time(() => book.students.map((_, s) => workOutStudent(compiled, s)), 5);
  const text = JSON.stringify(book);
  const parse = time(() => JSON.parse(text) as unknown, 9);
  const compile = time(() => checkBook(book).ok && compileBook(book), 7);
  const oneChange = time(() => {
    for (let s = 0; s < 40; s++) {
      const entries = compiled.entries[s]!;
      const content = changeCell(contentOf(entries[3]), { kind: 'score', points: s % 20 });
      entries[3] = { student: `s${s}`, item: 'i3', ...content };
      workOutStudent(compiled, s);
    }
  });
  return [
    {
      name: 'core.whole-book.ratio-to-bare-loop',
      value: whole / bare,
      unit: 'ratio',
      against: 'three bare loops over typed arrays',
    },
    {
      name: 'core.compile.ratio-to-json-parse',
      value: compile / parse,
      unit: 'ratio',
      against: 'JSON.parse of the same text',
    },
    { name: 'core.one-change.us', value: (oneChange / 40) * 1000, unit: 'µs', against: '' },
    { name: 'core.lines.books-per-s', value: linesPerSecond(), unit: 'books/s', against: '' },
  ];
}

function linesPerSecond(): number {
  const books = 300;
  const line = JSON.stringify(generatedBook(30, 20)) + '\n';
  const run = (input: string): number => {
    const from = performance.now();
    const { status, stderr } = spawnSync(
      process.execPath,
      ['--import', 'tsx', 'terminal/tally.ts', 'compute', '--lines'],
      { input, maxBuffer: 1 << 30 },
    );
    if (status !== 0) throw new Error(String(stderr));
    return performance.now() - from;
  };
  // What starting the program takes is not the books' doing.
  const start = run(line);
  return (1000 * (books - 1)) / (run(line.repeat(books)) - start);
}
