import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileBook } from '../calculation/compiled/compile';
import { workOutStudent } from '../calculation/final';
import { add, equal, parse, subtract } from '../exact/fraction';
import { arbAnyBook } from '../testing/books';
import { slipSum } from './slip-sum';

describe('the sum of a slip', () => {
  it('comes to what the item counts, exactly, wherever one attempt makes the score', () => {
    let [sums, terms] = [0, 0];
    fc.assert(
      fc.property(arbAnyBook, (book) => {
        const compiled = compileBook(book);
        if (compiled.book.students.length === 0) return;
        const outcome = workOutStudent(compiled, 0);
        for (const item of compiled.items) {
          const sum = slipSum(compiled, outcome.index, item);
          if (!sum) continue;
          sums++;
          terms += sum.terms.length;
          const made = sum.terms.reduce(
            (so, t) => (t.sign === '+' ? add(so, parse(t.points)) : subtract(so, parse(t.points))),
            parse(sum.marked),
          );
          expect(equal(made, parse(sum.counts))).toBe(true);
          expect(sum.attempt).toBeGreaterThan(0);
        }
      }),
      { numRuns: 300, seed: 20_261_129 },
    );
    // What is not there proves nothing.
    expect(sums).toBeGreaterThan(200);
    expect(terms).toBeGreaterThan(20);
  });
});
