import { describe, expect, it } from 'vitest';
import type { BookDocument } from '../book/document';
import { compileBook } from '../calculation/compiled/compile';
import { workOutStudent } from '../calculation/final';
import { variantAt } from '../calculation/compiled/variants';
import { standingsOf } from '../estimate/standings';
import { toText } from '../exact/fraction';
import { smallBook } from '../testing/books';
import { anyBook } from '../testing/random-policies';
import { risesWithScores } from '../warnings/group-warnings';
import { needLines } from './need-sentences';
import { needsOf } from './needs';
import { suppose } from './suppose';

/** One category of 60 % with 42 of 50 points, another of 40 % with two items still open. */
const halfway = (more: Partial<BookDocument> = {}): BookDocument =>
  smallBook({
    asOf: '2027-01-01T00:00:00Z',
    tree: {
      id: 'all',
      type: 'group',
      combine: 'weights',
      children: [
        { id: 'work', type: 'item', points: 50, weight: 60 },
        {
          id: 'exams',
          type: 'group',
          combine: 'points',
          weight: 40,
          children: [
            { id: 'oral', type: 'item', points: 10 },
            { id: 'paper', type: 'item', points: 30 },
          ],
        },
      ],
    },
    entries: [{ student: 's1', item: 'work', attempts: [{ score: 42 }] }],
    ...more,
  });

describe('what is still open must bring', () => {
  it('so much for each band, with the rest at full points and at nothing', () => {
    // 50.4 from the work; A from 79.95 before rounding, B from 49.95. Each point of the exams is one percent.
    expect(needsOf(compileBook(halfway()), 0)).toEqual([
      { item: 'oral', band: 'A', withOthersFull: 0, withOthersNone: null },
      { item: 'oral', band: 'B', withOthersFull: 0, withOthersNone: 0 },
      { item: 'paper', band: 'A', withOthersFull: 19.55, withOthersNone: 29.55 },
      { item: 'paper', band: 'B', withOthersFull: 0, withOthersNone: 0 },
    ]);
  });

  it('reads as lines, for one band if only that is asked for', () => {
    const words = { timeZone: 'UTC', name: (id: string) => id.toUpperCase() };
    const compiled = compileBook(halfway());
    expect(needLines(needsOf(compiled, 0, 'A'), words).map((l) => [l.label, l.detail, l.figure])).toEqual([
      [
        'A by ORAL',
        'nothing more is needed with full points on the rest that is open, out of reach with nothing on it',
        '',
      ],
      [
        'A by PAPER',
        'at least 19.55 with full points on the rest that is open, at least 29.55 with nothing on it',
        '≥ 19.55',
      ],
    ]);
    expect(needLines(needsOf(compiled, 0, 'B'), words)[0]!.detail).toBe(
      'nothing more is needed, even with nothing on the rest',
    );
    expect(
      needLines([{ item: 'x', band: 'A', withOthersFull: null, withOthersNone: null }], words)[0]!.detail,
    ).toContain('out of reach');
  });

  it('nothing where a score can change nothing: without letters, or under an override', () => {
    expect(needsOf(compileBook(halfway({ scale: null })), 0)).toEqual([]);
    expect(needsOf(compileBook(halfway({ overrides: [{ student: 's1', percent: 50 }] })), 0)).toEqual([]);
  });

  it('is the least: with it the band is reached, with a ten-thousandth less it is not; the book stays as it was', () => {
    let tried = 0;
    for (let seed = 0; seed < 1_500 && tried < 150; seed++) {
      const book = anyBook(seed);
      const compiled = compileBook(book);
      if (!risesWithScores(book, compiled)) continue;
      const before = JSON.stringify(standingsOf(compiled));
      for (let s = 0; s < book.students.length; s++) {
        const open = workOutStudent(compiled, s).values.flatMap((v, i) => (v.open ? [compiled.items[i]!.id] : []));
        for (const need of needsOf(compiled, s).slice(0, 4)) {
          const least = need.withOthersFull;
          const bandWith = (points: number): number => {
            const filled = book.entries.filter((e) => e.student !== book.students[s]!.id || !open.includes(e.item));
            const scores = open.map((item) => ({
              student: book.students[s]!.id,
              item,
              set: item === need.item ? points : compiled.items.find((i) => i.id === item)!.source.points,
            }));
            const { band } = workOutStudent(compileBook({ ...book, entries: [...filled, ...scores] }), s).final;
            // With no grade at all no band is reached.
            return band < 0 ? Infinity : band;
          };
          const band = variantAt(compiled, s).scale!.labels.indexOf(need.band);
          const full = compiled.items.find((i) => i.id === need.item)!.source.points;
          // Entries set here lose a protection that the real ones may have, which can change what is dropped.
          if (book.entries.some((e) => e.protected)) continue;
          tried++;
          if (least === null) expect(bandWith(full)).toBeGreaterThan(band);
          else {
            expect(bandWith(least)).toBeLessThanOrEqual(band);
            if (least > 0) expect(bandWith(Math.round(least * 10_000 - 1) / 10_000)).toBeGreaterThan(band);
          }
        }
      }
      expect(JSON.stringify(standingsOf(compiled))).toBe(before);
    }
    expect(tried).toBeGreaterThan(100);
  });
});

describe('supposing', () => {
  const compiled = compileBook(
    halfway({
      entries: [
        { student: 's1', item: 'work', attempts: [{ score: 42 }] },
        { student: 's1', item: 'oral', attempts: [{ score: 2 }] },
        { student: 's1', item: 'paper', attempts: [{ score: 24 }] },
      ],
    }),
  );
  const item = (id: string) => compiled.items.find((i) => i.id === id)!;
  const moves = (id: string, what: Parameters<typeof suppose>[3]): string | null => {
    const is = suppose(compiled, 0, item(id), what);
    return is.moves === null ? null : toText(is.moves);
  };

  it('says by how much the standing would change', () => {
    // 50.4 + 26 of 40 × 40 %.
    expect(toText(workOutStudent(compiled, 0).final.exact!)).toBe('382/5');
    expect(moves('oral', { kind: 'raised', points: 10 })).toBe('8');
    // Without the oral, 24 of 30 is 80 % of 40.
    expect(moves('oral', { kind: 'excused' })).toBe('6');
    expect(moves('oral', { kind: 'dropped' })).toBe('6');
    expect(moves('work', { kind: 'excused' })).toBe('-57/5');
  });

  it('takes a grade away where nothing is left', () => {
    const only = compileBook(smallBook({ entries: [{ student: 's1', item: 'a', attempts: [{ score: 5 }] }] }));
    const is = suppose(only, 0, only.items[0]!, { kind: 'excused' });
    expect([is.moves, is.after.exact]).toEqual([null, null]);
    // The last that counts cannot be dropped.
    expect(suppose(only, 0, only.items[0]!, { kind: 'dropped' }).moves).toMatchObject({ n: 0 });
  });
});
