import { describe, expect, it } from 'vitest';
import { checkBook } from '../book/checks/check';
import type { BookDocument, Group, Item, LateRule } from '../book/document';
import { smallBook } from '../testing/books';
import { anyBook } from '../testing/random-policies';
import { pointersOf } from './places';
import { warningsOf } from './warnings';
import { tries } from '../testing/tries';

const item = (id: string, more: Partial<Item> = {}): Item => ({ id, type: 'item', points: 10, ...more });
const group = (id: string, children: Group['children'], more: Partial<Group> = {}): Group => ({
  id,
  type: 'group',
  combine: 'equal',
  children,
  ...more,
});
const three = [item('a'), item('b'), item('c')];
/** A book in which nothing is to be warned of: one decimal rounded down, weights of 100. */
const calm = (tree: Group, more: Partial<BookDocument> = {}): BookDocument =>
  smallBook({ rounding: { decimals: 1, mode: 'down' }, tree, ...more });
const withLate = (rule: LateRule, percent: number): Partial<BookDocument> => ({
  rules: {
    ...smallBook().rules,
    late: { steady: rule },
    blank: { usual: { beforeDue: 'skip', afterDue: { percent } } },
  },
});
const found = (book: BookDocument): string[] => {
  expect(checkBook(book)).toMatchObject({ ok: true });
  return warningsOf(book).map((w) => `${w.kind} ${w.at}`);
};

