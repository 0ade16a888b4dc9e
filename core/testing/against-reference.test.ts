import { describe, expect, it } from 'vitest';
import { checkBook } from '../book/checks/check';
import type { BookDocument, Group, Item } from '../book/document';
import { compileBook } from '../calculation/compiled/compile';
import { workOutStudent } from '../calculation/final';
import { computeBook, studentResult } from '../calculation/result';
import { standingAt, standingsOf } from '../estimate/standings';
import { plainResult } from './reference';
import { Choices, randomBook } from './random-book';
import { randomPolicyBook } from './random-policies';
import { tries } from './tries';

/** How many random books, more in `npm run test:long`; BOOKS=10000 npx vitest run core/testing/against-reference.test.ts tries as many. */
const BOOKS = Number(process.env['BOOKS'] ?? (process.env['LONG'] ? 4_000 : 300));
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
  want.students.forEach(({ percent, letter, low, high, shown = null }, s) =>
    expect(standingAt(standings, s)).toMatchObject({ percent, letter, low, high, shown }),
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

  it(`agrees on ${BOOKS} random books of every policy`, { timeout: 30 * 60_000 }, () => {
    let inDoubles = 0;
    let students = 0;
    for (let seed = FROM; seed < FROM + BOOKS; seed++) {
      const book = randomPolicyBook(seed);
      try {
        agree(book);
      } catch (error) {
        throw new Error(`random policy book ${seed}: ${(error as Error).message}`);
      }
      const standings = standingsOf(compileBook(book));
      students += book.students.length;
      inDoubles += book.students.length - standings.exactCount;
    }
    // Most are told by doubles, else their way of working out would hardly be tried.
    expect(inDoubles).toBeGreaterThan(students / 2);
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

  it('agrees where a figure lies a hair’s breadth from a tie, a band, a hurdle or another that is dropped', () => {
    let second = 0;
    for (let depth = 0; depth <= 4; depth++)
      for (const tip of [0, 0.5, 1])
        for (const mode of ['half-up', 'half-even', 'down'] as const)
          for (const decimals of [0, 1, 4]) {
            const book = hairBook(depth, tip, mode, decimals);
            expect(checkBook(book)).toMatchObject({ ok: true });
            agree(book);
            second += standingsOf(compileBook(book)).exactCount;
          }
    // Doubles cannot tell these apart, and must have known it.
    expect(second).toBeGreaterThan(50);
  });

  it('agrees on random books whose numbers go to the bounds of the contract', { timeout: 120_000 }, () => {
    let tried = 0;
    for (let seed = 0; seed < tries(450); seed++) {
      const book = stretched(randomBook(seed + 400_000), new Choices(seed));
      if (!checkBook(book).ok) continue;
      tried++;
      try {
        agree(book);
      } catch (error) {
        throw new Error(`stretched book ${seed}: ${(error as Error).message}`);
      }
    }
    expect(tried).toBeGreaterThan(tries(150));
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

/** A book with some of its numbers replaced by the largest and smallest that there can be. */
function stretched(book: BookDocument, c: Choices): BookDocument {
  const numbers = ['points', 'score', 'set', 'percent', 'weight', 'retakeCap', 'cap', 'deduct', 'max', 'at', 'capAt'];
  return JSON.parse(JSON.stringify(book), (key, v: unknown) =>
    typeof v === 'number' && v > 0 && numbers.includes(key) && c.chance(0.25)
      ? c.pick([1e9, 999_999_999.9999, 0.0001, 123_456_789.1234, 0.0003])
      : v,
  ) as BookDocument;
}

/**
 * Percentages of 50 and 50.5 but for a hair: `depth` times over, a weight of 10^9 stands beside one of 0.0001, so that
 * what the last item has (nothing, half, all) moves the figure by some 10^-13 to the power of the depth.
 */
function hairBook(depth: number, tip: number, mode: 'half-up' | 'half-even' | 'down', decimals: number): BookDocument {
  let hair: Group | Item = { id: 'tip', type: 'item', points: 10, weight: 0.0001 };
  const halves: Item[] = [];
  for (let d = 0; d < depth; d++) {
    const half: Item = { id: `half${d}`, type: 'item', points: 10, weight: 1e9 };
    halves.push(half);
    hair = { id: `hair${d}`, type: 'group', combine: 'weights', weight: 0.0001, children: [half, hair] };
  }
  const dropping: Group = {
    id: 'dropping',
    type: 'group',
    combine: 'equal',
    drop: { lowest: 1, highest: 1 },
    children: [
      { id: 'x', type: 'item', points: 10 },
      hair,
      { id: 'y', type: 'item', points: 20 },
      { id: 'z', type: 'item', points: 8 },
    ],
  };
  const scores: Record<string, number> = { tip: tip * 10, x: 5, y: 10, z: 4.04 };
  for (const h of halves) scores[h.id] = 5;
  return {
    ...wideBook(0),
    rules: {
      blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } },
      scales: {
        letters: {
          bands: [
            { label: 'A', from: 50.5 },
            { label: 'B', from: 50 },
            { label: 'C', from: 0 },
          ],
          lookUp: 'exact',
        },
      },
    },
    scale: 'letters',
    rounding: { decimals, mode },
    tree: { id: 'all', type: 'group', combine: 'equal', children: [dropping] },
    hurdles: [{ node: 'dropping', atLeast: 50, capAt: 49.5 }],
    students: [{ id: 's0' }],
    entries: Object.entries(scores).map(([item, score]) => ({ student: 's0', item, attempts: [{ score }] })),
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
