import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkBook } from '../book/checks/check';
import type { BookDocument, Entry } from '../book/document';
import { computeBook } from '../calculation/result';
import { arbAnyBook, smallBook } from '../testing/books';
import { anyBook } from '../testing/random-policies';
import { findCauses, makeAlone } from './causes';
import { compareBooks } from './compare';
import { differencesOf } from './differences';
import { tries } from '../testing/tries';

const entry = (student: string, score: number, late = 0): Entry => ({
  student,
  item: 'a',
  attempts: [{ score, lateUnits: late }],
});
const three = (more: Partial<BookDocument> = {}): BookDocument =>
  smallBook({
    students: [{ id: 's1' }, { id: 's2' }, { id: 's3' }],
    asOf: '2027-01-01T00:00:00Z',
    entries: [entry('s1', 16, 1), entry('s2', 20)],
    ...more,
  });

const sameFigure = (a: string | null, b: string | null): boolean =>
  a === null || b === null ? a === b : Number(a) === Number(b);

describe('a trial', () => {
  it('of a book with itself moves nobody, and finds no difference', () => {
    fc.assert(
      fc.property(arbAnyBook, (book) => {
        const students = book.students.length;
        const trial = compareBooks(book, structuredClone(book));
        expect(trial).toMatchObject({
          students,
          up: 0,
          down: 0,
          stay: students,
          crossing: 0,
          movers: [],
          joined: [],
          left: [],
        });
        expect(differencesOf(book, structuredClone(book))).toEqual([]);
      }),
    );
  });

  it('says who moves, which way, across which band, newly with or without a grade', () => {
    const before = three();
    const after = { ...before, late: null, entries: [before.entries[0]!, entry('s3', 4)] };
    const trial = compareBooks(before, after);
    expect(trial.movers).toMatchObject([
      {
        student: 's1',
        before: { percent: '70.0', letter: 'B' },
        after: { percent: '80.0', letter: 'A' },
        moves: '+10.0',
        direction: 'up',
        crosses: true,
      },
      { student: 's2', direction: 'loses', moves: null },
      { student: 's3', direction: 'gains', after: { percent: '20.0' } },
    ]);
    expect([trial.up, trial.down, trial.stay]).toEqual([2, 1, 0]);
  });

  it('counts nobody up or down for letters that are given for the first time, or taken away', () => {
    const lettered = three();
    const bare = { ...lettered, scale: null };
    const given = compareBooks(bare, lettered);
    expect([given.up, given.down, given.crossing]).toEqual([0, 0, given.movers.length]);
    expect(given.movers.length).toBeGreaterThan(0);
    const taken = compareBooks(lettered, bare);
    expect([taken.up, taken.down, taken.crossing]).toEqual([0, 0, taken.movers.length]);
  });

  it('names who came and who left, and subtracts figures of two roundings', () => {
    const before = three();
    const after = three({
      students: [{ id: 's1' }, { id: 's4' }],
      entries: [entry('s1', 15)],
      rounding: { decimals: 2, mode: 'down' },
    });
    const trial = compareBooks(before, after);
    expect([trial.joined, trial.left, trial.movers[0]!.moves]).toEqual([['s4'], ['s2', 's3'], '+5.00']);
  });

  it('is what working both books out shows', () => {
    for (let seed = 0; seed < tries(400); seed++) {
      const before = anyBook(seed);
      const after = { ...before, rounding: anyBook(seed + 1).rounding, closing: seed % 2 === 0, late: null };
      const was = computeBook(before).students;
      const is = computeBook(after).students;
      const expected = was.flatMap((w, i) =>
        sameFigure(w.percent, is[i]!.percent) && w.letter === is[i]!.letter
          ? []
          : [[w.id, w.percent, is[i]!.percent, w.letter, is[i]!.letter]],
      );
      expect(
        compareBooks(before, after).movers.map((m) => [
          m.student,
          m.before.percent,
          m.after.percent,
          m.before.letter,
          m.after.letter,
        ]),
      ).toEqual(expected);
    }
  });
});