describe('a warning', () => {
  it('is given for nothing that is as it seems', () => {
    expect(found(calm(group('all', three, { drop: { lowest: 1 } })))).toEqual([]);
    expect(found(calm(group('all', three, { combine: 'points', drop: { lowest: 1 } })))).toEqual([]);
  });

  it.each<[string, string[], BookDocument]>([
    [
      'late work that can earn less than none',
      ['late-below-missing /tree/children/0'],
      calm(group('all', [item('a')]), withLate({ unit: 'day', deduct: 10 }, 20)),
    ],
    [
      'late work that comes after closing and can earn less than none, though a floor holds what comes before',
      ['late-below-missing /tree/children/0'],
      calm(
        group('all', [{ ...item('a'), closes: '2027-01-20T17:00:00Z' }]),
        withLate({ unit: 'day', deduct: 10, floor: 20, afterCloses: 90 }, 20),
      ),
    ],
    [
      'none where it never closes',
      [],
      calm(group('all', [item('a')]), withLate({ unit: 'day', deduct: 10, floor: 20, afterCloses: 90 }, 20)),
    ],
    [
      'no late work that its floor holds above that',
      [],
      calm(group('all', [item('a')]), withLate({ unit: 'day', deduct: 10, floor: 20 }, 20)),
    ],
    [
      'a drop in a group whose share hangs on points',
      ['drop-hangs-on-points /tree/children/0/drop'],
      calm(group('all', [group('g', three, { combine: 'points', drop: { lowest: 1 } })], { combine: 'points' })),
    ],
    [
      'dropping the highest of pieces of different size',
      ['score-may-lower /tree/drop'],
      calm(
        group('all', [item('a'), item('b', { points: 20 }), item('c')], { combine: 'points', drop: { highest: 1 } }),
      ),
    ],
    [
      'extra credit beside a drop in points',
      ['score-may-lower /tree/drop'],
      calm(group('all', [...three, item('x', { extraCredit: true })], { combine: 'points', drop: { lowest: 1 } })),
    ],
    [
      'a curve that falls',
      ['score-may-lower /tree/children/0/curve/through/1'],
      calm(
        group('all', [
          item('a', {
            curve: {
              kind: 'line',
              through: [
                [0, 5],
                [10, 4],
              ],
            },
          }),
        ]),
      ),
    ],
    [
      'a category of nothing but extra credit',
      ['only-extra-credit /tree/children/1'],
      calm(group('all', [item('a'), group('bonus', [item('x', { extraCredit: true })])])),
    ],
    [
      'more drops than there can be work',
      ['drops-too-many /tree/drop'],
      calm(group('all', three, { drop: { lowest: 3 } })),
    ],
    [
      'kept work that makes a drop void',
      ['drop-void /tree/drop'],
      calm(
        group('all', [item('a', { alwaysKept: true }), item('b', { alwaysKept: true }), item('c')], {
          drop: { lowest: 2 },
        }),
      ),
    ],
    ['a best of all', ['drop-void /tree/keepBest'], calm(group('all', three, { keepBest: 3 }))],
    [
      'weights that are all 0',
      ['weights-all-zero /tree'],
      calm(
        group(
          'all',
          three.map((i) => ({ ...i, weight: 0 })),
          { combine: 'weights' },
        ),
      ),
    ],
    [
      'weights that do not sum to 100',
      ['weights-not-100 /tree'],
      calm(
        group(
          'all',
          three.map((i) => ({ ...i, weight: 30 })),
          { combine: 'weights' },
        ),
      ),
    ],
    [
      'letters on the rounded figure',
      ['rounds-across-band /rules/scales/letters'],
      calm(group('all', three), { rounding: { decimals: 1, mode: 'half-up' } }),
    ],
    [
      'a band where no rounded figure stands',
      ['rounds-across-band /rules/scales/letters/bands/0'],
      calm(group('all', three), {
        rounding: { decimals: 0, mode: 'down' },
        rules: {
          ...smallBook().rules,
          scales: {
            letters: {
              bands: [
                { label: 'A', from: 79.5 },
                { label: 'F', from: 0 },
              ],
            },
          },
        },
      }),
    ],
    [
      'hurdles that nobody can miss, or meet',
      [
        'hurdle-never-missed /hurdles/0',
        'hurdle-never-missed /hurdles/1',
        'hurdle-never-met /hurdles/2',
        'hurdle-never-missed /hurdles/4',
      ],
      calm(group('all', [...three, group('g', [item('d')], { floor: 50 })]), {
        hurdles: [
          { node: 'a', atLeast: 0, capAt: 39 },
          { node: 'g', atLeast: 50, capAt: 39 },
          { node: 'a', atLeast: 101, capAt: 39 },
          { node: 'a', atLeast: 40, capAt: 39 },
          { node: 'a', atLeast: 40, capAt: 100 },
        ],
      }),
    ],
    [
      'an extension shorter than the standing extra time',
      ['extension-shorter-than-extra-time /entries/0/dueAt'],
      calm(group('all', [item('a', { due: '2027-01-10T17:00:00Z' })]), {
        students: [{ id: 's1', extraTimeHours: 48 }],
        entries: [{ student: 's1', item: 'a', dueAt: '2027-01-11T17:00:00Z' }],
      }),
    ],
    [
      'protected entries that make a drop void',
      ['drop-void /entries/0/protected', 'drop-void /entries/2/protected'],
      calm(group('all', three, { drop: { lowest: 2 } }), {
        students: [{ id: 's1' }, { id: 's2' }],
        entries: [
          { student: 's1', item: 'a', protected: true },
          { student: 's2', item: 'a' },
          { student: 's1', item: 'b', protected: true },
        ],
      }),
    ],
  ])('is given for %s', (_what, kinds, book) => expect(found(book)).toEqual(kinds));

  it('points at a place that is there, with a whole sentence, in any book', () => {
    for (let seed = 0; seed < tries(500); seed++) {
      const book = anyBook(seed);
      for (const w of warningsOf(book)) {
        let here: unknown = book;
        for (const key of w.at.slice(1).split('/')) here = (here as Record<string, unknown>)[key];
        if (here === undefined) throw new Error(`book ${seed}: nothing at ${w.at}`);
        expect(w.says).toMatch(/^[A-Z\d].*\.$/);
        expect(w.says).not.toMatch(/undefined|NaN|Infinity/);
      }
      expect(pointersOf(book.tree).get(book.tree.id)).toBe('/tree');
    }
  });
});
