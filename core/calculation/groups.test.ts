import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkBook } from '../book/checks/check';
import { add, compare, divide, fraction, isZero, subtract, ZERO, type Fraction } from '../exact/fraction';
import { arbBook, smallBook } from '../testing/books';
import { compileBook } from './compiled/compile';
import { workOutStudent } from './final';
import { chooseLowest } from './drops';
import type { ChildShare } from './groups';

const child = (earned: number, share: number, droppable: boolean): ChildShare => ({
  node: { id: `${earned}/${share}` } as ChildShare['node'],
  earned: fraction(earned),
  share: fraction(share),
  ratio: divide(fraction(earned), fraction(share)),
  possible: fraction(share),
  mayLeaveLowest: droppable,
  mayLeaveHighest: droppable,
  filled: false,
});

function ratioWithout(all: ChildShare[], out: ReadonlySet<ChildShare>): Fraction {
  let earned = ZERO;
  let share = ZERO;
  for (const c of all) {
    if (out.has(c)) continue;
    earned = add(earned, c.earned);
    share = add(share, c.share);
  }
  return divide(earned, share);
}

/** Every set of n of the list. */
function* sets<T>(list: T[], n: number, from = 0): Generator<T[]> {
  if (n === 0) yield [];
  else
    for (let i = from; i <= list.length - n; i++)
      for (const rest of sets(list, n - 1, i + 1)) yield [list[i]!, ...rest];
}

describe('what is dropped', () => {
  const arbChildren = fc.array(
    fc.tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 1, max: 40 }), fc.boolean()).map((c) => child(...c)),
    { minLength: 1, maxLength: 8 },
  );

  it('leaves the highest ratio of all sets of its size', () => {
    fc.assert(
      fc.property(arbChildren, fc.integer({ min: 0, max: 5 }), (children, wanted) => {
        const out = chooseLowest(children, wanted);
        const droppable = children.filter((c) => c.mayLeaveLowest);
        expect(out.length).toBe(Math.min(wanted, droppable.length, children.length - 1));
        const got = ratioWithout(children, new Set(out));
        for (const other of sets(droppable, out.length))
          expect(compare(ratioWithout(children, new Set(other)), got)).toBeLessThanOrEqual(0);
      }),
      { numRuns: 300 },
    );
  });

  it('settles ties by book order: the smallest by earned − r × share, the earlier first', () => {
    fc.assert(
      fc.property(arbChildren, fc.integer({ min: 1, max: 4 }), (children, wanted) => {
        const out = chooseLowest(children, wanted);
        const r = ratioWithout(children, new Set(out));
        const worth = (c: ChildShare): Fraction =>
          subtract(c.earned, { n: BigInt(r.n) * BigInt(c.share.n), d: BigInt(r.d) * BigInt(c.share.d) });
        const expected = children
          .map((c, at) => ({ c, at }))
          .filter(({ c }) => c.mayLeaveLowest)
          .sort((a, b) => compare(worth(a.c), worth(b.c)) || a.at - b.at)
          .slice(0, out.length)
          .map(({ c }) => c);
        expect(new Set(out)).toEqual(new Set(expected));
      }),
    );
  });
});

describe('a book worked out', () => {
  it('is sound for any sound book: drops stay inside what counts, caps hold, nothing optional is open', () => {
    fc.assert(
      fc.property(arbBook, (book) => {
        expect(checkBook(book)).toMatchObject({ ok: true });
        const compiled = compileBook(book);
        const outcome = workOutStudent(compiled, 0);
        for (const g of outcome.tree.outcomes) {
          if (g.ratio === null) continue;
          expect(g.staying.length).toBeGreaterThan(0);
          expect(g.staying.length + g.droppedLowest.length + g.droppedHighest.length).toBe(g.counting.length);
          if (g.group.cap) expect(compare(g.ratio, g.group.cap)).toBeLessThanOrEqual(0);
          for (const c of g.droppedLowest) expect(c.mayLeaveLowest).toBe(true);
          for (const c of g.droppedHighest) expect(c.mayLeaveHighest).toBe(true);
        }
        outcome.values.forEach((v, i) => expect(v.open && compiled.items[i]!.optional).toBe(false));
        if (!outcome.open) expect(outcome.low).toEqual(outcome.final);
      }),
    );
  });

  it('does not depend on the order of the entries', () => {
    fc.assert(
      fc.property(arbBook, (book) => {
        const turned = { ...book, entries: [...book.entries].reverse() };
        expect(workOutStudent(compileBook(turned), 0).final).toEqual(workOutStudent(compileBook(book), 0).final);
      }),
    );
  });

  it('gives nobody a grade where nothing counts', () => {
    const book = smallBook({ asOf: '2027-01-01T00:00:00Z' });
    const outcome = workOutStudent(compileBook(book), 0);
    expect([outcome.final.exact, outcome.final.letter, outcome.low.rounded, outcome.high.rounded]).toEqual([
      null,
      null,
      '0.0',
      '100.0',
    ]);
    expect(isZero(outcome.low.exact!)).toBe(true);
  });
});