describe('a trial of the figure on another scale', () => {
  it('moves nobody, and says who has another figure there', () => {
    const before = three();
    const shown = { through: [[0, 0], [100, 20]] as [number, number][], decimals: 1, mode: 'half-up' as const }; // prettier-ignore
    const trial = compareBooks(before, { ...before, shown });
    expect(trial.movers).toEqual([]);
    expect(trial.shown).toEqual([
      { student: 's1', before: null, after: '14.0' },
      { student: 's2', before: null, after: '20.0' },
    ]);
    const other = compareBooks({ ...before, shown }, { ...before, shown: { ...shown, through: [[0, 0], [90, 18], [100, 19]] } }); // prettier-ignore
    expect(other.shown).toEqual([{ student: 's2', before: '20.0', after: '19.0' }]);
  });

  it('is what the book itself shows, before and after', () => {
    for (let seed = 1; seed <= tries(60); seed++) {
      const [before, after] = [anyBook(seed), { ...anyBook(seed), shown: anyBook(seed + 1000).shown }];
      const [was, is] = [computeBook(before).students, computeBook(after).students];
      const expected = was.flatMap((w, i) => {
        const [b, a] = [w.shown ?? null, is[i]!.shown ?? null];
        return b === a ? [] : [{ student: w.id, before: b, after: a }];
      });
      expect(compareBooks(before, after).shown).toEqual(expected);
    }
  });
});

describe('through what somebody moves', () => {
  it('is the rule or the entry that moves them alone', () => {
    const before = three();
    const rules = { ...before.rules, late: { steady: { ...before.rules!.late!['steady']!, deduct: 20 } } };
    const after = { ...before, rules, entries: [before.entries[0]!, entry('s2', 12)] };
    const trial = compareBooks(before, after);
    const differences = findCauses(before, after, trial);
    expect(differences.map((d) => d.kind)).toEqual(['rule', 'entry']);
    expect(trial.movers.map((m) => [m.student, m.causes!.map((c) => c.difference.kind)])).toEqual([
      ['s1', ['rule']],
      ['s2', ['entry']],
    ]);
    expect(differences[1]).toMatchObject({ student: 's2', item: 'a', was: entry('s2', 20), is: entry('s2', 12) });
  });

  it('is all of them together where none does it alone', () => {
    // Lateness is charged only where it is stated and the rule takes something.
    const before = three({ entries: [entry('s1', 16)], late: null });
    const after = { ...before, late: 'steady', entries: [entry('s1', 16, 2)] };
    const trial = compareBooks(before, after);
    findCauses(before, after, trial);
    expect(trial.movers[0]!.causes!.map((c) => [c.difference.kind, c.together])).toEqual([
      ['setting', true],
      ['entry', true],
    ]);
  });

  it('a setting of a node, an override, a student’s facts and the shape of the tree are found', () => {
    const before = three();
    const tree = { ...before.tree, children: [{ ...before.tree.children[0]!, late: null }] };
    const after: BookDocument = {
      ...before,
      tree,
      students: [{ id: 's1', extraTimeHours: 24 }, { id: 's2' }, { id: 's3' }],
      overrides: [{ student: 's3', percent: 50 }],
    };
    expect(
      differencesOf(before, after).map((d) => ('at' in d ? d.at : 'id' in d ? `${d.id}.${d.key}` : d.kind)),
    ).toEqual(['a.late', 'student', 'override']);
    const more = {
      ...before,
      tree: { ...before.tree, children: [...before.tree.children, { id: 'b', type: 'item' as const, points: 5 }] },
    };
    expect(differencesOf(before, more)).toEqual([{ kind: 'tree', added: ['b'], removed: [] }]);
    expect(differencesOf(more, before)).toEqual([{ kind: 'tree', added: [], removed: ['b'] }]);
  });

  it('made one after the other, all differences lead from the first book to the second', () => {
    for (let seed = 0; seed < tries(300); seed++) {
      const before = anyBook(seed);
      const other = anyBook(seed + 5_000);
      const after: BookDocument = {
        ...before,
        rules: other.rules!,
        rounding: other.rounding,
        hurdles: [],
        entries: before.entries
          .filter((_, i) => i % 3 > 0)
          .map((e, i) => (i % 4 === 0 ? { student: e.student, item: e.item, set: i } : e)),
        overrides: [{ student: 's0', letter: 'X' }],
      };
      if (!checkBook(after).ok) continue;
      const all = differencesOf(before, after).reduce((book, d) => makeAlone(book, after, d), before);
      expect(computeBook(all)).toEqual(computeBook(after));
      expect(differencesOf(all, after)).toEqual([]);
    }
  });
});
