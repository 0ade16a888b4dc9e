import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbBook, smallBook } from '../testing/books';
import { compareBooks } from './compare';

describe('a trial', () => {
  it('of a book with itself moves nobody', () => {
    fc.assert(
      fc.property(arbBook, (book) => {
        expect(compareBooks(book, book)).toMatchObject({
          students: 1,
          up: 0,
          down: 0,
          stay: 1,
          crossing: 0,
          movers: [],
        });
      }),
    );
  });

  it('says who moves, which way, across which band, newly with or without a grade', () => {
    const students = [{ id: 's1' }, { id: 's2' }, { id: 's3' }];
    const entry = (student: string, score: number, late = 0) => ({
      student,
      item: 'a',
      attempts: [{ score, lateUnits: late }],
    });
    const before = smallBook({
      students,
      asOf: '2027-01-01T00:00:00Z',
      entries: [entry('s1', 16, 1), entry('s2', 20)],
    });
    const after = { ...before, late: null, entries: [...before.entries.slice(0, 1), entry('s3', 4)] };
    const trial = compareBooks(before, after);
    expect(trial.movers).toMatchObject([
      {
        student: 's1',
        before: { percent: '70.0', letter: 'B' },
        after: { percent: '80.0', letter: 'A' },
        moves: '10',
        direction: 'up',
        crosses: true,
      },
      { student: 's2', direction: 'loses', moves: null },
      { student: 's3', direction: 'gains', after: { percent: '20.0' } },
    ]);
    expect([trial.up, trial.down, trial.stay]).toEqual([2, 1, 0]);
  });
});
