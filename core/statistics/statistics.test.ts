import { describe, expect, it } from 'vitest';
import type { Group } from '../book/document';
import { compileBook } from '../calculation/compiled/compile';
import { valuesOf } from '../calculation/cells/value';
import { smallBook } from '../testing/books';
import { anyBook } from '../testing/random-policies';
import { markedShare, nominalWeights } from './progress';
import { noTicks, tickOf, TICKS } from './ticks';
import { tries } from '../testing/tries';

const tree: Group = {
  id: 'all',
  type: 'group',
  combine: 'weights',
  children: [
    {
      id: 'notes',
      type: 'group',
      combine: 'points',
      weight: 60,
      children: [
        { id: 'a', type: 'item', points: 10 },
        { id: 'b', type: 'item', points: 30 },
        { id: 'x', type: 'item', points: 5, extraCredit: true },
      ],
    },
    { id: 'final', type: 'item', points: 100, weight: 40, due: '2027-09-01T00:00:00Z' },
    { id: 'shown', type: 'item', points: 1, weight: 50, counts: false },
  ],
};

describe('how far a book is', () => {
  it('goes by the share of each item in the whole, as if everything counted', () => {
    expect(nominalWeights(compileBook(smallBook({ tree }))).map((w) => Number(w.toFixed(6)))).toEqual([
      0.15, 0.45, 0, 0.4, 0,
    ]);
  });

  it('counts what is scored, set, excused or missing, over all students', () => {
    const book = smallBook({
      tree,
      students: [{ id: 's1' }, { id: 's2' }],
      entries: [
        { student: 's1', item: 'a', attempts: [{ score: 1 }] },
        { student: 's1', item: 'b', state: 'excused' },
        { student: 's2', item: 'a', attempts: [{}] },
        { student: 's2', item: 'final', set: 4 },
      ],
    });
    const compiled = compileBook(book);
    const values = book.students.map((_, s) => valuesOf(compiled, s));
    expect(markedShare(compiled, values)).toBeCloseTo((0.15 + 0.45 + 0.4) / 2);
    expect(markedShare(compiled, [])).toBe(0);
  });

  it('never goes beyond the whole', () => {
    for (let seed = 0; seed < tries(300); seed++) {
      const book = anyBook(seed);
      const compiled = compileBook(book);
      const sum = nominalWeights(compiled).reduce((a, b) => a + b, 0);
      expect(sum === 0 || Math.abs(sum - 1) < 1e-9 || sum < 1).toBe(true);
      const share = markedShare(
        compiled,
        book.students.map((_, s) => valuesOf(compiled, s)),
      );
      expect(share).toBeGreaterThanOrEqual(0);
      expect(share).toBeLessThanOrEqual(1 + 1e-9);
    }
  });
});

describe('the tick of a student', () => {
  it('says first what waits, then what students see', () => {
    expect(Object.keys(noTicks())).toEqual([...TICKS]);
    expect([
      tickOf('scored', 0),
      tickOf('scored', 1),
      tickOf('scored', 2),
      tickOf('set', 1),
      tickOf('pending', 1),
      tickOf('excused', 1),
      tickOf('missing', 0),
      tickOf('blank', 0),
      tickOf('awaiting', 0),
    ]).toEqual(['draft', 'released', 'draft', 'released', 'toMark', 'excused', 'missing', 'nothing', 'nothing']);
  });
});
