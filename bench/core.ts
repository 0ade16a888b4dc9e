import { spawnSync } from 'node:child_process';
import { checkBook } from '@core/book/checks/check';
import { changeCell, contentOf } from '@core/book/change';
import type { BookDocument } from '@core/book/document';
import { putEntry } from '@core/calculation/cells/cells';
import { compileBook } from '@core/calculation/compiled/compile';
import { entryAt } from '@core/calculation/cells/entries-by-item';
import { emptyStandings, makeStandingsWorker, workOutStanding, standingsOf } from '@core/estimate/standings';
import { generatedBook } from './generated';
import { time, type Figure } from './figure';
import { growthFigures } from './growth';
import { policyBook } from './policies';
import { sheetEngineFigure } from './sheet-engine';

const [STUDENTS, ITEMS] = [400, 120];

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
export async function coreFigures(): Promise<Figure[]> {
  const book = generatedBook(STUDENTS, ITEMS);
  const text = JSON.stringify(book);
  const ratio = { unit: 'ratio' } as const;
  return [
    { name: 'core.whole-book.ratio-to-bare-loop', value: wholeBook(book), ...ratio, against: 'three bare loops' },
    { name: 'core.policies.ratio', value: policiesRatio(book), ...ratio, against: 'the first bench book' },
    await sheetEngineFigure(book),
    {
      name: 'core.compile.ratio-to-json-parse',
      value: compileRatio(text),
      ...ratio,
      against: 'JSON.parse of its text',
    },
    { name: 'core.one-change.us', value: oneChange(book), unit: 'µs', against: '' },
    ...growthFigures(text),
    { name: 'core.lines.books-per-s', value: linesPerSecond(), unit: 'books/s', against: '' },
  ];
}

function wholeBook(book: BookDocument): number {
  const compiled = compileBook(book);
  const scores = Float64Array.from({ length: STUDENTS * ITEMS }, (_, i) => (i * 7919) % 25);
  const weights = Float64Array.from({ length: ITEMS }, (_, i) => 1 + (i % 5));
  const bare = time(() => bareLoops(scores, weights, STUDENTS, ITEMS), 101);
  const whole = time(() => standingsOf(compiled), 31);
  const { exactCount: second } = standingsOf(compiled);
  process.stderr.write(
    `whole book ${whole.toFixed(2)} ms, bare loops ${bare.toFixed(3)} ms, ${second} of ${STUDENTS} looked at in fractions\n`,
  );
  return whole / bare;
}

/** A book of the same size with policies of every kind, against the one without. */
function policiesRatio(book: BookDocument): number {
  const document = policyBook(STUDENTS, ITEMS);
  const checked = checkBook(document);
  if (!checked.ok) throw new Error(`the policy book is not sound: ${checked.problems[0]!.says}`);
  const [plain, policies] = [compileBook(book), compileBook(document)];
  // One after the other, so that what the machine does besides falls on both.
  const ratios = Array.from(
    { length: 9 },
    () => time(() => standingsOf(policies), 7) / time(() => standingsOf(plain), 7),
  );
  const { exactCount } = standingsOf(policies);
  process.stderr.write(`policies: ${exactCount} of ${STUDENTS} looked at in fractions\n`);
  return ratios.sort((a, b) => a - b)[4]!;
}

function compileRatio(text: string): number {
  const parse = time(() => JSON.parse(text) as unknown, 15);
  // Each run gets a document of its own: what a first walk leaves behind in it must not help a second.
  const books = Array.from({ length: 15 }, () => JSON.parse(text) as unknown);
  const compile = time(() => {
    const checked = checkBook(books.pop() ?? JSON.parse(text));
    if (!checked.ok) throw new Error('the generated book is not sound');
    compileBook(checked.book);
  }, 13);
  process.stderr.write(`check and compile ${compile.toFixed(1)} ms, JSON.parse ${parse.toFixed(1)} ms\n`);
  return compile / parse;
}

function oneChange(book: BookDocument): number {
  const compiled = compileBook(book);
  const reckoner = makeStandingsWorker(compiled);
  const place = emptyStandings(compiled, 1);
  const changes = 2_000;
  const all = time(() => {
    for (let k = 0; k < changes; k++) {
      const s = (k * 7) % STUDENTS;
      const i = (k * 13) % ITEMS;
      const content = changeCell(contentOf(entryAt(compiled, s, i)), { kind: 'score', points: k % 20 });
      putEntry(compiled, s, i, { student: compiled.students[s]!.id, item: compiled.items[i]!.id, ...content });
      workOutStanding(reckoner, s, place, 0);
    }
  }, 7);
  return (all / changes) * 1000;
}

function linesPerSecond(): number {
  const books = 600;
  const line = JSON.stringify(generatedBook(30, 20)) + '\n';
  const run = (input: string): number => {
    const from = performance.now();
    const { status, stderr } = spawnSync(process.execPath, ['terminal/tally.mjs', 'compute', '--lines'], {
      input,
      maxBuffer: 1 << 30,
    });
    if (status !== 0) throw new Error(String(stderr));
    return performance.now() - from;
  };
  // What starting the program takes is not the books' doing.
  const start = Math.min(run(line), run(line), run(line));
  return (1000 * (books - 1)) / (run(line.repeat(books)) - start);
}
