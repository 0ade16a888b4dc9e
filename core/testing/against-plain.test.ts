import { describe, expect, it } from 'vitest';
import { checkBook } from '../book/check';
import type { BookDocument, Group, Item } from '../book/document';
import { compileBook } from '../calculation/compile';
import { workOutStudent } from '../calculation/final';
import { computeBook, studentResult } from '../calculation/result';
import { standingAt, standingsOf } from '../calculation/standings';
import { plainResult } from './plain';
import { Choices, randomBook } from './random-book';

/** How many random books; BOOKS=10000 npx vitest run core/testing/against-plain.test.ts tries as many. */
const BOOKS = Number(process.env['BOOKS'] ?? 3_000);
const FROM = Number(process.env['FROM'] ?? 0);

/** The result three ways (doubles first, fractions alone, the contract read plainly) and the standings' columns. */
function agree(book: BookDocument): void {
  const want = plainResult(book);
  const same = (got: unknown, wanted: unknown): void => {
    // The text first: a deep comparison is only needed to say where they differ.
    if (JSON.stringify(got) !== JSON.stringify(wanted)) expect(got).toEqual(wanted);
  };
  same(computeBook(book), want);
  const compiled = compileBook(book);
  same(
    book.students.map((_, s) => studentResult(compiled, workOutStudent(compiled, s))),
    want.students,
  );
  const standings = standingsOf(compiled);
  want.students.forEach(({ percent, letter, low, high }, s) =>
    expect(standingAt(standings, s)).toMatchObject({ percent, letter, low, high }),
  );
}

describe('the calculation against the contract read plainly', () => {
  it(`agrees on ${BOOKS} random books of every feature`, { timeout: 30 * 60_000 }, () => {
    for (let seed = FROM; seed < FROM + BOOKS; seed++) {
      const book = randomBook(seed);
      if (!checkBook(book).ok) throw new Error(`random book ${seed} is not sound`);
      try {
        agree(book);
      } catch (error) {
        throw new Error(`random book ${seed}: ${(error as Error).message}`);
      }
    }
  });

  it('agrees on groups of many children with several drops and many ties', { timeout: 120_000 }, () => {
    for (let seed = 0; seed < 24; seed++) agree(wideBook(seed));
  });

  it('agrees where figures are as large and as small as they can be', () => {
    for (const [points, score] of [
      [0.0001, 1e9],
      [1e9, 0.0001],
      [1e9, 1e9],
      [0.0001, 999_999_999.9999],
    ] as const)
      for (const decimals of [0, 4]) agree(extremeBook(points, score, decimals));
  });

  it('agrees 32 groups deep', () => {
    const book = wideBook(1);
    let tree = book.tree;
    for (let depth = 3; depth <= 32; depth++)
      tree = { id: `d${depth}`, type: 'group', combine: depth % 2 ? 'points' : 'weights', children: [tree] };
    const deep = { ...book, tree };
    expect(checkBook(deep).ok).toBe(true);
    agree(deep);
  });
});

/** One group of many items whose scores come from few values, so that what is dropped is often a tie. */
function wideBook(seed: number): BookDocument {
  const c = new Choices(seed + 77_000);
  const size = c.int(20, 34);
  const combine = c.pick(['points', 'weights', 'equal'] as const);
  const items = Array.from({ length: size }, (_, i): Item => ({
    id: `i${i}`,
    type: 'item',
    points: c.pick([10, 20, 5]),
    weight: c.pick([1, 2, 1]),
    ...(c.chance(0.05) ? { extraCredit: true } : {}),
  }));
  const drop = c.pick([{ lowest: 2 }, { lowest: 3 }, { lowest: 1, highest: 2 }, { highest: 3 }]);
  const group: Group = { id: 'g', type: 'group', combine, drop, children: items };
  const students = Array.from({ length: 4 }, (_, s) => ({ id: `s${s}` }));
  return {
    format: 'last-tally.book/1',
    timeZone: 'UTC',
    asOf: '2027-01-01T00:00:00Z',
    rules: { blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } } },
    blank: 'usual',
    rounding: { decimals: 2, mode: 'half-even' },
    tree: { id: 'all', type: 'group', combine: 'weights', children: [group] },
    students,
    entries: students.flatMap((s) =>
      items.flatMap((i) => {
        const score = i.points * c.pick([1, 1, 0.8, 0.8, 0.5, 0.25]);
        return c.chance(0.9) ? [{ student: s.id, item: i.id, attempts: [{ score }] }] : [];
      }),
    ),
  };
}

function extremeBook(points: number, score: number, decimals: number): BookDocument {
  const book = wideBook(3);
  const items = (book.tree.children[0] as Group).children as Item[];
  return {
    ...book,
    rounding: { decimals, mode: 'half-up' },
    tree: {
      ...book.tree,
      children: [{ ...(book.tree.children[0] as Group), children: [{ ...items[0]!, points }, items[1]!, items[2]!] }],
    },
    entries: [
      { student: 's0', item: 'i0', attempts: [{ score }] },
      { student: 's0', item: 'i1', attempts: [{ score: 3 }] },
      { student: 's1', item: 'i1', attempts: [{ score: 3 }] },
      { student: 's1', item: 'i2', set: 1e9 },
    ],
  };
}
