import { describe, expect, it } from 'vitest';
import { contentOf, isEmpty } from '../book/change';
import { exceptionsIn, withoutException } from '../book/exceptions';
import { computeBook } from '../calculation/result';
import { compileBook } from '../calculation/compiled/compile';
import { anyBook } from '../testing/random-policies';
import { standingWithout } from './exception-effects';
import { tries } from '../testing/tries';

describe('what an exception changes', () => {
  it('is the standing of the same book without it, and the book is left as it was', () => {
    let tried = 0;
    for (let seed = 1; seed <= tries(120); seed++) {
      const book = anyBook(seed);
      const compiled = compileBook(book);
      const before = JSON.stringify(computeBook(book));
      for (const entry of book.entries.slice(0, 25))
        for (const kind of exceptionsIn(contentOf(entry))) {
          const content = withoutException(contentOf(entry), kind);
          const entries = book.entries.flatMap((e) =>
            e !== entry ? [e] : isEmpty(content) ? [] : [{ student: e.student, item: e.item, ...content }],
          );
          const { percent, letter } = computeBook({ ...book, entries }).students.find((s) => s.id === entry.student)!;
          expect(standingWithout(compiled, { student: entry.student, item: entry.item, kind })).toEqual({
            percent,
            letter,
          });
          tried++;
        }
      for (const student of book.students.slice(0, 3)) {
        const overrides = (book.overrides ?? []).filter((o) => o.student !== student.id);
        const free = computeBook({ ...book, overrides }).students.find((s) => s.id === student.id)!;
        expect(standingWithout(compiled, { student: student.id, item: null, kind: 'override' })).toEqual({
          percent: free.percent,
          letter: free.letter,
        });
        const students = book.students.map((s) => (s.id === student.id ? { ...s, extraTimeHours: 0 } : s));
        const timed = computeBook({ ...book, students }).students.find((s) => s.id === student.id)!;
        expect(standingWithout(compiled, { student: student.id, item: null, kind: 'extra-time' })).toEqual({
          percent: timed.percent,
          letter: timed.letter,
        });
      }
      expect(JSON.stringify(computeBook(compiled.book))).toBe(before);
    }
    expect(tried).toBeGreaterThan(tries(300));
  });
});
