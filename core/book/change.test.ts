import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arbBook, smallBook } from '../testing/books';
import { assembleBook, assembleSkeleton, rulesOf } from './assemble';
import { canonical } from './canonical';
import {
  apply,
  changeCell,
  contentOf,
  percentOfPoints,
  shareOfPoints,
  type CellChange,
  type EntryContent,
} from './change';
import { checkBook } from './checks/check';
import { groupsOf } from './document';

const RECEIVED = '2027-01-11T09:00:00Z';
const after = (content: EntryContent, ...changes: CellChange[]): EntryContent => changes.reduce(changeCell, content);

describe('what a cell holds after a change', () => {
  it.each<[string, EntryContent, CellChange, EntryContent]>([
    ['a score makes an attempt', {}, { kind: 'score', points: 7 }, { attempts: [{ score: 7 }] }],
    [
      'a score marks the latest attempt',
      { attempts: [{ score: 3 }, { receivedAt: RECEIVED }] },
      { kind: 'score', points: 7 },
      { attempts: [{ score: 3 }, { receivedAt: RECEIVED, score: 7 }] },
    ],
    [
      'one more attempt stands beside those that are there, whatever waits',
      { attempts: [{ score: 9 }, { receivedAt: RECEIVED }] },
      { kind: 'attempt', made: { score: 7 } },
      { attempts: [{ score: 9 }, { receivedAt: RECEIVED }, { score: 7 }] },
    ],
    [
      'one more attempt ends missing, and a score set by hand',
      { state: 'missing', set: 3 },
      { kind: 'attempt', made: { mark: 'pass' } },
      { attempts: [{ mark: 'pass' }] },
    ],
    [
      'a score ends excused and missing',
      { state: 'excused' },
      { kind: 'score', points: 7 },
      { attempts: [{ score: 7 }] },
    ],
    [
      'a score takes the place of one set by hand',
      { set: 9 },
      { kind: 'score', points: 7 },
      { attempts: [{ score: 7 }] },
    ],
    [
      'a mark takes the place of a score',
      { attempts: [{ score: 3 }] },
      { kind: 'mark', label: 'Pass' },
      { attempts: [{ mark: 'Pass' }] },
    ],
    [
      'clearing takes the score away, never the receipt',
      { attempts: [{ score: 3, receivedAt: RECEIVED }] },
      { kind: 'clear' },
      { attempts: [{ receivedAt: RECEIVED }] },
    ],
    ['clearing a bare score leaves nothing', { attempts: [{ score: 3 }] }, { kind: 'clear' }, {}],
    ['clearing keeps an own due date', { dueAt: RECEIVED, state: 'missing' }, { kind: 'clear' }, { dueAt: RECEIVED }],
    [
      'a state stands beside what was marked',
      { attempts: [{ score: 3 }] },
      { kind: 'state', state: 'excused' },
      { attempts: [{ score: 3 }], state: 'excused' },
    ],
    [
      'work that comes in ends missing',
      { state: 'missing' },
      { kind: 'received', at: RECEIVED },
      { attempts: [{ receivedAt: RECEIVED }] },
    ],
    [
      'lateness by hand goes before a waiver',
      { attempts: [{ score: 3, onTime: true }] },
      { kind: 'late', units: 2 },
      { attempts: [{ score: 3, lateUnits: 2 }] },
    ],
    [
      'the time it came in goes before lateness by hand',
      { attempts: [{ score: 3, lateUnits: 2 }] },
      { kind: 'late-at', receivedAt: RECEIVED },
      { attempts: [{ score: 3, receivedAt: RECEIVED }] },
    ],
    ['an own date can be ended', { dueAt: RECEIVED }, { kind: 'due', dueAt: null }, {}],
  ])('%s', (_what, content, change, expected) => expect(changeCell(content, change)).toEqual(expected));

  it('never touches what it is given', () => {
    const content: EntryContent = { attempts: [{ score: 3, receivedAt: RECEIVED }], state: 'missing' };
    const before = structuredClone(content);
    after(
      content,
      { kind: 'score', points: 9 },
      { kind: 'clear' },
      { kind: 'late', units: 1 },
      { kind: 'state', state: null },
    );
    expect(content).toEqual(before);
  });

  it('put back gives what was', () => {
    const content: EntryContent = { attempts: [{ score: 3 }], dueAt: RECEIVED };
    expect(after(content, { kind: 'score', points: 9 }, { kind: 'put', entry: content })).toEqual(content);
  });

  it('rounds percents and fractions half-up to four decimals of a point', () => {
    expect([
      percentOfPoints(85, 20),
      percentOfPoints(33.3333, 7),
      shareOfPoints(17, 20, 12),
      shareOfPoints(2, 3, 10),
    ]).toEqual([17, 2.3333, 10.2, 6.6667]);
  });
});

describe('a book with a change made', () => {
  it('is sound, has the change, and the change back gives the book again', () => {
    fc.assert(
      fc.property(arbBook, fc.constantFrom('a', 'e', 'h'), (book, item) => {
        const was = contentOf(book.entries.find((e) => e.item === item));
        const is: EntryContent = { attempts: [{ score: 3 }] };
        const changed = apply(book, { kind: 'cell', student: 's1', item, is });
        expect(checkBook(changed).ok).toBe(true);
        expect(contentOf(changed.entries.find((e) => e.item === item))).toEqual(is);
        const back = apply(changed, { kind: 'cell', student: 's1', item, is: was });
        const entries = (b: typeof book): string =>
          canonical(
            [...b.entries]
              .filter((e) => Object.keys(e).length > 2)
              .map(canonical)
              .sort(),
          );
        expect(entries(back)).toBe(
          entries({ ...book, entries: book.entries.filter((e) => Object.keys(contentOf(e)).length > 0) }),
        );
      }),
    );
  });

  it('comes apart into rules and items and together again', () => {
    fc.assert(
      fc.property(arbBook, (book) => {
        const placed = groupsOf(book.tree).flatMap((g) =>
          g.children.flatMap((c) => (c.type === 'item' ? [{ category: g.id, item: c }] : [])),
        );
        const again = assembleBook(
          assembleSkeleton(book.timeZone, rulesOf(book), placed),
          book.asOf,
          book.students,
          book.entries,
        );
        expect(checkBook(again).ok).toBe(true);
        expect(groupsOf(again.tree).map((g) => g.id)).toEqual(groupsOf(book.tree).map((g) => g.id));
      }),
    );
    const lost = assembleSkeleton('UTC', rulesOf(smallBook()), [
      { category: 'gone', item: { id: 'x', type: 'item', points: 1 } },
    ]);
    expect(lost.tree.children.map((c) => c.id)).toEqual(['x']);
  });
});
