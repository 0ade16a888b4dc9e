import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rulesOf } from '../book/assemble';
import { canonical } from '../book/canonical';
import { apply, changeCell, contentOf, type CellChange } from '../book/change';
import { checkBook } from '../book/checks/check';
import { itemsOf } from '../book/document';
import { computeBook } from '../calculation/result';
import { arbAnyBook, smallBook } from '../testing/books';
import { supposeCells } from './suppose-cells';
import { placedItems, settingsOf, proposedBook, withCells } from './proposal';

const noWish = (book: Parameters<typeof rulesOf>[0]) => ({ rules: rulesOf(book), items: {} });

describe('a wish', () => {
  it('for nothing changes nothing of a book as its rows are put together, and touches nothing', () => {
    fc.assert(
      fc.property(arbAnyBook, (book) => {
        const before = canonical(book);
        const same = proposedBook(book, noWish(book));
        expect(checkBook(same).ok).toBe(true);
        // Items stand behind the groups of their category: as rows are put together, so is a wish.
        expect(canonical(proposedBook(same, noWish(same)))).toBe(canonical(same));
        expect(placedItems(same).length).toBe(itemsOf(book.tree).length);
        expect(canonical(book)).toBe(before);
      }),
    );
  });

  it('for settings changes these of an item, and leaves what it is and when it is due', () => {
    fc.assert(
      fc.property(arbAnyBook, fc.nat(), (book, n) => {
        const items = itemsOf(book.tree);
        if (items.length === 0) return;
        const item = items[n % items.length]!;
        const settings = { ...settingsOf(item), weight: 12.5, alwaysKept: true };
        const made = proposedBook(book, { ...noWish(book), items: { [item.id]: settings } });
        const is = itemsOf(made.tree).find((i) => i.id === item.id)!;
        const { id, type, points, due, closes } = item;
        expect(is).toEqual(JSON.parse(JSON.stringify({ id, type, points, due, closes, ...settings })));
        for (const other of itemsOf(made.tree))
          if (other.id !== item.id) expect(other).toEqual(items.find((i) => i.id === other.id));
      }),
    );
  });

  it('for cells is what the changes make one after the other', () => {
    const change = fc.oneof(
      fc.record({ kind: fc.constant('set' as const), points: fc.option(fc.integer({ min: 0, max: 9 })) }),
      fc.constant<CellChange>({ kind: 'state', state: 'excused' }),
      fc.constant<CellChange>({ kind: 'clear' }),
      fc.record({ kind: fc.constant('score' as const), points: fc.integer({ min: 0, max: 9 }) }),
    );
    fc.assert(
      fc.property(arbAnyBook, fc.array(fc.tuple(fc.nat(), fc.nat(), change), { maxLength: 12 }), (book, picks) => {
        const items = itemsOf(book.tree);
        if (book.students.length === 0 || items.length === 0) return;
        const cells = picks.map(([s, i, c]) => ({
          student: book.students[s % book.students.length]!.id,
          item: items[i % items.length]!.id,
          change: c,
        }));
        const one = proposedBook(book, { ...noWish(book), cells });
        const many = cells.reduce(
          (b, c) => {
            const entry = b.entries.find((e) => e.student === c.student && e.item === c.item);
            return apply(b, { kind: 'cell', ...c, is: changeCell(contentOf(entry), c.change) });
          },
          proposedBook(book, noWish(book)),
        );
        expect(canonical(computeBook(one))).toBe(canonical(computeBook(many)));
        expect(withCells(book.entries, [])).toEqual(book.entries);
      }),
    );
  });
});

describe('what is supposed of a class', () => {
  const of = (...contents: object[]) => contents.map((content, i) => ({ student: `s${i + 1}`, content }));

  it('raises every score in points, whichever attempt counts, and lowers none below 0', () => {
    const class_ = of(
      { attempts: [{ score: 3 }, { score: 9 }] },
      { set: 1 },
      {},
      { state: 'excused' },
      { attempts: [{}] },
    );
    expect(supposeCells('a', class_, { kind: 'raised', points: 2.5 })).toEqual([
      { student: 's1', item: 'a', change: { kind: 'put', entry: { attempts: [{ score: 5.5 }, { score: 11.5 }] } } },
      { student: 's2', item: 'a', change: { kind: 'set', points: 3.5 } },
    ]);
    expect(supposeCells('a', class_, { kind: 'lowered', points: 4 })[0]!.change).toEqual({
      kind: 'put',
      entry: { attempts: [{ score: 0 }, { score: 5 }] },
    });
  });

  it('waives lateness where there is work, and excuses and sets everybody', () => {
    const class_ = of({ attempts: [{ score: 3, lateUnits: 2 }] }, {}, { attempts: [{ score: 1, onTime: true }] });
    expect(supposeCells('a', class_, { kind: 'on-time' }).map((c) => c.student)).toEqual(['s1']);
    expect(supposeCells('a', class_, { kind: 'excused' })).toHaveLength(3);
    expect(supposeCells('a', class_, { kind: 'set', points: 7 })).toHaveLength(3);
    const book = smallBook({ entries: [{ student: 's1', item: 'a', attempts: [{ score: 10, lateUnits: 2 }] }] });
    const [before] = computeBook(book).students;
    const cells = supposeCells('a', [{ student: 's1', content: contentOf(book.entries[0]) }], { kind: 'on-time' });
    const [after] = computeBook(proposedBook(book, { ...noWish(book), cells })).students;
    expect(Number(after!.percent)).toBeGreaterThan(Number(before!.percent));
  });
});
