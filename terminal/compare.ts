import { compareBooks } from '@core/proposal/compare';
import { findCauses } from '@core/proposal/causes';
import { warningsOf } from '@core/warnings/warnings';
import { soundBook } from './compute';
import { write } from './output';

/** `compare A B`: who moves from the first book to the second, and through what. */
export async function compare(a: string, b: string): Promise<number> {
  const before = await soundBook(a);
  const after = await soundBook(b);
  if (before === null || after === null) return 2;
  const trial = compareBooks(before, after);
  const differences = findCauses(before, after, trial);
  // Differences are many and long: movers name them by their number in the list.
  const number = new Map(differences.map((d, i) => [d, i]));
  const { line: _drawn, movers, ...counts } = trial;
  const out = {
    ...counts,
    movers: movers.map(({ causes, ...m }) => ({
      ...m,
      through: causes!.map((c) => number.get(c.difference)!),
      together: causes!.some((c) => c.together),
    })),
    differences,
  };
  await write(JSON.stringify(out, null, 1) + '\n');
  return 0;
}

/** `warnings FILE`: rules that together do what nobody would expect. */
export async function warnings(file: string): Promise<number> {
  const book = await soundBook(file);
  if (book === null) return 2;
  await write(JSON.stringify({ warnings: warningsOf(book) }, null, 1) + '\n');
  return 0;
}
