import { describe, expect, it } from 'vitest';
import type { BookDocument, Group } from '../book/document';
import { compare } from '../exact/fraction';
import { smallBook } from '../testing/books';
import { Choices } from '../testing/random-book';
import { compileBook } from './compiled/compile';
import { workOutStudent } from './final';
import { movedByRepairs } from './repairs';
import { computeBook } from './result';

const percentOf = (book: BookDocument): string | null => computeBook(book).students[0]!.percent;

/** Homework of 100, and beside it five bonus pieces that are together worth 5 %. */
function bonusBook(scores: readonly (number | null)[], combine: Group['combine'] = 'equal'): BookDocument {
  return smallBook({
    tree: {
      id: 'all',
      type: 'group',
      combine: 'weights',
      children: [
        { id: 'homework', type: 'item', points: 100, weight: 100 },
        {
          id: 'bonus',
          type: 'group',
          combine,
          extraCredit: true,
          weight: 5,
          children: scores.map((_, i) => ({ id: `b${i}`, type: 'item', points: 10 })),
        },
      ],
    },
    entries: [
      { student: 's1', item: 'homework', attempts: [{ score: 80 }] },
      ...scores.flatMap((score, i) =>
        score === null ? [] : [{ student: 's1', item: `b${i}`, attempts: [{ score }] }],
      ),
    ],
  });
}

describe('extra credit of several pieces', () => {
  it('gives one of five a fifth of the bonus, and nothing for what is not done', () => {
    expect(percentOf(bonusBook([null, null, null, null, null]))).toBe('80.0');
    expect(percentOf(bonusBook([10, null, null, null, null]))).toBe('81.0');
    expect(percentOf(bonusBook([10, 4, null, null, null]))).toBe('81.4');
  });

  it('never takes away for one piece more', () => {
    for (let seed = 0; seed < 400; seed++) {
      const c = new Choices(seed);
      const scores = Array.from({ length: c.int(1, 6) }, () => (c.chance(0.5) ? c.int(0, 10) : null));
      const undone = scores.findIndex((s) => s === null);
      if (undone < 0) continue;
      const combine = c.pick(['equal', 'points', 'weights', 'median'] as const);
      const more = scores.map((s, i) => (i === undone ? c.int(0, 10) : s));
      const [was, is] = [scores, more].map((s) => workOutStudent(compileBook(bonusBook(s, combine)), 0).final.exact!);
      expect(compare(is!, was!), `seed ${seed}`).toBeGreaterThanOrEqual(0);
    }
  });

  it('moves those who have done some and not all, against what was worked out before', () => {
    expect(movedByRepairs(bonusBook([10, null, null, null, null]))).toEqual(['s1']);
    expect(movedByRepairs(bonusBook([10, 10, 10, 10, 10]))).toEqual([]);
    expect(movedByRepairs(bonusBook([null, null, null, null, null]))).toEqual([]);
  });
});

describe('the best that are kept', () => {
  const scores = [0, 9, 9, 8];
  const book = (isProtected: boolean): BookDocument =>
    smallBook({
      tree: {
        id: 'all',
        type: 'group',
        combine: 'equal',
        keepBest: 2,
        children: scores.map((_, i) => ({ id: `q${i}`, type: 'item', points: 10 })),
      },
      entries: scores.map((set, i) => ({ student: 's1', item: `q${i}`, set, ...(i === 0 && isProtected ? { protected: true } : {}) })), // prettier-ignore
    });

  it('hold a protected zero as one of them, not as one more', () => {
    expect(percentOf(book(false))).toBe('90.0');
    expect(percentOf(book(true))).toBe('45.0');
    expect(movedByRepairs(book(true))).toEqual(['s1']);
    expect(movedByRepairs(book(false))).toEqual([]);
  });
});
